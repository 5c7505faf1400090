<script setup lang="ts">
// The head of a group: what its records have in common, how many they are, and its tallies.
import type { Head } from './layout'

defineProps<{
  head: Head
  closed: boolean
  /** What the group is of, where it has no value. */
  of: string
  one: string
  tallies: { name: string }[]
  /** Whether a record can be added to it. */
  adds: boolean
  here: boolean
  columns: number
}>()
const emit = defineEmits<{ fold: []; add: [] }>()
</script>

<template>
  <div role="gridcell" class="head" :class="[{ here }, `level-${head.path.length}`]" :aria-colspan="columns" :data-active="here">
    <button class="fold" :aria-expanded="!closed" tabindex="-1" @click="emit('fold')">
      <span aria-hidden="true">{{ closed ? '▸' : '▾' }}</span>
      {{ head.group.text || `No ${of}` }}
    </button>
    <span class="count">{{ head.group.counted }}</span>
    <span v-for="(tally, n) in head.group.tallies" :key="n" class="count">{{ tallies[n]?.name }} {{ tally.text }}</span>
    <button v-if="adds" class="add" tabindex="-1" @click="emit('add')">+ {{ one }}</button>
  </div>
</template>

<style scoped>
.head {
  height: 100%;
  /* It stays where it is when the rows are moved sideways. */
  position: sticky;
  left: 0;
  width: var(--room, 100%);
  display: flex;
  align-items: center;
  gap: var(--gap-3);
  background: var(--stone);
  border-bottom: 1px solid var(--line);
  padding: 0 8px;
  /* On a phone the line is longer than its place: it is pushed, neither wrapped nor cut. */
  overflow-x: auto;
  scrollbar-width: none;
}
/* Groups within groups begin further in, and weigh less. */
.level-2 {
  padding-left: 28px;
}
.level-3 {
  padding-left: 48px;
}
.level-2 .fold,
.level-3 .fold {
  font-weight: 500;
}
.head > * {
  flex: none;
  white-space: nowrap;
}
.head.here {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
.fold {
  border: 0;
  background: none;
  font-weight: 600;
  cursor: pointer;
  padding: 0;
}
.fold span {
  color: var(--quiet);
  display: inline-block;
  width: 14px;
}
.count {
  color: var(--quiet);
  font-size: 13px;
}
.add {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
}
</style>
