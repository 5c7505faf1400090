<script setup lang="ts">
// What an automation says about a record: all who see the record read it.
import { ref } from 'vue'
import type { Problem } from '@/api/client'
import type { Table } from '@/api/types'
import StepShell from './StepShell.vue'
import WordingBox from './WordingBox.vue'

const props = defineProps<{ table: Table; text: string; at: string; problem?: Problem; readonly: boolean }>()
const emit = defineEmits<{ keep: [text: string]; leave: [] }>()
const text = ref(props.text)
</script>

<template>
  <StepShell :blocked="readonly || !text.trim()" test="keep-say" @keep="emit('keep', text)" @leave="emit('leave')">
    <p class="lead">It stands in the talk of the {{ table.one }}: whoever is told what is said there reads it, with the values put in.</p>
    <WordingBox v-model="text" :table="table" label="What is said" :rows="4" :fault="problem?.at(`${at}/say/text`)" test="say-text" />
  </StepShell>
</template>
