<script setup lang="ts">
// A cell as it is read: the same in rows and in the folio.
import { computed } from 'vue'
import type { Cell, Field } from '@/api/types'
import { files, hue, optionOf } from './kinds'

const props = defineProps<{ field: Field; cell: Cell | null | undefined }>()
const option = computed(() => optionOf(props.field, props.cell))
const pictures = computed(() => files(props.cell))
</script>

<template>
  <span v-if="option" class="choice" :style="{ '--hue': hue(option) }">{{ option.name }}</span>
  <span v-else-if="pictures.length" class="pictures">
    <img v-for="file in pictures.slice(0, 3)" :key="file.id" :src="`/api/files/${file.id}?small=true`" :alt="file.name" loading="lazy" />
    <span v-if="pictures.length > 3" class="quiet">+{{ pictures.length - 3 }}</span>
  </span>
  <template v-else>{{ cell?.text }}</template>
</template>

<style scoped>
.pictures {
  display: inline-flex;
  gap: 3px;
  align-items: center;
  vertical-align: middle;
}
.pictures img {
  height: 24px;
  width: 36px;
  object-fit: cover;
  border-radius: 2px;
  display: block;
}
</style>
