<script setup lang="ts">
// One mark for each run on a line of days: what ended is filled, what waits open, what failed a triangle; beneath the line what was
// left out. The words beside it say the same.
import { computed } from 'vue'
import type { AutomationRun } from '@/api/types'

const props = defineProps<{ runs: AutomationRun[]; says: string }>()
const DAYS = 30
const WIDE = 300
const STEP = WIDE / DAYS
const MARK = 7
const HIGH = 5

interface Mark {
  x: number
  y: number
  state: AutomationRun['state']
}
const marks = computed<Mark[]>(() => {
  const above = Array<number>(DAYS).fill(0)
  const beneath = Array<number>(DAYS).fill(0)
  const found: Mark[] = []
  for (const run of [...props.runs].reverse()) {
    const day = DAYS - 1 - run.days_ago
    if (day < 0 || day >= DAYS) continue
    const stack = run.state === 'left_out' ? beneath : above
    const at = stack[day]!++
    if (at >= HIGH) continue
    found.push({ x: day * STEP + 1, y: run.state === 'left_out' ? at * 4 + 4 : -(at + 1) * (MARK + 2), state: run.state })
  }
  return found
})
</script>

<template>
  <svg v-if="marks.length" class="runs" :viewBox="`0 -48 ${WIDE} 72`" role="img" :aria-label="says">
    <line x1="0" :x2="WIDE" y1="0" y2="0" class="line" />
    <template v-for="(mark, n) in marks" :key="n">
      <path v-if="mark.state === 'failed'" class="failed" :d="`M${mark.x} ${mark.y + MARK}h${MARK}l${-MARK / 2} ${-MARK}z`" />
      <rect v-else-if="mark.state === 'left_out'" class="left" :x="mark.x" :y="mark.y" :width="MARK" height="1.5" />
      <rect v-else :class="mark.state" :x="mark.x + 0.5" :y="mark.y + 0.5" :width="MARK - 1" :height="MARK - 1" />
    </template>
    <text x="0" y="22">30 days ago</text>
    <text :x="WIDE" y="22" text-anchor="end">today</text>
  </svg>
</template>

<style scoped>
.runs {
  width: 100%;
  max-width: 340px;
  height: auto;
  display: block;
}
.line {
  stroke: var(--line-strong);
}
.ended {
  fill: var(--moss);
}
.waits {
  fill: none;
  stroke: var(--copper);
  stroke-width: 1.5;
}
.failed {
  fill: var(--fault);
}
.left {
  fill: var(--quiet);
}
text {
  font: 12px var(--sans);
  fill: var(--quiet);
}
</style>
