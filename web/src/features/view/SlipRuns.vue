<script setup lang="ts">
// How days or numbers lie: a bar for each run at one scale. A part is chosen by drawing over it, or by arrows.
import { computed, ref, watch } from 'vue'
import type { SlipRun } from '@/api/types'

const props = defineProps<{
  runs: SlipRun[]
  /** The run that today is in. */
  today?: number
}>()
const span = defineModel<[SlipRun, SlipRun]>()

/** The first and the last run chosen, by their places. */
const ends = ref<[number, number] | undefined>()
const most = computed(() => Math.max(1, ...props.runs.map((run) => run.count)))
const chosen = (place: number) => !!ends.value && place >= ends.value[0] && place <= ends.value[1]
const count = computed(() => props.runs.filter((_, place) => chosen(place)).reduce((sum, run) => sum + run.count, 0))

function choose(a: number, b: number) {
  const last = props.runs.length - 1
  const within = (place: number) => Math.min(last, Math.max(0, place))
  ends.value = [within(Math.min(a, b)), within(Math.max(a, b))]
  span.value = [props.runs[ends.value[0]]!, props.runs[ends.value[1]]!]
}

// What is chosen elsewhere is not chosen here.
watch(span, (now) => {
  if (ends.value && now?.[0] !== props.runs[ends.value[0]]) ends.value = undefined
})

const box = ref<HTMLElement>()
let from: number | undefined
const placeAt = (event: PointerEvent) => {
  const { left, width } = box.value!.getBoundingClientRect()
  return Math.floor(((event.clientX - left) / width) * props.runs.length)
}
function press(event: PointerEvent) {
  from = placeAt(event)
  box.value!.setPointerCapture?.(event.pointerId)
  choose(from, from)
}
const draw = (event: PointerEvent) => from !== undefined && choose(from, placeAt(event))
const rest = () => (from = undefined)

/** Arrows move the part, with Shift its end. */
function keys(event: KeyboardEvent) {
  const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (!by) return
  const start = props.today ?? (by > 0 ? 0 : props.runs.length - 1)
  if (!ends.value) choose(start, start)
  else if (event.shiftKey) choose(ends.value[0], Math.max(ends.value[0], ends.value[1] + by))
  else choose(ends.value[0] + by, ends.value[1] + by)
  event.preventDefault()
}
</script>

<template>
  <div class="runs">
    <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- a drawing of which arrows choose a part -->
    <div
      ref="box"
      class="bars"
      tabindex="0"
      role="slider"
      aria-label="Choose a part: arrows move it, with Shift its end"
      :aria-valuemin="1"
      :aria-valuemax="runs.length"
      :aria-valuenow="(ends?.[0] ?? 0) + 1"
      :aria-valuetext="ends ? `${count}, from ${runs[ends[0]]!.from} to ${runs[ends[1]]!.to}` : 'nothing chosen'"
      data-test="slip-runs"
      @keydown="keys"
      @pointerdown="press"
      @pointermove="draw"
      @pointerup="rest"
      @pointercancel="rest"
    >
      <span
        v-for="(run, place) in runs"
        :key="run.from"
        class="run"
        :class="{ chosen: chosen(place), past: today !== undefined && place < today, today: place === today }"
        :title="`${run.from}: ${run.count}`"
        ><i :style="{ height: `${(100 * run.count) / most}%` }"
      /></span>
    </div>
    <p class="ends quiet">
      <span>{{ runs[0]?.from }}</span>
      <b v-if="ends" role="status">{{ count }} from {{ runs[ends[0]]!.from }} to {{ runs[ends[1]]!.to }}</b>
      <span v-else-if="today !== undefined">▏today</span>
      <span>{{ runs[runs.length - 1]?.to }}</span>
    </p>
  </div>
</template>

<style scoped>
.bars {
  display: flex;
  height: 84px;
  border-bottom: 1px solid var(--line-strong);
  touch-action: none;
  cursor: crosshair;
  user-select: none;
}
.run {
  flex: 1;
  display: flex;
  align-items: flex-end;
  padding: 0 1px;
}
.run i {
  flex: 1;
  min-height: 1px;
  background: color-mix(in srgb, var(--moss) 55%, var(--sheet));
}
.run.past i {
  background: color-mix(in srgb, var(--copper) 60%, var(--sheet));
}
.run.today {
  border-left: 2px solid var(--ink);
}
.run.chosen {
  background: var(--moss-soft);
}
.run.chosen i {
  background: var(--moss);
}
.ends {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-2);
  font-size: 12.5px;
  margin: 3px 0 0;
}
.ends b {
  color: var(--ink);
}
</style>
