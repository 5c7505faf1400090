<script setup lang="ts">
// A week by its hours: a line is a day, a tick an hour. Under it a row for each who is out, and what of them is free in words.
import { computed, ref } from 'vue'
import { useElementSize, useNow } from '@vueuse/core'
import type { DayHours, HourStroke, Thread } from '@/api/types'
import { plusDays, said } from './dates'
import { useBars } from './bars'
import { useDesk } from './desk'
import HourBar from './HourBar.vue'
import { clock, hoursOf, isOut, isTimed, keyOf, laid, span, within } from './hours'
import { minutesNow } from './placing'

const props = defineProps<{
  days: readonly DayHours[]
  counts: ReadonlyMap<string, number>
  /** How long a record lasts can be changed. */
  stretches: boolean
  /** The names of those for whom there are lines: *crew leader*. */
  whose: string
}>()
const emit = defineEmits<{ day: [day: string] }>()
const desk = useDesk()
const bars = useBars(desk)
const { nameOf, mayMove, held, along } = bars
const { today, over, carried, saysDrop, table } = desk

/** A letter’s width, and what stands before a name, in pixels. */
const LETTER = 6.6
const SIGN = 20
/** Height of one row of strokes. */
const ROW = 26

const track = ref<HTMLElement[]>([])
const { width } = useElementSize(computed(() => track.value[0]))
const range = computed(() => span(props.days, desk.shape.value.working ?? { from: 8, to: 17 }))
const hours = computed(() => hoursOf(range.value))
const part = (minutes: number) => ((minutes - range.value.from) / (range.value.to - range.value.from)) * 100
const perPixel = computed(() => (range.value.to - range.value.from) / Math.max(200, width.value || 600))
const now = useNow({ interval: 60_000 })
const needle = computed(() => minutesNow(now.value, desk.zone.value))

const lines = computed(() =>
  props.days.map((day) => ({
    day,
    threads: day.threads.filter(isOut).map((thread) => {
      // What has no hour stands before the first tick.
      const untimed = thread.strokes.filter((stroke) => stroke.length === 'untimed')
      const others = thread.strokes.filter((stroke) => stroke.length !== 'untimed')
      const room = (stroke: HourStroke) => (nameOf(stroke).length * LETTER + SIGN) * perPixel.value
      return { thread, untimed, ...laid(others, room) }
    }),
  })),
)
const freeOf = (day: DayHours) => day.free.map((free) => ({ names: free.names.join(', '), says: free.says }))

function lift(event: DragEvent, stroke: HourStroke, thread: Thread, day: string, end: 'end' | undefined) {
  bars.lift(event, stroke, held(stroke, thread, day), end, (box) => (event.clientX - box.left) * perPixel.value)
}
/** The hour that is pointed at; of what holds days alone, none. */
function spot(event: DragEvent | MouseEvent, day: string) {
  const field = desk.fieldOf(desk.shape.value.dates[carried.value?.date ?? 0]?.start)
  if (field?.shows.type !== 'date_time') return { day }
  const ground = (event.currentTarget as HTMLElement).querySelector('.ground') ?? (event.currentTarget as HTMLElement)
  const box = ground.getBoundingClientRect()
  const grab = carried.value?.grab ?? 0
  return { day, minutes: within(range.value.from + (event.clientX - box.left) * perPixel.value - grab, range.value) }
}
const aside = (stroke: HourStroke, thread: Thread, day: string, step: number) =>
  desk.shift(stroke.record, held(stroke, thread, day), { day: plusDays(day, step), minutes: isTimed(stroke) ? stroke.from : undefined })
</script>

<template>
  <div class="week-hours" data-test="week-hours">
    <div class="line heads" aria-hidden="true">
      <span>Day</span>
      <span>{{ whose }}</span>
      <div class="track">
        <span v-for="hour in hours" :key="hour" :style="{ left: `${part(hour)}%` }">{{ clock(hour) }}</span>
      </div>
      <span class="free">Free</span>
    </div>
    <section
      v-for="{ day, threads } in lines"
      :key="day.day"
      class="line"
      :class="{ now: day.day === today, past: day.day < today, over: over?.day === day.day }"
      :aria-label="said(day.day, { weekday: 'long', day: 'numeric', month: 'long' })"
    >
      <h3>
        <button type="button" class="number" :data-day-hours="day.day" @click="emit('day', day.day)"
          ><b>{{ Number(day.day.slice(8)) }}</b> {{ day.day === today ? 'today' : said(day.day, { weekday: 'long' }) }}</button
        >
        <span v-if="counts.get(day.day)" class="quiet"
          >{{ counts.get(day.day) }} {{ counts.get(day.day) === 1 ? table.one : table.many }}</span
        >
        <button
          v-if="desk.adds.value"
          type="button"
          class="add"
          :aria-label="`Add ${table.one} on ${said(day.day, { day: 'numeric', month: 'long' })}`"
          :data-add="day.day"
          @click="desk.begin({ day: day.day })"
          >+</button
        >
      </h3>
      <div
        class="rows"
        :data-day="day.day"
        @dragover.prevent="over = spot($event, day.day)"
        @drop.prevent="desk.drop(spot($event, day.day))"
      >
        <p v-if="!threads.length" class="quiet none">{{ day.day < today ? 'nobody was out' : 'nobody is out' }}</p>
        <div v-for="one in threads" :key="JSON.stringify(one.thread.who)" class="row">
          <span class="who" :class="{ twice: one.thread.twice.length }" :title="one.thread.says">{{
            one.thread.name || 'nobody yet'
          }}</span>
          <div class="beside" :style="{ minHeight: `${one.levels * ROW}px` }">
            <HourBar
              v-for="{ stroke, level } in one.all"
              :key="keyOf(stroke)"
              :stroke="stroke"
              :day="day.day"
              :name="nameOf(stroke)"
              :moves="mayMove(stroke)"
              :stretches="stretches && mayMove(stroke)"
              :style="{
                left: `${part(stroke.from)}%`,
                width: `${Math.max(0, part(stroke.to) - part(stroke.from))}%`,
                top: `${level * ROW}px`,
              }"
              @lift="(event, end) => lift(event, stroke, one.thread, day.day, end)"
              @along="(step, lasts) => along(stroke, one.thread, day.day, step, lasts)"
              @aside="aside(stroke, one.thread, day.day, $event)"
            />
            <p
              v-for="twice in one.thread.twice"
              :key="twice.from"
              class="bracket"
              data-test="twice"
              :style="{ marginLeft: `${part(twice.from)}%`, marginTop: twice === one.thread.twice[0] ? `${one.levels * ROW}px` : 0 }"
              ><i :style="{ width: `${((twice.to - twice.from) / (range.to - range.from)) * width}px` }" /><b>{{ one.thread.name }}</b> has
              {{ twice.says }}</p
            >
            <p v-if="one.untimed.length" class="untimed"
              ><span class="quiet">at no hour:</span>
              <button v-for="stroke in one.untimed" :key="keyOf(stroke)" type="button" class="link" @click="desk.open(stroke.record)">{{
                nameOf(stroke)
              }}</button></p
            >
          </div>
        </div>
        <div ref="track" class="ground">
          <i v-for="hour in hours" :key="hour" :style="{ left: `${part(hour)}%` }" />
          <i v-if="day.day === today && needle >= range.from && needle <= range.to" class="needle" :style="{ left: `${part(needle)}%` }"
            ><span>{{ clock(needle) }}</span></i
          >
          <i v-if="carried && over?.day === day.day && over.minutes !== undefined" class="drop" :style="{ left: `${part(over.minutes)}%` }"
            ><span role="status">{{ saysDrop }}</span></i
          >
        </div>
      </div>
      <p class="free">
        <template v-for="(one, n) in freeOf(day)" :key="one.says"
          ><template v-if="n">; </template><b>{{ one.names }}</b> {{ one.says }}</template
        >
      </p>
    </section>
  </div>
</template>

<style scoped>
.week-hours {
  flex: 1;
  min-height: 0;
  overflow: auto;
}
.line {
  display: grid;
  grid-template-columns: 112px 128px minmax(360px, 1fr) 172px;
  gap: 0 8px;
  border-top: 1px solid var(--line-strong);
  min-height: 34px;
  position: relative;
}
.heads {
  border-top: 0;
  font-size: 12.5px;
  color: var(--quiet);
  min-height: 22px;
  position: sticky;
  top: 0;
  background: var(--stone);
  z-index: 3;
}
.heads .track {
  position: relative;
}
.heads .track span {
  position: absolute;
  transform: translateX(-50%);
  font-variant-numeric: tabular-nums;
}
h3 {
  margin: 0;
  padding: 3px 0 6px;
  font: 400 13px var(--sans);
  position: relative;
}
h3 .quiet {
  display: block;
  font-size: 12.5px;
}
.number {
  border: 0;
  background: none;
  color: inherit;
  padding: 0;
  font: italic 14.5px var(--serif);
  cursor: pointer;
}
.number b {
  font: 600 17px var(--serif);
}
.past .number,
.past .number b {
  color: var(--quiet);
  font-weight: 400;
}
.now .number {
  color: var(--moss);
}
.add {
  position: absolute;
  right: 0;
  top: 0;
  min-width: 24px;
  min-height: 24px;
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  opacity: 0;
}
.line:hover .add,
.add:focus-visible {
  opacity: 1;
}
.rows {
  grid-column: 2 / 4;
  position: relative;
  padding: 4px 0 6px;
}
.row {
  display: grid;
  grid-template-columns: 128px minmax(0, 1fr);
  gap: 8px;
  position: relative;
  z-index: 1;
}
.who {
  font-size: 13px;
  line-height: 18px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.who.twice {
  color: var(--copper);
  font-weight: 600;
}
.beside {
  position: relative;
}
.bracket {
  margin: 0 0 2px;
  font-size: 12.5px;
  line-height: 17px;
  color: var(--copper);
  white-space: nowrap;
}
.bracket i {
  display: block;
  height: 5px;
  border: 2px solid var(--copper);
  border-bottom: 0;
}
.untimed {
  margin: 0;
  font-size: 12.5px;
  display: flex;
  gap: 4px var(--gap-3);
  flex-wrap: wrap;
}
.none {
  margin: 0;
  font-size: 13px;
}
.ground {
  position: absolute;
  inset: 0 0 0 136px;
}
.ground > i {
  position: absolute;
  top: 0;
  height: 6px;
  border-left: 1px solid var(--line-strong);
}
.ground > .needle {
  height: 100%;
  border-left: 2px solid var(--moss);
}
.needle span {
  position: absolute;
  bottom: 0;
  left: 4px;
  font: 600 12px var(--sans);
  color: var(--moss);
}
.ground > .drop {
  height: 100%;
  border-left: 3px solid var(--copper);
  z-index: 2;
}
.drop span {
  position: absolute;
  bottom: 0;
  left: 4px;
  font: 600 13.5px var(--serif);
  color: var(--copper);
  background: var(--stone);
  white-space: nowrap;
}
.line.over {
  background: var(--copper-soft);
}
.free {
  margin: 0;
  padding: 4px 0 4px 22px;
  font-size: 12.5px;
  line-height: 17px;
  color: var(--quiet);
}
.free b {
  color: var(--moss);
}
.heads .free {
  padding-block: 0;
}
@media print {
  .week-hours {
    overflow: visible;
  }
  .line {
    break-inside: avoid;
  }
  .add {
    display: none;
  }
}
</style>
