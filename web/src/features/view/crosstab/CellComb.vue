<script setup lang="ts">
// What is told apart within a cell: a comb for each part, one stroke a record, or for so many; or, where nothing is told apart, one
// length.
import { computed } from 'vue'
import { combsOf, combWidth, strokePath } from './crossing'

const props = defineProps<{
  within: readonly number[]
  hues: readonly string[]
  /** How many records a stroke stands for. */
  each: number
  /** Of the longest, how much this is; from 0 to 1. */
  part: number
}>()
const HIGH = 18
const combs = computed(() => combsOf(props.within, props.each))
</script>

<template>
  <svg v-if="within.length" class="comb" :width="combWidth(combs)" :height="HIGH" aria-hidden="true">
    <path v-for="comb in combs" :key="comb.part" :d="strokePath(comb, HIGH)" :style="{ stroke: hues[comb.part] }" />
  </svg>
  <span v-else class="length" :style="{ width: `${Math.round(part * 100)}%` }" aria-hidden="true" />
</template>

<style scoped>
.comb {
  display: block;
  max-width: 100%;
}
path {
  fill: none;
  stroke-width: 2;
}
.length {
  display: block;
  height: 5px;
  background: var(--slate);
}
</style>
