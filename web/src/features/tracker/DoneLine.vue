<script setup lang="ts">
// What one did last, with the way back, on pages that have no place of their own for it.
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useDoing } from '@/app/asking'
import LastDone from '@/app/LastDone.vue'
import { useEdits } from '@/features/cell/edits'

const route = useRoute()
const edits = useEdits()
const { trouble, attempt } = useDoing()
// What was done elsewhere is no news here.
const before = edits.last.value
const last = computed(() => (edits.last.value === before ? undefined : edits.last.value))

watch(
  () => route.name,
  () => (edits.last.value = undefined),
)
watch(edits.last, () => (trouble.value = ''))

const undo = () => attempt(() => edits.undo())
</script>

<template>
  <LastDone
    :words="last?.words"
    :undo="last?.undo"
    :trouble="trouble"
    @undo="undo"
    @close="((edits.last.value = undefined), (trouble = ''))"
  />
</template>
