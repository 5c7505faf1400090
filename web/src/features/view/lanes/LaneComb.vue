<script setup lang="ts">
// How many records a lane holds, as a comb: one stroke a record, or for so many, all lanes at one scale. Tall strokes have stood
// there too long; those beyond the limit are of another colour, and the limit is a line.
import { computed } from 'vue'
import { combOf, type Lane } from './lanes'

const props = defineProps<{ lane: Lane; per: number; /** Strokes that would come. */ coming: number }>()
const STEP = 5

const comb = computed(() => combOf(props.lane, props.per))
const strokes = computed(() => {
  const { stuck, plain, over } = comb.value
  const kind = (n: number) => (n < stuck ? 'stuck' : n < stuck + plain ? 'plain' : 'over')
  const there = Array.from({ length: stuck + plain + over }, (_, n) => ({ x: 1 + n * STEP, kind: kind(n) }))
  const come = Array.from({ length: Math.ceil(props.coming / props.per) }, (_, n) => ({ x: 1 + (there.length + n) * STEP, kind: 'come' }))
  return [...there, ...come]
})
const limit = computed(() => (props.lane.limit?.most == null ? undefined : Math.ceil(props.lane.limit.most / props.per) * STEP))
</script>

<template>
  <svg class="comb" :style="{ '--hue': lane.hue ?? 'var(--quiet)' }" height="22" aria-hidden="true">
    <path v-if="strokes.length" :d="`M0 1.5h${strokes.length * STEP - 2}`" class="back" />
    <path v-for="one in strokes" :key="one.x" :d="`M${one.x} 1v${one.kind === 'stuck' ? 19 : 11}`" :class="one.kind" />
    <template v-if="limit !== undefined">
      <path :d="`M${limit} 0v21`" class="limit" />
      <!-- Where strokes reach beyond it, the words beneath say which it is. -->
      <text v-if="strokes.length * STEP <= limit" :x="limit + 4" y="19">{{ lane.limit?.most }}</text>
    </template>
  </svg>
</template>

<style scoped>
.comb {
  width: 100%;
  display: block;
  overflow: hidden;
}
path {
  stroke: var(--hue);
  stroke-width: 2;
  fill: none;
}
.back {
  stroke-width: 3;
}
.over {
  stroke: var(--fault);
}
.come {
  stroke: var(--copper);
}
.limit {
  stroke: var(--ink);
  stroke-width: 1;
}
text {
  font-size: 12px;
  fill: var(--quiet);
}
</style>
