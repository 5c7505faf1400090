<script setup lang="ts">
// A view as an almanac: weeks are lines, days hang on ticks from them, the month runs on; at the side what has no day. Wires only:
// what stands where is almanac.ts.
import { computed, defineAsyncComponent, nextTick, ref, toRef } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import { saying } from '@/api/client'
import type { AlmanacMark, AlmanacShape, Field, Input, Query, Row, Table, Value } from '@/api/types'
import { useEdits, type CellEdit } from '@/features/cell/edits'
import { hue, optionOf } from '@/features/cell/kinds'
import { lookOf, markHue } from '@/features/highlight/looks'
import { useVocabulary } from '@/features/condition/vocabulary'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import { useTracker } from '@/features/tracker/tracker'
import { useOwn } from '@/theme/own'
import type { Shown } from '../window'
import { hidden, placed, weeksFrom } from './almanac'
import { daysFrom, daysOn, momentAt, plusDays, plusMonths, said } from './dates'
import DayMark from './DayMark.vue'
import DayAgenda from './DayAgenda.vue'
import MarkHead from './MarkHead.vue'
import { useStretch } from './stretch'
import YearLines from './YearLines.vue'

const CalendarMonth = defineAsyncComponent(() => import('@/features/cell/CalendarMonth.vue'))

const props = defineProps<{
  tracker: number
  table: Table
  fields: Field[]
  window: Shown
  query: Query
  shape: AlmanacShape
  readonly: boolean
}>()
const emit = defineEmits<{
  moved: [record: number | undefined]
  open: [record: number]
  /** A record is begun with these values. */
  begin: [cells: Record<string, Input>]
  remove: [row: Row]
  trouble: [words: string]
  why: [row: Row, field: Field | undefined, x: number, y: number]
}>()

/** Marks of a day that have room on its line. */
const LEVELS = 4
/** Weeks that are shown, and days that one turns on by. */
const WEEKS = 6
const TURN = 28
/** When a day's work begins. */
const MORNING = '09:00:00'
const { tracker: currentTracker } = useTracker()
/** Days begin and end where the tracker is. */
const zone = computed(() => currentTracker.value?.zone ?? 'UTC')
const own = useOwn()
const phone = useMediaQuery('(max-width: 700px)')
const edits = useEdits()
const board = ref<HTMLElement>()
const answer = computed(() => props.window.answer.value)
const today = computed(() => stretch.answer.value?.today ?? new Date().toISOString().slice(0, 10))

/** A day of the first week that is shown: the almanac runs on from there, over the ends of months. */
const anchor = ref(plusDays(new Date().toISOString().slice(0, 10), -7))
const scale = ref<'month' | 'year'>('month')
const weeks = computed(() => weeksFrom(anchor.value, WEEKS, own.value.week))
const year = computed(() => anchor.value.slice(0, 4))
const from = computed(() => (scale.value === 'year' ? `${year.value}-01-01` : weeks.value[0]!))
const to = computed(() => (scale.value === 'year' ? `${year.value}-12-31` : plusDays(weeks.value.at(-1)!, 6)))
/** The day that lies open. */
const opened = ref<string>()
const ofADay = computed(() => (scale.value === 'year' ? 0 : opened.value ? 400 : LEVELS + 4))
const stretch = useStretch({
  tracker: toRef(props, 'tracker'),
  table: computed(() => props.table.id),
  query: toRef(props, 'query'),
  from,
  to,
  ofADay,
  of: () => answer.value?.of,
})
const turn = (by: number) => {
  opened.value = undefined
  anchor.value = scale.value === 'year' ? `${plusMonths(anchor.value.slice(0, 7), by * 12)}-01` : plusDays(anchor.value, by * TURN)
}
function toToday() {
  opened.value = undefined
  anchor.value = plusDays(today.value, -7)
}
/** To a day of the year, which lies open then. */
function toDay(day: string) {
  anchor.value = day
  scale.value = 'month'
  opened.value = day
}
const stretchSaid = computed(() => {
  const [start, end] = [weeks.value[0]!, plusDays(weeks.value.at(-1)!, 6)]
  const sameYear = start.slice(0, 4) === end.slice(0, 4)
  return `${said(start, { day: 'numeric', month: 'long', ...(sameYear ? {} : { year: 'numeric' }) })} to ${said(end, { day: 'numeric', month: 'long', year: 'numeric' })}`
})

const dates = computed(() => props.shape.dates)
const fieldOf = (id: number | null | undefined) => props.table.fields.find((field) => field.id === id)
const first = computed(() => fieldOf(dates.value[0]?.start))
const title = computed(() =>
  Math.max(
    0,
    props.fields.findIndex((field) => field.id === props.table.standing),
  ),
)
/** A mark is called by the first field that is shown; where that holds nothing, by what names the record. */
const nameOf = (row: Row | undefined) => row?.cells[0]?.text || row?.cells[title.value]?.text || props.table.one
const about = (row: Row | undefined) =>
  props.fields.flatMap((field, n) => (n === 0 || !row?.cells[n]?.text ? [] : [`${field.name}: ${row.cells[n]!.text}`])).join('\n')
/** The colour that a highlight gives it; else that of the first choice that is shown. */
function hueOf(row: Row | undefined): string | undefined {
  const marked = markHue(row, props.table.standing)
  if (marked) return marked
  for (const [n, field] of props.fields.entries()) {
    const option = row && optionOf(field, row.cells[n])
    if (option) return hue(option)
  }
  return undefined
}
const { figureWord } = useVocabulary()
const tallies = computed(() =>
  (props.query.tallies ?? []).map(
    (tally) => `${props.table.fields.find((f) => f.id === tally.field)?.within}: ${figureWord(tally.figure)}`,
  ),
)

const lines = computed(() =>
  weeks.value.map((start) => {
    const all = placed(start, stretch.marks.value)
    return {
      start,
      days: Array.from({ length: 7 }, (_, n) => plusDays(start, n)),
      shown: all.filter((one) => one.level < LEVELS),
      more: hidden(start, all, stretch.counts.value, LEVELS),
      // Weeks are weighed as conditions count them: from Monday on.
      weight: own.value.week === 1 ? stretch.answer.value?.weeks.find((week) => week.start === start) : undefined,
    }
  }),
)
const openMarks = computed(() =>
  stretch.marks.value.filter((mark) => opened.value && mark.start <= opened.value && mark.end >= opened.value),
)
/** Days that hold something, one under the other: on a phone. */
const agenda = computed(() =>
  [...stretch.counts.value.keys()].map((day) => ({
    day,
    marks: stretch.marks.value.filter((mark) => mark.start <= day && mark.end >= day),
  })),
)

/** What is carried: a record by which of its dates, and by which end; none of a span, both. */
const carried = ref<{ row: Row; mark: AlmanacMark | undefined; date: number; end: 'start' | 'end' | undefined }>()
const over = ref<string>()

function isMoved(row: Row | undefined, date: number): boolean {
  const { start, end } = dates.value[date] ?? {}
  return !props.readonly && !!row?.change && !!fieldOf(start)?.writes && (end == null || !!fieldOf(end)?.writes)
}
function refusal(date: number): string {
  return fieldOf(dates.value[date]?.start)?.refusal ?? props.table.looking
}

function lift(event: DragEvent, row: Row | undefined, mark: AlmanacMark | undefined, end: 'start' | 'end' | undefined) {
  const date = mark?.date ?? 0
  if (!row || !isMoved(row, date)) {
    event.preventDefault()
    return emit('trouble', refusal(date))
  }
  event.dataTransfer?.setData('text/plain', nameOf(row))
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move'
  carried.value = { row, mark, date, end }
}
const leave = () => (carried.value = over.value = undefined)

function shifted(value: Value | undefined, day: string, days: number): Value {
  return typeof value === 'object' && 'instant' in value ? { instant: daysOn(value.instant, days, zone.value) } : { date: day }
}

/** What is given a day that had none: a moment then is in the morning, where the tracker is. */
const begins = (field: Field, value: Value | undefined, day: string, days: number): Value =>
  field.shows.type === 'date_time' && !(typeof value === 'object' && 'instant' in value)
    ? { instant: momentAt(`${day}T${MORNING}`, zone.value) }
    : shifted(value, day, days)

/** Puts a record on a day by one of its dates; a span keeps its length, or one of its ends goes there. */
async function putOn(row: Row, date: number, mark: AlmanacMark | undefined, day: string, end?: 'start' | 'end') {
  const spec = dates.value[date]
  const field = fieldOf(spec?.start)
  if (!spec || !field) return
  if (!isMoved(row, date)) return emit('trouble', refusal(date))
  // What is not shown is not known here; what is shown and holds nothing, is.
  const cell = (id: number | null | undefined): Value | undefined => {
    const place = props.fields.findIndex((one) => one.id === id)
    return place < 0 ? undefined : (row.cells[place]?.value ?? 'empty')
  }
  const days = mark ? daysFrom(end === 'end' ? mark.end : mark.start, day) : 0
  const changes: CellEdit[] = []
  const change = (id: number, value: Value) => changes.push({ field: id, input: { value }, was: cell(id) })
  if (field.shows.type === 'range') {
    const [start, stop] = mark ? [mark.start, mark.end] : [day, day]
    const range: [string, string] =
      end === 'start' ? [day, stop] : end === 'end' ? [start, day] : [plusDays(start, days), plusDays(stop, days)]
    change(field.id, { range: mark ? range : [day, day] })
  } else {
    if (end !== 'end') change(field.id, begins(field, cell(spec.start), mark ? plusDays(mark.start, days) : day, days))
    if (spec.end != null && mark && end !== 'start') change(spec.end, shifted(cell(spec.end), plusDays(mark.end, days), days))
  }
  try {
    await edits.editCells({ tracker: props.tracker, table: props.table.id, record: row.id }, changes)
    emit('trouble', '')
  } catch (error) {
    emit('trouble', saying(error))
  }
  await stretch.refresh()
}

async function drop(day: string) {
  const now = carried.value
  leave()
  if (now) await putOn(now.row, now.date, now.mark, day, now.end)
}

const shift = (mark: AlmanacMark, days: number) => {
  const row = stretch.rows.value.get(mark.record)
  if (row) void putOn(row, mark.date, mark, plusDays(mark.start, days)).then(() => refocus(mark.record))
}
async function refocus(record: number) {
  await nextTick()
  board.value?.querySelector<HTMLElement>(`[data-record='${record}'] [data-mark]`)?.focus()
}

/** What a drop would make of it, as the field is called. */
const saysDrop = computed(() => {
  const now = carried.value
  const field = fieldOf(
    now?.end === 'end' ? (dates.value[now.date]?.end ?? dates.value[now.date]?.start) : dates.value[now?.date ?? 0]?.start,
  )
  return now && over.value && field ? `${field.name} becomes ${said(over.value, { day: 'numeric', month: 'long' })}.` : ''
})

function begin(day: string) {
  const field = first.value
  if (!field?.writes || props.readonly || !props.table.adds) return
  const value: Value | undefined = field.shows.type === 'range' ? { range: [day, day] } : begins(field, undefined, day, 0)
  emit('begin', { [field.id]: { value } })
}
const adds = computed(() => !!first.value?.writes && !props.readonly && props.table.adds)

const menu = ref<{ x: number; y: number; row: Row; mark: AlmanacMark | undefined }>()
function menuOf(event: MouseEvent | KeyboardEvent, row: Row | undefined, mark: AlmanacMark | undefined) {
  const box = (event.currentTarget ?? event.target) instanceof Element ? (event.target as Element).getBoundingClientRect() : undefined
  const spot = event instanceof MouseEvent ? { x: event.clientX, y: event.clientY } : { x: box?.left ?? 0, y: box?.bottom ?? 0 }
  if (row) menu.value = { ...spot, row, mark }
}
/** What is given another day without carrying it. */
const dated = ref<{ row: Row; mark: AlmanacMark | undefined }>()
async function pick(day: string) {
  const now = dated.value
  dated.value = undefined
  if (now) await putOn(now.row, now.mark?.date ?? 0, now.mark, day)
}
function choices(does: (row: Row, mark: AlmanacMark | undefined) => void) {
  const now = menu.value
  menu.value = undefined
  if (now) does(now.row, now.mark)
}

function keys(event: KeyboardEvent) {
  if (event.key === 'PageDown') turn(1)
  else if (event.key === 'PageUp') turn(-1)
  else if (event.key === 'Home' && event.target === board.value) toToday()
  else if (event.key === 'Escape' && opened.value) opened.value = undefined
  else return
  event.preventDefault()
}

defineExpose({
  goTo: async () => stretch.refresh(),
  goToPlace: () => board.value?.focus(),
  goToField: async () => undefined,
  focus: () => board.value?.focus(),
  walk: () => undefined,
  groupHere: () => undefined,
  box: () => board.value?.getBoundingClientRect(),
})
</script>

<template>
  <div ref="board" class="board" role="group" :aria-label="`${table.name} as a calendar`" tabindex="0" data-test="calendar" @keydown="keys">
    <div class="main">
      <header>
        <button type="button" class="link" data-test="earlier" @click="turn(-1)">earlier</button>
        <h2 aria-live="polite">{{ scale === 'year' ? year : stretchSaid }}</h2>
        <button type="button" class="link" data-test="later" @click="turn(1)">later</button>
        <button type="button" class="link" data-test="today" @click="toToday">today</button>
        <span class="dates">
          <span v-for="(date, n) in dates" :key="date.start"
            ><MarkHead :date="n" /> {{ fieldOf(date.start)?.within
            }}<template v-if="date.end"> to {{ fieldOf(date.end)?.within }}</template></span
          >
        </span>
        <span class="scales" role="group" aria-label="How much at once">
          <button
            v-for="one in ['month', 'year'] as const"
            :key="one"
            type="button"
            class="link"
            :aria-pressed="scale === one"
            :data-scale="one"
            @click="scale = one"
            >{{ one }}</button
          >
        </span>
      </header>
      <p v-if="stretch.trouble.value" class="fault-text" role="alert">{{ stretch.trouble.value }}</p>
      <YearLines v-if="scale === 'year'" :year="year" :counts="stretch.counts.value" :today="today" :many="table.many" @open="toDay" />
      <DayAgenda
        v-else-if="phone"
        :days="agenda"
        :rows="stretch.rows.value"
        :today="today"
        :said="said"
        :name-of="nameOf"
        :hue-of="hueOf"
        :is-moved="isMoved"
        @open="emit('open', $event)"
        @move="(row, mark) => (dated = { row, mark })"
      />
      <template v-else>
        <div class="names" aria-hidden="true">
          <span>Week</span>
          <span v-for="day in lines[0]!.days" :key="day">{{ said(day, { weekday: 'long' }) }}</span>
        </div>
        <div class="weeks">
          <template v-for="line in lines" :key="line.start">
            <section class="week" :aria-label="`Week from ${said(line.start, { day: 'numeric', month: 'long' })}`">
              <div class="margin">
                <template v-if="line.weight">
                  <b>{{ line.weight.number }}</b>
                  <template v-if="line.weight.count">
                    <span>{{ line.weight.counted }}</span>
                    <span v-for="(tally, n) in line.weight.tallies" :key="n" :title="tallies[n]">{{ tally.text }}</span>
                  </template>
                  <em v-if="line.weight.over"><span aria-hidden="true">▲ </span>{{ line.weight.over }}</em>
                </template>
              </div>
              <div class="days">
                <div
                  v-for="(day, column) in line.days"
                  :key="day"
                  class="day"
                  :class="{ over: over === day, now: day === today, past: day < today }"
                  :style="{ gridColumn: column + 1 }"
                  :data-day="day"
                  @dragover.prevent="over = day"
                  @drop.prevent="drop(day)"
                >
                  <button type="button" class="number" @click="opened = opened === day ? undefined : day"
                    >{{ Number(day.slice(8)) }}<i v-if="day.endsWith('-01')"> {{ said(day, { month: 'long' }) }}</i
                    ><i v-else-if="day === today"> today</i
                    ><span class="d-sr-only"
                      >, {{ said(day, { weekday: 'long', month: 'long' }) }}, {{ stretch.counts.value.get(day) ?? 0 }}</span
                    ></button
                  >
                  <button
                    v-if="adds"
                    type="button"
                    class="add"
                    :aria-label="`Add ${table.one} on ${said(day, { day: 'numeric', month: 'long' })}`"
                    :data-add="day"
                    @click="begin(day)"
                    >+</button
                  >
                </div>
                <DayMark
                  v-for="one in line.shown"
                  :key="`${one.mark.record} ${one.mark.date}`"
                  :placed="one"
                  :data-record="one.mark.record"
                  :name="nameOf(stretch.rows.value.get(one.mark.record))"
                  :about="about(stretch.rows.value.get(one.mark.record))"
                  :hue="hueOf(stretch.rows.value.get(one.mark.record))"
                  :look="lookOf(stretch.rows.value.get(one.mark.record), fields[0]?.id ?? 0)"
                  :moves="isMoved(stretch.rows.value.get(one.mark.record), one.mark.date)"
                  :stretches="isMoved(stretch.rows.value.get(one.mark.record), one.mark.date)"
                  :carried="carried?.row.id === one.mark.record"
                  @open="emit('open', one.mark.record)"
                  @lift="(event, end) => lift(event, stretch.rows.value.get(one.mark.record), one.mark, end)"
                  @leave="leave"
                  @shift="shift(one.mark, $event)"
                  @menu="menuOf($event, stretch.rows.value.get(one.mark.record), one.mark)"
                />
                <button
                  v-for="[day, count] in line.more"
                  :key="`more ${day}`"
                  type="button"
                  class="link more"
                  :style="{ gridColumn: line.days.indexOf(day) + 1, gridRow: LEVELS + 2 }"
                  :data-more="day"
                  @click="opened = day"
                  >and {{ count }} more</button
                >
                <p
                  v-if="over && saysDrop && line.days.includes(over)"
                  class="land"
                  role="status"
                  :style="{ gridColumn: `${line.days.indexOf(over) + 1} / span 2` }"
                  >{{ saysDrop }}</p
                >
              </div>
            </section>
            <section v-if="opened && line.days.includes(opened)" class="open" data-test="open-day">
              <header>
                <h3>{{ said(opened, { weekday: 'long', day: 'numeric', month: 'long' }) }}</h3>
                <span class="quiet"
                  >{{ stretch.counts.value.get(opened) ?? 0 }}
                  {{ (stretch.counts.value.get(opened) ?? 0) === 1 ? table.one : table.many }}</span
                >
                <button v-if="adds" type="button" class="link" @click="begin(opened)">+ {{ table.one }}</button>
                <button type="button" class="link" data-test="fold-day" @click="opened = undefined">fold</button>
              </header>
              <ul>
                <li
                  v-for="mark in openMarks"
                  :key="`${mark.record} ${mark.date}`"
                  :style="{ '--mark': hueOf(stretch.rows.value.get(mark.record)) }"
                >
                  <button type="button" @click="emit('open', mark.record)"
                    ><MarkHead :date="mark.date" /> {{ nameOf(stretch.rows.value.get(mark.record)) }}</button
                  >
                  <span class="quiet">{{ about(stretch.rows.value.get(mark.record)).replaceAll('\n', ', ') }}</span>
                </li>
              </ul>
            </section>
          </template>
        </div>
      </template>
    </div>
    <aside v-if="stretch.answer.value?.without && scale === 'month'" aria-label="Without a day" data-test="without">
      <h3>{{ stretch.answer.value.without_counted }} without {{ first?.within }}</h3>
      <p v-if="first?.writes && !readonly && !phone" class="quiet">drag one onto a day</p>
      <div
        v-for="row in stretch.answer.value.waiting"
        :key="row.id"
        class="waits"
        :draggable="isMoved(row, 0)"
        :class="{ carried: carried?.row.id === row.id }"
        @dragstart="lift($event, row, undefined, undefined)"
        @dragend="leave"
        @contextmenu.prevent="menuOf($event, row, undefined)"
      >
        <button type="button" @click="emit('open', row.id)">{{ nameOf(row) }}</button>
        <button
          v-if="isMoved(row, 0)"
          type="button"
          class="link"
          :aria-label="`day … for ${nameOf(row)}`"
          data-test="give-day"
          @click="dated = { row, mark: undefined }"
          >day …</button
        >
      </div>
      <p v-if="stretch.answer.value.without > stretch.answer.value.waiting.length" class="quiet"
        >and {{ stretch.answer.value.without - stretch.answer.value.waiting.length }} more</p
      >
    </aside>
    <PopupMenu :at="menu" :label="`What can be done with this ${table.one}`" @close="menu = undefined">
      <button @click="choices((row) => emit('open', row.id))">Open folio</button>
      <button
        v-if="menu && isMoved(menu.row, menu.mark?.date ?? 0)"
        data-test="menu-day"
        @click="choices((row, mark) => (dated = { row, mark }))"
        >Another day …</button
      >
      <button @click="choices((row) => emit('why', row, undefined, 40, 140))">Why is it in this view?</button>
      <button v-if="menu?.row.remove && !readonly" @click="choices((row) => emit('remove', row))">Put into the bin</button>
    </PopupMenu>
    <v-dialog :model-value="!!dated" max-width="330" aria-label="Another day" @update:model-value="dated = undefined">
      <div v-if="dated" class="boxed pick">
        <p>{{ nameOf(dated.row) }}</p>
        <CalendarMonth :model-value="dated.mark?.start ?? today" label="The day" @pick="pick" />
      </div>
    </v-dialog>
  </div>
</template>

<style scoped>
.board {
  flex: 1;
  min-height: 260px;
  display: flex;
  gap: var(--gap-4);
  outline-offset: 2px;
}
.main {
  flex: 1;
  min-width: 0;
  min-height: 0;
  display: flex;
  flex-direction: column;
}
header {
  display: flex;
  gap: 2px var(--gap-4);
  align-items: baseline;
  flex-wrap: wrap;
  padding-bottom: var(--gap-2);
}
h2 {
  font: italic 17px var(--serif);
  margin: 0;
}
.dates {
  display: flex;
  gap: var(--gap-4);
  color: var(--quiet);
  font-size: 13px;
}
.dates > span {
  display: inline-flex;
  gap: 4px;
  align-items: center;
}
.scales {
  margin-left: auto;
  display: flex;
  gap: var(--gap-3);
}
.scales [aria-pressed='true'] {
  color: var(--ink);
  font-weight: 600;
}
.names,
.week {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
}
.names {
  grid-template-columns: 84px repeat(7, minmax(0, 1fr));
  font-size: 12.5px;
  color: var(--quiet);
}
.weeks {
  flex: 1;
  min-height: 0;
  overflow: hidden auto;
}
.week {
  border-top: 1px solid var(--line-strong);
  min-height: 84px;
}
.margin {
  display: grid;
  align-content: start;
  font-size: 12px;
  color: var(--quiet);
  line-height: 1.4;
  padding: 3px 6px 6px 0;
}
.margin b {
  font: 600 15px var(--serif);
  color: var(--ink);
}
.margin em {
  font-style: normal;
  font-weight: 600;
  color: var(--fault);
}
.days {
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
  grid-template-rows: 24px repeat(6, min-content) 1fr;
  min-height: 84px;
  padding-bottom: 8px;
  position: relative;
}
/* A day reaches down its whole line, so that one drops on it anywhere. */
.day {
  grid-row: 1 / -1;
  position: relative;
  padding-left: 6px;
  margin-left: -6px;
}
.day::before {
  content: '';
  position: absolute;
  left: 0;
  top: 0;
  height: 6px;
  border-left: 1px solid var(--line-strong);
}
.day.now {
  border-left: 2px solid var(--moss);
}
.number {
  font: 600 14.5px var(--serif);
  border: 0;
  background: none;
  color: inherit;
  padding: 2px 0 0;
  cursor: pointer;
}
.number i {
  font-weight: 400;
  margin-left: 5px;
  color: var(--quiet);
}
.past .number {
  font-weight: 400;
  color: var(--quiet);
}
.now .number {
  color: var(--moss);
}
.day.over {
  background: var(--copper-soft);
}
.add {
  position: absolute;
  right: 6px;
  top: 0;
  min-width: 24px;
  min-height: 24px;
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  opacity: 0;
}
.day:hover .add,
.add:focus-visible {
  opacity: 1;
}
.more {
  font-size: 12.5px;
  justify-self: start;
  z-index: 1;
}
.land {
  grid-row: 7;
  z-index: 2;
  margin: 0;
  border-top: 3px solid var(--copper);
  color: var(--copper);
  font: 600 13.5px var(--serif);
  background: var(--stone);
  pointer-events: none;
}
.open {
  border: 1px solid var(--line-strong);
  background: var(--sheet);
  padding: var(--gap-3);
  margin-bottom: var(--gap-3);
}
.open header button:first-of-type {
  margin-left: auto;
}
h3 {
  font: 600 16px var(--serif);
  margin: 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 2 320px;
}
li {
  border-top: 1px solid var(--line);
  padding: 3px 0;
  font-size: 13px;
  break-inside: avoid;
  display: flex;
  gap: var(--gap-3);
}
li span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
li > button,
.waits > button:first-child {
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
  padding: 0;
  display: inline-flex;
  gap: 5px;
  align-items: center;
  flex: none;
}
aside {
  flex: 0 0 214px;
  border-left: 1px solid var(--line-strong);
  padding-left: var(--gap-3);
  overflow: auto;
  font-size: 13px;
}
aside > p {
  margin: 2px 0 6px;
}
.waits {
  display: flex;
  justify-content: space-between;
  gap: 6px;
  border-top: 1px solid var(--line);
  padding: 5px 0;
}
.waits > button:first-child {
  flex: 1;
  font-weight: 600;
}
.waits[draggable='true'] {
  cursor: grab;
}
.carried {
  opacity: 0.45;
}
.pick {
  padding: var(--gap-3);
}
.pick p {
  margin: 0 0 var(--gap-2);
  font-weight: 600;
}
/* On paper the weeks stand whole, without what is only to be pressed. */
@media print {
  .weeks,
  .main {
    overflow: visible;
  }
  .week {
    break-inside: avoid;
  }
  header button,
  .scales,
  .add,
  aside {
    display: none;
  }
}
@media (max-width: 700px) {
  .board {
    flex-direction: column;
    overflow: auto;
  }
  .main {
    flex: none;
  }
  aside {
    flex: none;
    border-left: 0;
    border-top: 1px solid var(--line-strong);
    padding: var(--gap-3) 0;
  }
  .waits > button {
    min-height: 44px;
  }
}
</style>
