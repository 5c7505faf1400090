<script setup lang="ts">
// A view as an almanac, at four scales: days and weeks by their hours, weeks as lines, months as lines. Wires only: which days are
// in sight is turning.ts, what a drop changes is placing.ts.
import { computed, defineAsyncComponent, nextTick, provide, ref, toRef } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import { saying } from '@/api/client'
import type { AlmanacMark, AlmanacShape, Field, Input, Query, Row, Table, Value } from '@/api/types'
import { useEdits } from '@/features/cell/edits'
import { hue, optionOf } from '@/features/cell/kinds'
import { lookOf, markHue } from '@/features/highlight/looks'
import { useVocabulary } from '@/features/condition/vocabulary'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import { useTracker } from '@/features/tracker/tracker'
import { useOwn } from '@/theme/own'
import type { Shown } from '../window'
import AlmanacSide from './AlmanacSide.vue'
import { said } from './dates'
import DayAgenda from './DayAgenda.vue'
import DayHours from './DayHours.vue'
import { DESK } from './desk'
import { clock } from './hours'
import MarkHead from './MarkHead.vue'
import MonthWeeks from './MonthWeeks.vue'
import { begins, changesOf, type Carried, type Spot } from './placing'
import { useStretch } from './stretch'
import { SCALES, useTurning, type Scale } from './turning'
import WeekHours from './WeekHours.vue'
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

/** Marks of a day that are told of a month, with some to spare; and where all of them are. */
const FEW = 8
const ALL = 400
const { tracker: currentTracker } = useTracker()
/** Days begin and end where the tracker is. */
const zone = computed(() => currentTracker.value?.zone ?? 'UTC')
const own = useOwn()
const phone = useMediaQuery('(max-width: 700px)')
const edits = useEdits()
const board = ref<HTMLElement>()
const answer = computed(() => props.window.answer.value)
const today = computed(() => stretch.answer.value?.today ?? new Date().toISOString().slice(0, 10))

const weekFirst = computed(() => own.value.week)
const { here, scale, opened, weeks, year, from, to, days, title, turn, toToday, toDay } = useTurning({ today, weekFirst })
const byHours = computed(() => scale.value === 'day' || scale.value === 'week')
const asked = { tracker: toRef(props, 'tracker'), table: computed(() => props.table.id), query: toRef(props, 'query') }
const of = () => answer.value?.of
const ofADay = computed(() => (scale.value === 'year' ? 0 : opened.value || byHours.value ? ALL : FEW))
const stretch = useStretch({ ...asked, from, to, ofADay, hours: byHours, weekFirst, of })
/** Who is there more than once, on the day that lies open. */
const ofOpened = useStretch({ ...asked, from: opened, to: opened, ofADay: ref(0), hours: ref(true), weekFirst, of })
const shownHours = computed(() => stretch.dayHours.value.filter((one) => days.value.includes(one.day)))

const dates = computed(() => props.shape.dates)
const fieldOf = (id: number | null | undefined) => props.table.fields.find((field) => field.id === id)
const first = computed(() => fieldOf(dates.value[0]?.start))
const whose = computed(() => fieldOf(props.shape.who)?.name ?? '')
const stretches = computed(() => dates.value[0]?.end != null || !!fieldOf(props.shape.lasts)?.writes)
const standing = computed(() =>
  Math.max(
    0,
    props.fields.findIndex((field) => field.id === props.table.standing),
  ),
)
/** A mark is called by the first field that is shown; where that holds nothing, by what names the record. */
const nameOf = (row: Row | undefined) => row?.cells[0]?.text || row?.cells[standing.value]?.text || props.table.one
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
/** Weeks are weighed as conditions count them: from Monday on. */
const weights = computed(() => (own.value.week === 1 ? (stretch.answer.value?.weeks ?? []) : []))
const week = computed(() => {
  const one = scale.value === 'week' ? weights.value[0] : undefined
  return one && { says: [one.counted, ...one.tallies.map((tally) => tally.text)].join(', '), over: one.over, number: one.number }
})
/** Days that hold something, one under the other: on a phone. */
const agenda = computed(() =>
  [...stretch.counts.value.keys()].map((day) => ({
    day,
    marks: stretch.marks.value.filter((mark) => mark.start <= day && mark.end >= day),
  })),
)

const carried = ref<Carried>()
const over = ref<Spot>()
function isMoved(row: Row | undefined, date: number): boolean {
  const { start, end } = dates.value[date] ?? {}
  return !props.readonly && !!row?.change && !!fieldOf(start)?.writes && (end == null || !!fieldOf(end)?.writes)
}
const refusal = (date: number) => fieldOf(dates.value[date]?.start)?.refusal ?? props.table.looking
/** What stands in a field: what is not shown is not known here; what is shown and holds nothing, is. */
function cell(row: Row, id: number | null | undefined): Value | undefined {
  const place = props.fields.findIndex((one) => one.id === id)
  return place < 0 ? undefined : (row.cells[place]?.value ?? 'empty')
}
const ground = computed(() => ({ shape: props.shape, zone: zone.value, fieldOf, cell }))

function lift(event: DragEvent, row: Row | undefined, of: Partial<Carried>) {
  const date = of.date ?? 0
  if (!row || !isMoved(row, date)) {
    event.preventDefault()
    return emit('trouble', refusal(date))
  }
  event.dataTransfer?.setData('text/plain', nameOf(row))
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move'
  carried.value = { mark: undefined, end: undefined, ...of, row, date }
}
function leave() {
  carried.value = undefined
  over.value = undefined
}

async function put(now: Carried, spot: Spot) {
  if (!isMoved(now.row, now.date)) return emit('trouble', refusal(now.date))
  const changes = changesOf(now, spot, ground.value)
  if (!changes.length) return
  try {
    await edits.editCells({ tracker: props.tracker, table: props.table.id, record: now.row.id }, changes)
    emit('trouble', '')
  } catch (error) {
    emit('trouble', saying(error))
  }
  await stretch.refresh()
}
async function drop(spot: Spot) {
  const now = carried.value
  leave()
  if (now) await put(now, spot)
}
function shift(record: number, of: Partial<Carried>, spot: Spot, end?: 'start' | 'end') {
  const row = stretch.rows.value.get(record)
  if (row) void put({ mark: undefined, date: 0, ...of, row, end }, spot).then(() => refocus(record))
}
async function refocus(record: number) {
  await nextTick()
  board.value?.querySelector<HTMLElement>(`[data-record='${record}'] [data-mark]`)?.focus()
}

/** What a drop would make of it, as its fields are called. */
const saysDrop = computed(() => {
  const [now, spot] = [carried.value, over.value]
  if (!now || !spot) return ''
  const ends = now.end === 'end' ? (fieldOf(dates.value[now.date]?.end) ?? fieldOf(props.shape.lasts)) : undefined
  const field = ends ?? fieldOf(dates.value[now.date]?.start)
  const at = spot.minutes === undefined ? '' : `, ${clock(spot.minutes)}`
  const day = `${said(spot.day, { day: 'numeric', month: 'long' })}${at}`
  const whom = spot.who !== undefined && JSON.stringify(spot.who) !== JSON.stringify(now.who) ? nameOfWho(spot.who) : undefined
  const says = ends && ends.id === props.shape.lasts ? `It ends${at.replace(',', ' at')}` : `${field?.name} becomes ${day}`
  return whom === undefined ? `${says}.` : `${says}; ${fieldOf(props.shape.who)?.within} becomes ${whom || 'empty'}.`
})
const nameOfWho = (who: Value) =>
  shownHours.value.flatMap((one) => one.threads).find((thread) => JSON.stringify(thread.who) === JSON.stringify(who))?.name

const adds = computed(() => !!first.value?.writes && !props.readonly && props.table.adds)
function begin(spot: Spot) {
  const field = first.value
  if (!field || !adds.value) return
  const cells: Record<string, Input> = { [field.id]: { value: begins(field, spot, zone.value) } }
  if (spot.who !== undefined && spot.who !== 'empty' && fieldOf(props.shape.who)?.writes)
    cells[props.shape.who!] = { value: ofWho(spot.who) }
  emit('begin', cells)
}
/** One of several people or choices is a list of one. */
function ofWho(who: Value): Value {
  const kind = fieldOf(props.shape.who)?.shows.type
  if (kind === 'people' && typeof who === 'object' && 'person' in who) return { people: [who.person] }
  if (kind === 'choices' && typeof who === 'object' && 'choice' in who) return { choices: [who.choice] }
  return who
}

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
  if (now) await put({ row: now.row, date: now.mark?.date ?? 0, mark: now.mark, end: undefined }, { day })
}
function choices(does: (row: Row, mark: AlmanacMark | undefined) => void) {
  const now = menu.value
  menu.value = undefined
  if (now) does(now.row, now.mark)
}

provide(DESK, {
  table: toRef(props, 'table'),
  shape: toRef(props, 'shape'),
  today,
  zone,
  rows: stretch.rows,
  fieldOf,
  nameOf,
  about,
  hueOf,
  lookOf: (row) => lookOf(row, props.fields[0]?.id ?? 0),
  isMoved,
  carried,
  over,
  saysDrop,
  lift,
  leave,
  drop,
  shift,
  adds,
  begin,
  open: (record) => emit('open', record),
  menu: menuOf,
  give: (row, mark) => (dated.value = { row, mark }),
})

const scaleOf = (to: Scale) => {
  scale.value = to
  opened.value = undefined
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
        <h2 aria-live="polite"
          ><template v-if="week">week {{ week.number }}, </template>{{ title }}</h2
        >
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
            v-for="one in SCALES"
            :key="one"
            type="button"
            class="link"
            :aria-pressed="scale === one"
            :data-scale="one"
            @click="scaleOf(one)"
            >{{ one }}</button
          >
        </span>
      </header>
      <p v-if="stretch.trouble.value" class="fault-text" role="alert">{{ stretch.trouble.value }}</p>
      <YearLines v-if="scale === 'year'" :year="year" :counts="stretch.counts.value" :today="today" :many="table.many" @open="toDay" />
      <template v-else-if="scale === 'day'">
        <DayHours v-if="shownHours[0]" :day="shownHours[0]" :stretches="stretches" :whose="whose" :phone="phone" />
      </template>
      <DayAgenda v-else-if="phone" :days="agenda" :hours="scale === 'week' ? shownHours : []" @day="toDay($event, 'day')" />
      <WeekHours
        v-else-if="scale === 'week'"
        :days="shownHours"
        :counts="stretch.counts.value"
        :stretches="stretches"
        :whose="whose"
        @day="toDay($event, 'day')"
      />
      <MonthWeeks
        v-else
        :weeks="weeks"
        :marks="stretch.marks.value"
        :counts="stretch.counts.value"
        :weights="weights"
        :tallies="tallies"
        :opened="opened"
        :hours="ofOpened.dayHours.value[0]"
        @open="opened = $event"
        @hours="toDay($event, 'day')"
      />
    </div>
    <AlmanacSide
      v-if="stretch.answer.value && scale !== 'year' && (stretch.answer.value.without || stretch.answer.value.carriers.length)"
      :without="{
        count: stretch.answer.value.without,
        counted: stretch.answer.value.without_counted,
        rows: stretch.answer.value.waiting,
      }"
      :carriers="whose ? stretch.answer.value.carriers : []"
      :week="week"
      :date-within="first?.within ?? ''"
      :phone="phone"
    />
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
        <CalendarMonth :model-value="dated.mark?.start ?? here" label="The day" @pick="pick" />
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
.pick {
  padding: var(--gap-3);
}
.pick p {
  margin: 0 0 var(--gap-2);
  font-weight: 600;
}
/* On paper the days stand whole, without what is only to be pressed. */
@media print {
  .main {
    overflow: visible;
  }
  header button,
  .scales {
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
  header h2 {
    order: -1;
    flex-basis: 100%;
  }
  .scales {
    order: -1;
    margin: 0;
    flex-basis: 100%;
  }
  header button {
    min-height: 40px;
  }
}
</style>
