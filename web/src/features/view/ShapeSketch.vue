<script setup lang="ts">
// A shape in a few strokes: of the table's own records, where these are known.
import { computed } from 'vue'
import type { Sketch } from './sketching'

const props = defineProps<{ name: string; sketch?: Sketch }>()

const WIDE = 132
const HIGH = 60
/** A letter’s width at the size of a sketch, in units of it. */
const LETTER = 4.1
const cut = (text: string, room: number) =>
  text.length * LETTER > room ? `${text.slice(0, Math.max(1, Math.floor(room / LETTER) - 1))}…` : text

const rows = computed(() => props.sketch?.rows.slice(0, 4) ?? [])
const lanes = computed(() => {
  const all = props.sketch?.lanes ?? []
  const most = Math.max(1, ...all.map((lane) => lane.count))
  const wide = WIDE / Math.max(1, all.length)
  return all.map((lane, n) => {
    const strokes = Math.max(1, Math.round((lane.count / most) * (wide / 3.4)))
    return { ...lane, x: n * wide, wide, strokes: Array.from({ length: strokes }, (_, s) => n * wide + 1.5 + s * 3) }
  })
})
const most = computed(() => Math.max(1, ...(props.sketch?.days ?? [])))
const weeks = computed(() => [0, 1, 2].map((week) => ({ y: 14 + week * 22, days: props.sketch?.days.slice(week * 7, week * 7 + 7) ?? [] })))
/** Strokes in the cells of three lines: the lanes’ counts, where they are known, each a little less in the next line. */
const crossed = computed(() => {
  const counts = lanes.value.length ? lanes.value.map((lane) => lane.strokes.length) : [5, 3, 7]
  return [1, 0.6, 0.3].map((share) =>
    counts.slice(0, 3).flatMap((count, n) => Array.from({ length: Math.min(9, Math.ceil(count * share)) }, (_, s) => 40 + n * 32 + s * 3)),
  )
})
const plates = computed(() => props.sketch?.plates ?? [])
</script>

<template>
  <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" :width="WIDE" :height="HIGH" aria-hidden="true">
    <template v-if="name === 'rows'">
      <template v-if="rows.length">
        <g v-for="(row, n) in rows" :key="n">
          <text x="0" :y="10 + n * 15">{{ cut(row[0] ?? '', 74) }}</text>
          <text x="80" :y="10 + n * 15" class="thin">{{ cut(row[1] ?? '', 52) }}</text>
          <path :d="`M0 ${14 + n * 15}h${WIDE}`" class="hair" />
        </g>
      </template>
      <path v-for="y in [9, 24, 39, 54]" v-else :key="y" :d="`M2 ${y}h40M48 ${y}h26M80 ${y}h50`" />
    </template>
    <template v-else-if="name === 'lanes'">
      <template v-if="lanes.length">
        <g v-for="lane in lanes" :key="lane.x">
          <path v-for="x in lane.strokes" :key="x" :d="`M${x} 14v-10`" />
          <path :d="`M${lane.x} 15h${lane.wide - 5}`" class="rule" />
          <text :x="lane.x" y="27" class="bold">{{ lane.count }}</text>
          <text :x="lane.x" y="38" class="thin">{{ cut(lane.name, lane.wide - 4) }}</text>
        </g>
      </template>
      <template
        v-for="(heights, lane) in [
          [6, 9, 5, 8, 6, 9, 5],
          [8, 5, 6],
          [6, 9, 5, 7],
        ]"
        v-else
        :key="lane"
      >
        <path v-for="(height, n) in heights" :key="n" :d="`M${3 + lane * 44 + n * 5} 14v-${height}`" />
        <path :d="`M${2 + lane * 44} 16h38`" class="rule" />
        <path v-for="y in heights.length" :key="`l${y}`" :d="`M${2 + lane * 44} ${18 + y * 5}h${22 + (y % 3) * 4}`" class="hair" />
      </template>
    </template>
    <template v-else-if="name === 'calendar'">
      <g v-for="week in weeks" :key="week.y">
        <path :d="`M0 ${week.y}h${WIDE}`" class="rule" />
        <path v-for="x in 7" :key="x" :d="`M${(x - 1) * 18.5 + 0.5} ${week.y}v3`" class="hair" />
        <path
          v-for="(count, n) in week.days.length ? week.days : [0, 2, 0, 1, 0, 0, 3]"
          v-show="count"
          :key="`d${n}`"
          :d="`M${n * 18.5 + 8} ${week.y}v-${3 + (count / most) * 8}`"
          class="day"
        />
      </g>
    </template>
    <template v-else-if="name === 'cross-tab'">
      <path :d="`M0 14h${WIDE}`" class="rule" />
      <path d="M36 2v56" class="hair" />
      <g v-for="(line, n) in crossed" :key="n">
        <path v-for="(x, s) in line" :key="s" :d="`M${x} ${20 + n * 15}v9`" />
        <path :d="`M0 ${24 + n * 15}h26`" class="hair" />
      </g>
    </template>
    <template v-else>
      <g v-for="(x, n) in [0, 45, 90]" :key="x">
        <image
          v-if="plates[n]?.picture"
          :href="`/api/files/${plates[n]!.picture}?small=true`"
          :x="x"
          y="0"
          width="42"
          height="34"
          preserveAspectRatio="xMidYMid slice"
        />
        <rect v-else :x="x + 0.5" y="0.5" width="41" height="33" />
        <text v-if="plates[n]" :x="x" y="45">{{ cut(plates[n]!.name, 42) }}</text>
        <path :d="`M${x} 50h42M${x} 57h30`" class="hair" />
      </g>
    </template>
  </svg>
</template>

<style scoped>
svg {
  max-width: 100%;
}
path,
rect {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 1.5;
}
.rule {
  stroke: var(--ink);
}
.hair {
  stroke: var(--line-strong);
  stroke-width: 1;
}
.day {
  stroke: var(--ink);
  stroke-width: 3;
}
text {
  font: 8px var(--sans);
  fill: var(--ink);
}
.thin {
  fill: var(--quiet);
}
.bold {
  font-weight: 700;
}
</style>
