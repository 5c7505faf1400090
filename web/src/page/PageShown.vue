<script setup lang="ts">
// What stands in a cell of a shared page that is only read: its files, a choice with its colour, or its text.
import type { PageCell, PageColumn } from '@/api/types'
import { usePage } from './asking'
import { filesIn, hueOf } from './cells'

defineProps<{ cell: PageCell | null | undefined; column: PageColumn }>()
const page = usePage()
</script>

<template>
  <span v-if="filesIn(cell).length" class="files">
    <a v-for="file in filesIn(cell)" :key="file.id" :href="page.at(`/files/${file.id}`)" target="_blank" rel="noopener">{{ file.name }}</a>
  </span>
  <span v-else-if="hueOf(cell, column.options)" class="choice" :style="{ '--hue': `var(--${hueOf(cell, column.options)})` }">{{
    cell?.text
  }}</span>
  <span v-else class="text" :class="{ short: (cell?.text.length ?? 0) < 15 }">{{ cell?.text }}</span>
</template>

<style scoped>
.files {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px 10px;
}
.choice {
  padding-left: 8px;
  border-left: 3px solid var(--hue);
}
.text {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
}
.short {
  white-space: nowrap;
}
</style>
