<script setup lang="ts">
// A view as lanes: a ledger column for each value, side by side at one scale. Wires only: what lanes are is lanes.ts, carrying is
// moving.ts, being in a cell and editing it are as in rows.
import { computed, nextTick, ref, toRef, watch } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import type { Field, Input, LanesShape, Query, Row, Table, Value } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import { useTracker } from '@/features/tracker/tracker'
import { useCells } from '../cells'
import { headsOf, isSame, Layout, type Head } from '../layout'
import NothingFits from '../NothingFits.vue'
import type { Shown, Span } from '../window'
import LaneColumn from './LaneColumn.vue'
import { usePicked } from '../picked'
import LaneEntry from './LaneEntry.vue'
import LaneHead from './LaneHead.vue'
import LaneSettings from './LaneSettings.vue'
import LaneTurns from './LaneTurns.vue'
import LaneWays from './LaneWays.vue'
import MoveTo from './MoveTo.vue'
import { boardKey } from './keys'
import { useTouchCarry } from './touchCarry'
import { type Target, useMoving } from '../moving'
import { useOrdering } from '../ordering'
import { type Lane, lanesOf, limited, narrowed, put, reordered, scaleOf } from './lanes'

const props = defineProps<{
  tracker: number
  table: Table
  /** The view whose own order they stand in. */
  view: number | undefined
  fields: Field[]
  window: Shown
  query: Query
  shape: LanesShape
  edit: (table: number, record: number, field: Field, input: Input, was: Value | undefined) => Promise<unknown>
  left: (record: number) => Promise<unknown>
  readonly: boolean
}>()
const emit = defineEmits<{
  moved: [record: number | undefined]
  open: [record: number]
  add: [head: Head]
  remove: [row: Row]
  trouble: [words: string]
  shape: [next: LanesShape]
  /** The options of a field in this order; those not named stay where they are. */
  options: [field: Field, order: number[]]
  why: [row: Row, field: Field | undefined, x: number, y: number]
  drop: [at: string]
  gone: [record: number]
}>()

const phone = useMediaQuery('(max-width: 700px)')
const board = ref<HTMLElement>()
const shown = toRef(props, 'window')
const answer = computed(() => shown.value.answer.value)
const columns = computed(() => props.fields)
const by = computed(() => props.table.fields.find((field) => field.id === props.shape.by))
const lanes = computed(() => lanesOf(answer.value?.groups ?? [], props.shape, by.value))
const all = computed(() => [...lanes.value.shown, ...lanes.value.away, ...lanes.value.outside])
const per = computed(() => scaleOf(lanes.value.shown))
const layout = computed(() => new Layout(answer.value?.groups ?? [], answer.value?.row_count ?? 0, new Set()))
const bandOf = computed(
  () => props.table.fields.find((f) => f.id === props.query.groups?.find((g) => g.field !== props.shape.by)?.field)?.within ?? '',
)
const nameOf = (lane: Lane) => lane.group.text || `no ${by.value?.within ?? 'value'}`
/** Where the level falls: only where those that have stood longest come first. */
const levelOf = (lane: Lane) =>
  props.query.sorts?.length || answer.value?.ordering.own || lane.group.within.length ? undefined : (lane.group.stuck ?? undefined)

// Each lane says which of its places are on the screen.
const spans = new Map<string, Span>()
function show(lane: Lane, span: Span | undefined) {
  if (span) spans.set(lane.head.key, span)
  else spans.delete(lane.head.key)
  shown.value.show(...spans.values())
}

const columnsOf = ref<Record<string, InstanceType<typeof LaneColumn>>>({})
const laneAt = (place: number) => all.value.find(({ head, group }) => place >= head.place && place < head.place + group.count)
const reveal = (line: number) => {
  const found = layout.value.at(line)
  const lane = found.type === 'row' ? laneAt(found.place) : undefined
  if (!lane || found.type !== 'row') return
  if (phone.value) turned.value = lane.head.key
  void nextTick(() => columnsOf.value[lane.head.key]?.reveal(found.place))
}

const focus = () => board.value?.focus()
const { at, cells } = useCells({
  props,
  columns,
  layout,
  reveal,
  focus,
  say: {
    moved: (record) => emit('moved', record),
    open: (record) => emit('open', record),
    trouble: (words) => emit('trouble', words),
    gone: (record) => emit('gone', record),
  },
})

const moving = useMoving({
  at: () => ({ tracker: props.tracker, table: props.table, view: props.view }),
  query: () => props.query,
  window: () => shown.value,
  trouble: (words) => emit('trouble', words),
})
const ordering = useOrdering({
  moving,
  window: () => shown.value,
  around: (place) => {
    const lane = laneAt(place)
    if (!lane) return undefined
    const bands = headsOf(lane.group.within, lane.head.place, [lane.group])
    const { place: first, group, path } = bands.findLast((one) => one.place <= place) ?? lane.head
    return { first, count: group.count, values: path.map(({ value }) => value) }
  },
  trouble: (words) => emit('trouble', words),
})
/** By keys, up and down in its lane. */
async function order(to: 1 | -1 | 'first' | 'last') {
  const place = at.place.value
  if (place === undefined || props.readonly) return
  const run = { top: place, bottom: place }
  const refused = answer.value?.ordering.refusal ?? (byHand.value ? '' : ORDERED_BY_DAYS)
  if (refused) return emit('trouble', refused)
  if (to === 'first') await ordering.top(run)
  else if (to === 'last') await ordering.bottom(run)
  else await ordering.step(run, to)
}
const ORDERED_BY_DAYS = 'They stand longest there first. To put them by hand, begin that among the sorts.'
const moves = (row: Row) => !props.readonly && row.change

/** Records chosen to be moved together. */
const picked = usePicked(() => ({ tracker: props.tracker, table: props.table.id }))
const chosen = picked.records
const choose = (record: number) => picked.turn([record])
/** What goes along with a record: all that are chosen, if it is one of them. */
const along = (record: number) => (chosen.value.has(record) ? [...chosen.value] : [record])

function press(event: MouseEvent, row: Row, column: number) {
  cells.moved()
  if (event.altKey) return emit('why', row, columns.value[column], event.clientX, event.clientY)
  if (event.ctrlKey || event.metaKey || event.shiftKey) return choose(row.id)
  const here = at.cell.value?.record === row.id && at.column.value === column
  if (here && !cells.editing.value) return cells.begin()
  at.toCell(row.id, column)
  focus()
}

function lift(event: DragEvent, row: Row) {
  if (!moves(row)) return event.preventDefault()
  event.dataTransfer?.setData('text/plain', row.cells[0]?.text ?? '')
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move'
  const records = along(row.id)
  moving.lift(records, [laneOf(records)])
}
/** The lane that all of these stand in, if it is one. */
function laneOf(records: number[]): Value | undefined {
  const lanesOf = records.map((record) => {
    const place = shown.value.placeOf.value.get(record)
    return place === undefined ? undefined : laneAt(place)
  })
  return lanesOf.every((lane) => lane === lanesOf[0]) ? lanesOf[0]?.group.value : undefined
}
const isOver = (lane: Lane) => {
  const [to] = moving.carried.value?.target?.to ?? []
  return to !== undefined && isSame(to, lane.group.value)
}
const into = (lane: Lane): Target => ({ key: lane.head.key, to: [lane.group.value] })
/** Where records stand by hand: above the one that is pointed at, or beneath it. */
function beside(event: DragEvent, lane: Lane, row: Row) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const above = event.clientY < box.top + box.height / 2
  const spot = above ? { before: row.id } : { after: row.id }
  void moving.over({ key: `${lane.head.key} ${JSON.stringify(spot)}`, to: [lane.group.value], spot })
}
/** On which side of a record those carried would stand. */
function lands(row: Row): 'above' | 'beneath' | undefined {
  const spot = moving.carried.value?.target?.spot
  if (typeof spot !== 'object') return undefined
  if ('before' in spot) return spot.before === row.id ? 'above' : undefined
  return spot.after === row.id ? 'beneath' : undefined
}
/** There is something to say of what a drop would do: a place within a lane says itself. */
const isTold = computed(() => {
  const now = moving.carried.value
  return !!now && (!!now.refused || !now.told || now.told.says.length > 0)
})
const byHand = computed(() => !!answer.value?.ordering.own && !answer.value.ordering.refusal)
async function drop() {
  await moving.drop()
  picked.clear()
}
/** How many of those carried are not in a lane yet. */
function coming(lane: Lane): number {
  const now = moving.carried.value
  if (!now || !isOver(lane)) return 0
  const { head, group } = lane
  const places = now.records.map((record) => shown.value.placeOf.value.get(record))
  return places.filter((place) => place === undefined || place < head.place || place >= head.place + group.count).length
}

/** By a finger that rests on an entry: what it is over is found by where it is. */
const entryAt = (under: Element) => {
  const id = Number(under.closest<HTMLElement>('[data-entry]')?.dataset.entry)
  return [...shown.value.rows.value.values()].find((row) => row.id === id)
}
const touch = useTouchCarry({
  board,
  lift: (under) => {
    const row = entryAt(under)
    if (!row || !moves(row) || cells.editing.value) return false
    const records = along(row.id)
    moving.lift(records, [laneOf(records)])
    return true
  },
  over: (under, y) => {
    const key = under.closest<HTMLElement>('[data-lane-key]')?.dataset.laneKey
    const lane = all.value.find((one) => one.head.key === key)
    if (!lane) return
    const row = byHand.value ? entryAt(under) : undefined
    const box = under.closest('[data-entry]')?.getBoundingClientRect()
    if (!row || !box) return void moving.over(into(lane))
    const spot = y < box.top + box.height / 2 ? { before: row.id } : { after: row.id }
    void moving.over({ key: `${lane.head.key} ${JSON.stringify(spot)}`, to: [lane.group.value], spot })
  },
  drop: () => void drop(),
  leave: () => moving.leave(),
})

/** What is being moved without carrying it. */
const sheet = ref<{ records: number[]; from: Value | undefined; what: string }>()
function moveTo(records: number[]) {
  const row = [...shown.value.rows.value.values()].find((one) => one.id === records[0])
  const title = row?.cells[columns.value.findIndex((f) => f.id === props.table.standing)]?.text ?? row?.cells[0]?.text ?? ''
  sheet.value = {
    records,
    from: laneOf(records),
    what: records.length === 1 ? title : `${records.length} ${props.table.many}`,
  }
}
async function putThere(to: Value) {
  const now = sheet.value
  sheet.value = undefined
  if (!now) return
  await moving.put(now.records, { key: '', to: [to] }, [now.from])
  picked.clear()
  focus()
}

/** Into the lane beside, by keys. */
async function shift(step: 1 | -1) {
  const [row, place] = [at.row.value, at.place.value]
  const here = place === undefined ? undefined : laneAt(place)
  const to = here && lanes.value.shown[lanes.value.shown.indexOf(here) + step]
  if (!row || !to) return
  if (!moves(row)) return emit('trouble', by.value?.refusal ?? props.table.looking)
  const records = along(row.id)
  await moving.put(records, into(to), [laneOf(records)])
  picked.clear()
}

/** To the lane beside, as far down as one is. */
function sideways(step: 1 | -1) {
  const place = at.place.value
  const here = place === undefined ? undefined : laneAt(place)
  if (!here || place === undefined) return
  for (let n = lanes.value.shown.indexOf(here) + step; lanes.value.shown[n]; n += step) {
    const { head, group } = lanes.value.shown[n]!
    if (group.count) return at.toPlace(head.place + Math.min(place - here.head.place, group.count - 1), at.column.value)
  }
}

function step(by: number) {
  const place = at.place.value
  if (place === undefined) return at.toPlace(lanes.value.shown.find((lane) => lane.group.count)?.head.place ?? 0, 0)
  const here = laneAt(place)
  if (!here) return
  const last = here.head.place + here.group.count - 1
  at.toPlace(Math.max(here.head.place, Math.min(last, place + by)))
}

const activeBox = () => board.value?.querySelector('[data-active=true]')?.getBoundingClientRect()
const menu = ref<{ x: number; y: number; row: Row }>()
function menuHere() {
  const [row, box] = [at.row.value, activeBox()]
  if (row && box) menu.value = { x: box.left, y: box.bottom, row }
}
function whyHere() {
  const [row, field, box] = [at.row.value, at.field.value, activeBox()]
  if (row && field && box) emit('why', row, field, box.left, box.bottom)
}
function keys(event: KeyboardEvent) {
  if (cells.editing.value || event.target !== board.value) return
  cells.moved()
  const meant = boardKey(event, {
    step,
    sideways,
    shift: (by) => void shift(by),
    order: (to) => void order(to),
    field: (by) => {
      const next = at.column.value + by
      if (next < 0 || next >= columns.value.length) return false
      at.sideways(next)
      return true
    },
    begin: cells.begin,
    clear: () => void cells.clear(),
    choose: () => at.row.value && choose(at.row.value.id),
    open: () => at.row.value && emit('open', at.row.value.id),
    why: whyHere,
    menu: menuHere,
    leave: picked.clear,
    isAtOne: () => !!at.cell.value,
  })
  if (meant) event.preventDefault()
}
watch(at.active, async () => {
  await nextTick()
  board.value?.querySelector('[data-active=true]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
})
function choices(does: (row: Row, spot: { x: number; y: number }) => void) {
  const now = menu.value
  menu.value = undefined
  if (now) does(now.row, now)
}

/** The lane whose settings are open. */
const setting = ref<{ lane: Lane; x: number; y: number }>()
function settings(event: MouseEvent, lane: Lane) {
  const box =
    (event.currentTarget as HTMLElement | null)?.getBoundingClientRect?.() ?? (event.target as HTMLElement).getBoundingClientRect()
  setting.value = { lane, x: box.left, y: box.bottom + 4 }
}
/** The lanes of a choice stand as its options do, for who may put these in another order; all others as the view says. */
const { tracker: currentTracker } = useTracker()
const byOptions = computed(
  () => by.value?.kind.type === 'choice' && !!currentTracker.value?.builds && !props.readonly && !props.shape.order?.length,
)
const moved = (lane: Lane, step: 1 | -1) => reordered(lanes.value.shown, lane.group.value, step)
function move(lane: Lane, step: 1 | -1) {
  const order = moved(lane, step)
  if (!order) return
  if (!byOptions.value) return emit('shape', { ...props.shape, order })
  const wanted = order.flatMap((value) => (typeof value === 'object' && 'choice' in value ? [value.choice] : []))
  emit('options', by.value!, wanted)
}
const stands = computed(() => [...shown.value.rows.value.values()].some((row) => row.days != null))

// On a phone one lane is in sight, and the others at one line above it.
const turned = ref<string>()
const turnedTo = computed(() => {
  const list = lanes.value.shown
  return list.find((lane) => lane.head.key === turned.value) ?? list.find((lane) => lane.group.count) ?? list[0]
})
const inSight = computed(() => (phone.value ? (turnedTo.value ? [turnedTo.value] : []) : lanes.value.shown))
/** As wide as each lane is drawn. */
const widths = computed(() => inSight.value.map((lane) => (lane.narrow ? '156px' : 'minmax(226px, 1fr)')).join(' '))
const turnedBy = (by: 1 | -1) => turnedTo.value && lanes.value.shown[lanes.value.shown.indexOf(turnedTo.value) + by]
let from: number | undefined
function swipe(event: TouchEvent, end: boolean) {
  if (touch.carrying.value) return void (from = undefined)
  const x = event.changedTouches[0]?.clientX
  if (!end) from = x
  else if (phone.value && from !== undefined && x !== undefined && Math.abs(x - from) > 60) {
    const to = turnedBy(x < from ? 1 : -1)
    if (to) turned.value = to.head.key
  }
}

const { figureWord } = useVocabulary()
const tallies = computed(() =>
  (props.query.tallies ?? []).map((tally) => ({
    key: `${tally.field} ${tally.figure}`,
    name: `${props.table.fields.find((f) => f.id === tally.field)?.within}: ${figureWord(tally.figure)}`,
  })),
)

async function goTo(place: number, record: number, field?: number, takesKeys = true) {
  at.toCell(
    record,
    Math.max(
      0,
      columns.value.findIndex((f) => f.id === (field ?? props.table.standing)),
    ),
  )
  await nextTick()
  reveal(layout.value.lineOf(place) ?? 0)
  at.inSight()
  if (takesKeys) focus()
}
defineExpose({
  goTo,
  goToPlace: (place: number) => {
    if (place >= 0) at.toPlace(place)
    focus()
  },
  goToField: async () => undefined,
  focus,
  walk: (by: number) => step(by),
  groupHere: () => {
    const place = at.place.value
    return (phone.value ? turnedTo.value : place === undefined ? undefined : laneAt(place))?.head
  },
  box: () => board.value?.getBoundingClientRect(),
})
</script>

<template>
  <div
    ref="board"
    class="board"
    role="group"
    :aria-label="`${table.name} in lanes by ${by?.within}`"
    tabindex="0"
    data-test="lanes"
    :style="{ '--lanes': inSight.length, '--wide': phone ? undefined : widths }"
    @keydown="keys"
    @touchstart.passive="swipe($event, false)"
    @touchend.passive="swipe($event, true)"
  >
    <NothingFits v-if="answer && !answer.row_count && answer.total" :answer="answer" :table="table" @drop="emit('drop', $event)" />
    <LaneTurns
      v-if="phone && turnedTo"
      :lanes="lanes.shown"
      :here="turnedTo"
      :per="per"
      :name-of="nameOf"
      @turn="turned = $event.head.key"
    />
    <div class="whole">
      <div class="lanes" data-lanes-row>
        <section
          v-for="lane in inSight"
          :key="lane.head.key"
          class="lane"
          :class="{ over: isOver(lane), narrow: lane.narrow && !phone }"
          :aria-label="`${lane.group.counted} ${nameOf(lane)}`"
          :data-lane-key="lane.head.key"
          @dragover.prevent="moving.over(into(lane))"
          @drop.prevent="drop"
        >
          <LaneHead :lane="lane" :per="per" :field="by" :coming="coming(lane)" :tallies="tallies" @settings="settings($event, lane)" />
          <LaneColumn
            :ref="(one) => one && (columnsOf[lane.head.key] = one as InstanceType<typeof LaneColumn>)"
            class="sheet"
            :lane="lane"
            :window="window"
            :level="levelOf(lane)"
            :band-of="bandOf"
            @show="show(lane, $event)"
          >
            <template #entry="{ row }">
              <LaneEntry
                :row="row"
                :table="table"
                :tracker="tracker"
                :columns="columns"
                :bare="lane.narrow && !phone"
                :at="at"
                :cells="cells"
                :past="row.days != null && lane.limit?.days != null && row.days > lane.limit.days"
                :chosen="chosen.has(row.id)"
                :carried="!!moving.carried.value?.records.includes(row.id)"
                :moves="moves(row)"
                :draggable="moves(row) && !cells.editing.value"
                :data-lands="lands(row)"
                :data-entry="row.id"
                v-on="
                  byHand
                    ? { dragover: (event: DragEvent) => (event.preventDefault(), event.stopPropagation(), beside(event, lane, row)) }
                    : {}
                "
                @dragstart="lift($event, row)"
                @dragend="moving.leave"
                @press="(event, column) => press(event, row, column)"
                @focus="focus"
                @move="moveTo(along(row.id))"
                @open="emit('open', row.id)"
                @contextmenu.prevent="menu = { x: $event.clientX, y: $event.clientY, row }"
              />
            </template>
          </LaneColumn>
          <div v-if="isOver(lane) && isTold" class="land" role="status">
            <template v-if="moving.carried.value?.refused">{{ moving.carried.value.refused }}</template>
            <template v-else-if="moving.carried.value?.told">
              <b>{{ moving.carried.value.told.says[0] }}</b>
              <p v-for="says in moving.carried.value.told.says.slice(1)" :key="says">{{ says }}</p>
            </template>
            <template v-else>…</template>
          </div>
          <div class="end">
            <span>{{ lane.group.counted }}</span>
            <button v-if="table.adds && by?.writes && !readonly" type="button" :data-add="lane.group.text" @click="emit('add', lane.head)"
              >+ {{ table.one }}</button
            >
          </div>
        </section>
      </div>
      <LaneWays
        v-if="!phone && (lanes.away.length || (lanes.outside.length && !readonly))"
        :away="lanes.away"
        :outside="by?.writes && !readonly ? lanes.outside : []"
        :table="table"
        :per="per"
        :stands="stands"
        :over="all.find(isOver)"
        :coming="coming"
        :says="moving.carried.value?.told?.says ?? []"
        :name-of="nameOf"
        :may-come-back="(lane) => !!shape.away?.some((value) => isSame(value, lane.group.value))"
        @over="moving.over(into($event))"
        @drop="drop"
        @back="emit('shape', put(shape, $event.group.value, false))"
      />
    </div>
    <div v-if="chosen.size && !readonly" class="tray" role="status" data-test="tray">
      <b>{{ chosen.size }} {{ chosen.size === 1 ? table.one : table.many }}</b>
      <v-btn variant="outlined" size="small" data-test="move-chosen" @click="moveTo([...chosen])">Move to …</v-btn>
    </div>
    <PopupMenu :at="menu" :label="`What can be done with this ${table.one}`" @close="menu = undefined">
      <button @click="choices((row) => emit('open', row.id))">Open folio <kbd>Ctrl Enter</kbd></button>
      <button v-if="menu && moves(menu.row)" data-test="menu-move" @click="choices((row) => moveTo(along(row.id)))">Move to …</button>
      <button @click="choices((row) => choose(row.id))"
        >{{ menu && chosen.has(menu.row.id) ? 'Let go of it' : 'Choose it' }} <kbd>Ctrl Space</kbd></button
      >
      <button @click="choices((row, { x, y }) => emit('why', row, undefined, x, y))">Why is it in this view?</button>
      <button v-if="menu?.row.remove && !readonly" @click="choices((row) => emit('remove', row))">Put into the bin</button>
    </PopupMenu>
    <v-menu
      :model-value="!!setting"
      :target="setting ? [setting.x, setting.y] : undefined"
      :close-on-content-click="false"
      @update:model-value="setting = undefined"
    >
      <div v-if="setting" class="boxed">
        <LaneSettings
          :lane="setting.lane"
          :name="nameOf(setting.lane)"
          :many="table.many"
          :days="stands || !!setting.lane.limit?.days"
          :moves="{ left: !!moved(setting.lane, -1), right: !!moved(setting.lane, 1) }"
          :ordered="byOptions ? `This is the order of the options of “${by?.name}”: it is the same wherever they stand.` : ''"
          @limit="emit('shape', limited(shape, setting!.lane.group.value, $event))"
          @away="emit('shape', put(shape, setting!.lane.group.value, true))"
          @narrow="emit('shape', narrowed(shape, setting!.lane.group.value, !setting!.lane.narrow))"
          @move="move(setting!.lane, $event)"
          @close="setting = undefined"
        />
      </div>
    </v-menu>
    <v-bottom-sheet
      :model-value="!!sheet"
      :inset="!phone"
      max-width="560"
      aria-label="Move to another lane"
      @update:model-value="sheet = undefined"
    >
      <div v-if="sheet" class="boxed">
        <MoveTo
          :lanes="all.filter((lane) => !isSame(lane.group.value, 'empty') || !by?.required)"
          :what="sheet.what"
          :records="sheet.records"
          :from="sheet.from"
          :of="by?.within ?? 'value'"
          :rehearse="(records, to) => moving.rehearse(records, { key: '', to: [to] })"
          @put="putThere"
          @leave="sheet = undefined"
        />
      </div>
    </v-bottom-sheet>
  </div>
</template>

<style scoped>
.board {
  flex: 1;
  min-height: 240px;
  display: flex;
  flex-direction: column;
  position: relative;
  outline-offset: 2px;
}
.whole {
  flex: 1;
  min-height: 0;
  display: flex;
}
/* Heads, sheets and feet of all lanes stand at one height each. */
.lanes {
  flex: 1;
  min-width: 0;
  min-height: 0;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  grid-auto-flow: column;
  grid-auto-columns: minmax(226px, 1fr);
  grid-template-columns: var(--wide, none);
  overflow: auto hidden;
}
.lane {
  display: grid;
  grid-row: span 3;
  grid-template-rows: subgrid;
  min-width: 0;
  min-height: 0;
  padding-left: 10px;
}
.lane [data-lands='above'] {
  box-shadow: inset 0 3px var(--copper);
}
.lane [data-lands='beneath'] {
  box-shadow: inset 0 -3px var(--copper);
}
.lane > .sheet {
  grid-row: 2;
}
/* Over the foot of the sheet, so that nothing moves under what is carried. */
.lane > .land {
  grid-row: 2;
  align-self: end;
  z-index: 2;
}
.lane > .end {
  grid-row: 3;
}
.sheet {
  margin-left: -10px;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-top-color: var(--line-strong);
  border-right: 0;
}
.lane:last-of-type .sheet {
  border-right: 1px solid var(--line);
}
.lane.over .sheet {
  background: var(--copper-soft);
}
.end {
  margin-left: -10px;
  background: var(--sheet);
  border: 1px solid var(--line);
  border-top: 0;
  border-right: 0;
  padding: 5px 10px;
  display: flex;
  justify-content: space-between;
  font-size: 12.5px;
  color: var(--quiet);
}
.lane:last-of-type .end {
  border-right: 1px solid var(--line);
}
.end button {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
}
.land {
  margin-left: -10px;
  border-top: 3px solid var(--copper);
  background: var(--sheet);
  padding: 8px 10px;
  font-size: 13px;
  line-height: 18px;
}
.land b {
  font: 600 14.5px/1.3 var(--serif);
  color: var(--copper);
}
.land p {
  margin: 2px 0 0;
}
.tray {
  display: flex;
  align-items: center;
  gap: var(--gap-3);
  border-top: 2px solid var(--moss);
  background: var(--sheet);
  padding: 8px 14px;
}
.tray b {
  font: 600 17px var(--serif);
}
</style>
