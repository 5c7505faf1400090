<script setup lang="ts">
// One number of a record as a length, at one scale for all, and another as strokes that stand on it.
import { computed } from 'vue'
import type { Drawn } from '@/api/types'

const props = defineProps<{
  drawn: Drawn
  /** The longest of all. */
  longest: number | undefined
}>()

/** Most strokes that are drawn; above that one stands for several. */
const STROKES = 45
const WIDE = 300
const HIGH = 14

const share = computed(() => (props.drawn.length == null || !props.longest ? undefined : Number(props.drawn.length) / props.longest))
const per = computed(() => Math.max(1, Math.ceil((props.drawn.strokes ?? 0) / STROKES)))
const strokes = computed(() => Math.ceil((props.drawn.strokes ?? 0) / per.value))
/** They stand along the length; where there is none, along all of it. */
const along = computed(() => Math.max(6, (share.value ?? 1) * WIDE))
const x = (n: number) => ((n + 0.5) * along.value) / Math.max(1, strokes.value)
const says = computed(() => (per.value > 1 ? `${props.drawn.says}; a stroke is ${per.value}` : props.drawn.says))
</script>

<template>
  <svg :viewBox="`0 0 ${WIDE} ${HIGH + 2}`" class="drawn" role="img" :aria-label="says" preserveAspectRatio="none">
    <title>{{ says }}</title>
    <path v-if="share !== undefined" :d="`M0 ${HIGH}H${share * WIDE}`" class="length" />
    <path v-for="n in strokes" :key="n" :d="`M${x(n - 1)} ${HIGH}V3`" />
  </svg>
</template>

<style scoped>
.drawn {
  display: block;
  width: 100%;
  height: 16px;
  margin-top: 5px;
}
path {
  stroke: var(--rowan);
  stroke-width: 2;
  fill: none;
  vector-effect: non-scaling-stroke;
}
.length {
  stroke: var(--ink);
}
</style>
