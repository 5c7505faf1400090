<script setup lang="ts">
// The head of a group or a lane on a shared page: what its records have in common, how many they are, and its figures.
import type { PageGroup } from '@/api/types'

defineProps<{
  group: PageGroup
  /** What its figures are. */
  figures: string[]
}>()
</script>

<template>
  <span class="head" :style="group.hue ? { '--hue': `var(--${group.hue})` } : undefined">
    <b :class="{ hued: group.hue }">{{ group.text }}</b>
    <span class="quiet">{{ group.counted }}</span>
    <template v-for="(figure, n) in group.figures" :key="n">
      <span v-if="figure" class="quiet" :title="figures[n]">{{ figures[n] }} {{ figure }}</span>
    </template>
  </span>
</template>

<style scoped>
.head {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 14px;
}
b {
  font: 600 16px var(--serif);
  color: var(--ink);
}
.hued {
  padding-left: 8px;
  border-left: 3px solid var(--hue);
}
.quiet {
  font-size: 13px;
  color: var(--quiet);
}
</style>
