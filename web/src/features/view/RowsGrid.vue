<script setup lang="ts">
// Records as rows: fields across, records down, moved through and edited by keyboard.
import { computed, nextTick, ref, toRef, watch } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import type { Condition, Field, Input, Query, Row, Table, Tally, Value } from '@/api/types'
import { editor } from '@/features/cell/kinds'
import { useVocabulary } from '@/features/condition/vocabulary'
import FileSends from '@/features/files/FileSends.vue'
import { sayCell } from '@/features/tracker/presence'
import { useTracker } from '@/features/tracker/tracker'
import { STANDING_IN, useCells } from './cells'
import { useGestures } from './gestures'
import { gridKey } from './gridKeys'
import { grouping, isTaken } from './adding'
import GroupHead from './GroupHead.vue'
import KeepEdge from './KeepEdge.vue'
import { useFileDrops } from './fileDrops'
import { headsOf, Layout, type Head } from './layout'
import { useMoving } from './moving'
import { useOrdering } from './ordering'
import PlaceAsk from './PlaceAsk.vue'
import BlockRehearsed from './BlockRehearsed.vue'
import BlockTray from './BlockTray.vue'
import BulkPanel from '@/features/bulk/BulkPanel.vue'
import NothingFits from './NothingFits.vue'
import RowMenu, { type MenuPlace } from './RowMenu.vue'
import RowsHeadings from './RowsHeadings.vue'
import type { SlipPlace } from './slip'
import RowsLine from './RowsLine.vue'
import RowsMargin from './RowsMargin.vue'
import { useRowsCarrying } from './rowsCarrying'
import { useRowsLines } from './rowsLines'
import RowsTally from './RowsTally.vue'
import { useRowsWidths } from './rowsWidths'
import type { useScreen } from './screen'
import { useHeld } from './held'
import { isPicking, usePicked } from './picked'
import { useSelecting } from './selecting'
import type { Shown } from './window'

const { tracker: currentTracker } = useTracker()
const picked = usePicked(() => ({ tracker: currentTracker.value?.id ?? 0, table: props.table.id }))

const props = defineProps<{
  table: Table
  /** The view whose own order they stand in. */
  view: number | undefined
  fields: { field: Field; width: number }[]
  window: Shown
  /** What one’s own screen holds of the view. */
  screen: ReturnType<typeof useScreen>
  query: Query
  /** Puts a value into a cell; throws what the server refuses. */
  edit: (table: number, record: number, field: Field, input: Input, was: Value | undefined) => Promise<unknown>
  readonly: boolean
  /** The record that is open beside them: it runs on into its folio, and the others are entries of a list. */
  beside?: number
  /** The field whose slip is open. */
  slip?: Field
  /** Whether words that are looked for stand in a cell. */
  isHit?: (record: number, field: number) => boolean
  /** Says that one has gone on from a record that somebody began. */
  left: (record: number) => Promise<unknown>
}>()
const emit = defineEmits<{
  moved: [record: number | undefined]
  open: [record: number]
  /** What a field of a record was before. */
  history: [record: number, field: Field]
  remove: [row: Row]
  add: [group: Head | undefined]
  tallies: [next: Tally[]]
  /** Fields in another order. */
  fields: [order: number[]]
  trouble: [words: string]
  /** Why a cell holds what it does, or with no field, why the record is here. */
  why: [row: Row, field: Field | undefined, x: number, y: number]
  /** Opens the slip of a field, beside its heading. */
  slip: [at: SlipPlace]
  /** Takes a part out of the condition. */
  drop: [at: string]
  /** Narrows the view to records of which this holds. */
  only: [condition: Condition]
  /** Words are to be looked for. */
  find: []
  /** So many of the first fields stay in place. */
  keep: [fields: number]
  /** A record that was edited has gone from sight. */
  gone: [record: number]
}>()

const scroller = ref<HTMLElement>()
const shown = toRef(props, 'window')
const phone = useMediaQuery('(max-width: 700px)')
const narrow = computed(() => phone.value || props.beside !== undefined)
const closed = props.screen.closed
const answer = computed(() => shown.value.answer.value)
const layout = computed(() => new Layout(answer.value?.groups ?? [], answer.value?.row_count ?? 0, closed.value))

const {
  shape: rowsShape,
  lineCount,
  lines,
  height,
  reveal,
  revealPlace,
  page,
} = useRowsLines({
  scroller,
  layout,
  narrow,
  query: () => props.query,
  window: () => shown.value,
})

const columns = computed(() => props.fields.map((f) => f.field))

const { margin, template, width, room, stays, ends, stayingWidth, fit } = useRowsWidths({
  scroller,
  fields: () => props.fields,
  narrow,
  count: () => answer.value?.row_count ?? 0,
  standing: () => props.table.standing,
  keeps: () => rowsShape.value?.keeps,
  lines,
  widen: props.screen.widen,
})

const headings = ref<InstanceType<typeof RowsHeadings>>()
const focus = () => scroller.value?.focus()

const {
  at,
  cells,
  may: mayEdit,
} = useCells({
  props,
  columns,
  layout,
  reveal,
  headings: () => !narrow.value,
  onGo: () => selection.clear(),
  focus,
  say: {
    moved: (record) => emit('moved', record),
    open: (record) => emit('open', record),
    trouble: (words) => emit('trouble', words),
    gone: (record) => emit('gone', record),
  },
})

const selection = useSelecting({
  at,
  tracker: () => currentTracker.value?.id ?? 0,
  table: () => props.table.id,
  columns: () => columns.value,
  query: () => props.query,
  window: () => shown.value,
  readonly: () => (props.readonly ? STANDING_IN : ''),
  trouble: (words) => emit('trouble', words),
})
const gestures = useGestures({
  at,
  selection,
  window: () => shown.value,
  grid: () => scroller.value,
  off: () => narrow.value || !!cells.editing.value,
  reveal: revealPlace,
})
const moving = useMoving({
  at: () => ({ tracker: currentTracker.value?.id ?? 0, table: props.table, view: props.view }),
  query: () => props.query,
  window: () => shown.value,
  trouble: (words) => emit('trouble', words),
})
const ordering = useOrdering({
  moving,
  window: () => shown.value,
  around: (place) => {
    const line = layout.value.lineOf(place)
    const found = line === undefined ? undefined : layout.value.at(line)
    if (found?.type !== 'row') return undefined
    const { head } = found
    if (!head) return { first: 0, count: answer.value?.row_count ?? 0, values: [] }
    return { first: head.place, count: head.group.count, values: head.path.map((group) => group.value) }
  },
  trouble: (words) => emit('trouble', words),
})
const carrying = useRowsCarrying({
  at,
  selection,
  moving,
  ordering,
  window: () => shown.value,
  readonly: () => (props.readonly ? STANDING_IN : ''),
  trouble: (words) => emit('trouble', words),
})
const drops = useFileDrops({
  tracker: () => currentTracker.value?.id ?? 0,
  table: () => props.table.id,
  columns: () => columns.value,
  may: mayEdit,
  refresh: () => shown.value.refresh(),
})
/** The last cell of what is selected, or the one that one is in. */
const cornerIn = (place: number) => {
  const area = selection.area.value
  const [bottom, right] = area ? [area.bottom, area.right] : [at.place.value, at.column.value]
  return (column: number) => place === bottom && column === right && (!!area || !!at.cell.value)
}
const filledIn = (place: number) => (column: number) => {
  const [to, from] = [selection.filling.value, selection.area.value]
  if (!to || place < to.top || place > to.bottom || column < to.left || column > to.right) return false
  return !from || place > from.bottom || column > from.right
}
const selectedIn = (place: number) => (column: number) => selection.holds(place, column)

/** To a record, in the first field that is typed into, or in one that is said; perhaps without taking the keys. */
async function goTo(place: number, record: number, field?: number, takesKeys = true) {
  const line = layout.value.lineOf(place)
  if (line === undefined) return
  reveal(line)
  const column = columns.value.findIndex((f) => (field === undefined ? editor(f) : f.id === field))
  at.toCell(record, Math.max(0, column))
  await nextTick()
  if (takesKeys) focus()
  else if (field !== undefined) await goToField(field)
}

/** The group one is in, by its place. */
function groupHere(): Head | undefined {
  const line = at.line.value
  const here = line === undefined || line < 0 || line >= layout.value.length ? undefined : layout.value.at(line)
  return here?.head
}

/** To the record at a place, with the keys. */
function goToPlace(place: number) {
  if (place >= 0) at.toPlace(place)
  focus()
}

/** Brings a field into sight. */
async function goToField(id: number) {
  await nextTick()
  const column = columns.value.findIndex((f) => f.id === id)
  const heading = column < 0 ? null : scroller.value?.querySelector(`#heading-${column}`)
  heading?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
}

watch([() => at.cell.value?.record, at.field, cells.editing], ([record, field, editing]) =>
  sayCell(record && field ? { record, field: field.id, writes: !!editing } : undefined),
)

/** Where the grid stands in the window. */
const box = () => scroller.value?.getBoundingClientRect()
defineExpose({ box, goTo, goToPlace, goToField, focus, walk: at.walk, groupHere })

const activeBox = () => scroller.value?.querySelector('[data-active=true]')?.getBoundingClientRect()

const pickSelected = () => selection.records().then(picked.turn)

function keys(event: KeyboardEvent) {
  if (event.target === scroller.value && headings.value?.keys(event)) return event.preventDefault()
  if (cells.editing.value || event.target !== scroller.value) return
  if (!narrow.value && carrying.key(event)) return event.preventDefault()
  if (event.altKey && event.key === 'Enter' && selection.area.value && !props.readonly) {
    void selection.change()
    return event.preventDefault()
  }
  if (selection.area.value && isPicking(event)) return (event.preventDefault(), void pickSelected())
  if (picked.key(event, at.cell.value?.record)) return event.preventDefault()
  if (event.altKey) return
  cells.moved()
  if (gestures.key(event)) return event.preventDefault()
  const openHere = () => at.cell.value && emit('open', at.cell.value.record)
  const meant = gridKey(event, {
    at,
    columns: () => columns.value.length,
    page,
    // Entries are changed in the folio, where one sees what one changes.
    begin: narrow.value ? openHere : cells.begin,
    clear: () => void (narrow.value || cells.clear()),
    why: whyHere,
    open: (record) => emit('open', record),
    fold: foldHere,
    menu: menuHere,
    jump: () => (jumps.value = !!layout.value.length),
  })
  if (meant) event.preventDefault()
}

// Beside its folio, the list is at the record that is open.
watch(
  () => (props.beside === undefined ? undefined : shown.value.placeOf.value.get(props.beside)),
  (place) => {
    if (place === undefined || at.cell.value?.record === props.beside) return
    at.toCell(props.beside!, 0)
    void nextTick(at.inSight)
  },
  { immediate: true },
)
watch(narrow, () => void nextTick(at.inSight))

// What one is at stays in sight when it moves sideways.
watch(at.active, async () => {
  await nextTick()
  scroller.value?.querySelector('[data-active=true]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
})

function whyHere() {
  const [row, field, box] = [at.row.value, at.field.value, activeBox()]
  if (row && field && box) emit('why', row, field, box.left, box.bottom)
}

function press(event: MouseEvent, row: Row, column: number) {
  cells.moved()
  if (event.altKey) return emit('why', row, columns.value[column], event.clientX, event.clientY)
  if (phone.value) return tapped(row)
  const place = shown.value.placeOf.value.get(row.id)
  if (event.shiftKey && place !== undefined && !narrow.value && at.cell.value) return selection.to(place, column)
  if (narrow.value) return at.cell.value?.record === row.id ? emit('open', row.id) : at.toCell(row.id, column)
  const here = at.cell.value?.record === row.id && at.column.value === column
  if (here && !cells.editing.value) return cells.begin()
  at.toCell(row.id, column)
}

/** On a phone an entry is held to be taken up, and while one has taken some up a tap takes up another, or lets go of it. */
const held = useHeld<Row>((row) => picked.turn([row.id]))
function tapped(row: Row) {
  if (held.ended()) return
  if (picked.list.value.length) return picked.turn([row.id])
  emit('open', row.id)
}

const toggle = (key: string) => props.screen.fold(key)

/** Closes all groups, or opens them where all are closed. */
function foldAll() {
  const heads = headsOf(answer.value?.groups ?? []).map((head) => head.key)
  props.screen.foldAll(heads.every((key) => closed.value.has(key)) ? [] : heads)
}

function foldHere(open?: boolean) {
  const now = at.active.value
  if (now?.on === 'group' && (open === undefined || open === closed.value.has(now.group))) toggle(now.group)
}

/** The field of each level of groups, and whether a record gets its value by being put there. */
const levels = computed(() =>
  grouping(props.query).map((by) => ({
    within: props.table.fields.find((f) => f.id === by.field)?.within ?? '',
    taken: isTaken(by, props.table),
  })),
)
const takes = (head: Head) => !head.group.within.length && levels.value.every((level) => level.taken)
const menu = ref<MenuPlace>()

/** One is asked for the place to go to. */
const jumps = ref(false)
function jumpTo(place: number) {
  jumps.value = false
  goToPlace(place - 1)
}

/** The record that goes to a place which is asked for. */
const asksPlace = ref<Row>()
async function sayPlace(place: number) {
  const row = asksPlace.value
  asksPlace.value = undefined
  if (row) await carrying.toPlace(row, place)
  focus()
}

function rowMenu(event: MouseEvent, row: Row) {
  event.preventDefault()
  if (phone.value && held.byFinger()) return
  const name = event.target instanceof Element ? event.target.closest<HTMLElement>('[data-field]')?.dataset.field : undefined
  menu.value = { x: event.clientX, y: event.clientY, row, field: columns.value.find((f) => f.name === name) }
}

/** The menu of what one is at, by keys. */
function menuHere() {
  const box = activeBox()
  if (!box) return
  if (at.active.value?.on === 'heading') return headings.value?.openAt(at.column.value)
  if (at.row.value) menu.value = { x: box.left, y: box.bottom, row: at.row.value, field: at.field.value }
}

const active = computed(() => {
  const now = at.active.value
  if (now?.on === 'cell') return `cell-${now.record}-${now.column}`
  if (now?.on === 'heading') return `heading-${now.column}`
  return now ? 'group-here' : undefined
})
const isGroupHere = (key: string) => at.active.value?.on === 'group' && at.active.value.group === key

const { figureWord } = useVocabulary()
const tallies = computed(() =>
  (props.query.tallies ?? []).map((tally, n) => ({
    key: `${tally.field} ${tally.figure}`,
    name: `${props.table.fields.find((f) => f.id === tally.field)?.within}: ${figureWord(tally.figure)}`,
    text: answer.value?.tallies[n]?.text ?? '',
  })),
)
</script>

<template>
  <div class="frame" :class="{ beside: beside !== undefined }">
    <div
      ref="scroller"
      class="scroller"
      role="grid"
      :aria-label="table.name"
      :aria-rowcount="layout.length + 1"
      :aria-colcount="columns.length"
      :aria-activedescendant="active"
      :class="{ active: !!active }"
      :style="{
        scrollPaddingLeft: `${stayingWidth}px`,
        '--room': `${room}px`,
        '--band': rowsShape?.bands ? `var(--${rowsShape.bands})` : undefined,
        '--rule': rowsShape?.line_hue ? `var(--${rowsShape.line_hue})` : undefined,
      }"
      tabindex="0"
      data-test="grid"
      aria-multiselectable="true"
      @keydown="keys"
      @copy="gestures.copy($event, false)"
      @cut="gestures.copy($event, true)"
      @paste="gestures.paste"
      @pointerdown="gestures.pull"
      @pointermove="gestures.pullOn"
      @pointerup="gestures.letGo"
    >
      <RowsHeadings
        v-if="!narrow"
        ref="headings"
        :columns="columns"
        :template="template"
        :width="width"
        :open="slip"
        :query="query"
        :stays="stays"
        :here="at.active.value?.on === 'heading' ? at.column.value : undefined"
        @slip="emit('slip', $event)"
        @widen="screen.widen"
        @fit="fit"
        @order="emit('fields', $event)"
      />
      <div class="body" role="rowgroup" :style="{ height: `${height}px`, width: narrow ? '100%' : `${width}px` }">
        <template v-for="one in lines" :key="one.key">
          <div
            v-if="one.line.type === 'group'"
            :id="isGroupHere(one.line.head.key) ? 'group-here' : undefined"
            class="line"
            role="row"
            :aria-rowindex="one.index + 2"
            :style="{ transform: `translateY(${one.top}px)`, height: `${one.size}px` }"
            :data-lands="carrying.landsIn(one.line.head) ? 'in' : undefined"
            @dragover="carrying.overGroup($event, one.line.head)"
            @drop.prevent="carrying.drop"
          >
            <GroupHead
              :head="one.line.head"
              :closed="one.line.closed"
              :of="levels[one.line.head.path.length - 1]?.within ?? ''"
              :one="table.one"
              :tallies="tallies"
              :adds="takes(one.line.head) && table.adds && !readonly"
              :here="isGroupHere(one.line.head.key)"
              :columns="columns.length"
              @fold="toggle(one.line.head.key)"
              @add="emit('add', one.line.head)"
            />
          </div>
          <div
            v-else
            class="line row"
            :data-lines="narrow ? undefined : lineCount"
            :data-rule="rowsShape?.lines ?? 'thin'"
            role="row"
            :aria-rowindex="one.index + 2"
            :aria-selected="!!one.row && one.row.id === at.cell.value?.record"
            :aria-busy="!one.row"
            :aria-description="one.row?.looks?.says"
            :data-lands="one.row && carrying.lands(one.row)"
            :class="{
              outside: one.row?.outside,
              here: !!one.row && one.row.id === at.cell.value?.record,
              loading: !one.row,
              narrow,
              taken: phone && !!one.row && picked.holds(one.row.id),
              runs: !!one.row && one.row.id === beside,
              band: !!rowsShape?.bands && one.line.type === 'row' && one.line.place % 2 === 1,
            }"
            :style="{ transform: `translateY(${one.top}px)`, height: `${one.size}px`, gridTemplateColumns: narrow ? undefined : template }"
            @pointerdown="phone && one.row && held.down($event, one.row)"
            @pointermove="held.move"
            @pointerup="held.stop"
            @pointercancel="held.stop"
            @contextmenu="one.row && rowMenu($event, one.row)"
            @dragover="one.row && (drops.dragged($event, one.row) || carrying.over($event, one.row))"
            @dragleave="drops.leave"
            @drop.prevent="(one.row && drops.dropped($event, one.row)) || carrying.drop()"
          >
            <span v-if="phone && one.row && picked.holds(one.row.id)" role="rowheader" class="chosen" aria-label="chosen">✓</span>
            <RowsMargin
              v-if="!narrow && one.line.type === 'row'"
              :place="one.line.place"
              :name="one.row?.cells[0]?.text ?? ''"
              :selected="carrying.isWhole(one.line.place)"
              :picked="!!one.row && picked.holds(one.row.id)"
              :carries="!!one.row && !readonly"
              @press="one.row && (picked.pressed($event, one.row.id) || carrying.press($event, one.row))"
              @lift="one.row && carrying.lift($event, one.row)"
              @leave="moving.leave"
            />
            <RowsLine
              v-if="one.row && currentTracker"
              :row="one.row"
              :table="table"
              :tracker="currentTracker.id"
              :columns="columns"
              :at="at"
              :cells="cells"
              :narrow="narrow"
              :beside="beside !== undefined"
              :stays="stays"
              :may="mayEdit"
              :is-hit="isHit"
              :takes="drops.over.value?.record === one.row.id ? drops.over.value.field : undefined"
              :corner="one.line.type === 'row' && !narrow && !readonly ? cornerIn(one.line.place) : undefined"
              :filled="selection.filling.value && one.line.type === 'row' ? filledIn(one.line.place) : undefined"
              :selected="selection.area.value && one.line.type === 'row' ? selectedIn(one.line.place) : undefined"
              @fill="gestures.fillFrom"
              @press="(event, column) => press(event, one.row!, column)"
              @focus="focus"
            />
            <div v-else role="gridcell" :aria-colspan="columns.length" />
          </div>
        </template>
      </div>
      <NothingFits v-if="answer && !layout.length" :answer="answer" :table="table" @drop="emit('drop', $event)" />
    </div>
    <p v-if="carrying.says.value" class="lands" role="status" data-test="lands" :class="{ refused: !!moving.carried.value?.refused }">{{
      carrying.says.value
    }}</p>
    <KeepEdge v-if="!narrow && columns.length > 1" :keeps="stays.length" :ends="ends" :from="margin" @keep="emit('keep', $event)" />
    <BlockRehearsed :selection="selection" />
    <BulkPanel
      v-if="selection.changing.value"
      :tracker="currentTracker?.id ?? 0"
      :table="table"
      :records="selection.changing.value"
      :query="query"
      :matching="answer?.matching ?? 0"
      :field="columns[at.column.value]?.id"
      @done="((selection.changing.value = undefined), selection.clear(), focus())"
      @leave="((selection.changing.value = undefined), focus())"
    />
    <BlockTray v-else :selection="selection" :readonly="readonly" @pick="pickSelected" />
    <RowsTally
      :counted="answer?.counted"
      :table="table"
      :query="query"
      :tallies="tallies"
      :groups="answer?.groups.length ? levels.length : 0"
      :place="at.place.value"
      :total="answer?.row_count"
      :opens="!!at.cell.value && beside === undefined"
      @open="at.cell.value && emit('open', at.cell.value.record)"
      @tallies="emit('tallies', $event)"
      @fold="foldAll"
      @jump="jumps = true"
      @find="emit('find')"
    />
    <FileSends :lines="drops.sending.lines.value" class="sends" @stop="drops.sending.stop" @go-on="drops.sending.goOn" />
    <RowMenu
      v-model="menu"
      :tracker="currentTracker?.id ?? 0"
      :table="table"
      :columns="columns"
      :picked="picked"
      :readonly="readonly"
      :orders="!narrow && !answer?.ordering.refusal"
      @open="emit('open', $event)"
      @why="(row, field, x, y) => emit('why', row, field, x, y)"
      @history="(row, field) => emit('history', row.id, field)"
      @only="emit('only', $event)"
      @top="carrying.toTop"
      @bottom="carrying.toBottom"
      @nth="asksPlace = $event"
      @remove="emit('remove', $event)"
    />
    <PlaceAsk
      v-if="asksPlace"
      title="Move to place"
      does="Move it there"
      :name="asksPlace.cells[0]?.text ?? ''"
      :most="carrying.around(asksPlace)?.count ?? 1"
      @say="sayPlace"
      @leave="((asksPlace = undefined), focus())"
    />
    <PlaceAsk
      v-if="jumps"
      title="Go to place"
      does="Go there"
      :place="(at.place.value ?? 0) + 1"
      :most="answer?.row_count ?? 1"
      @say="jumpTo"
      @leave="((jumps = false), focus())"
    />
  </div>
</template>

<style scoped>
.frame {
  display: flex;
  flex-direction: column;
  /* In a low window the page is moved instead. */
  min-height: 190px;
  flex: 1;
  border: 1px solid var(--line);
  position: relative;
}
.scroller {
  /* What is brought into sight does not lie under the headings. */
  scroll-padding-top: 34px;
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  position: relative;
  outline-offset: -2px;
}
/* What one is at shows the focus; a frame around everything would say it twice. */
.scroller.active:focus-visible {
  outline: 0;
}
.body {
  position: relative;
  min-width: 100%;
}
.line {
  position: absolute;
  top: 0;
  left: 0;
  width: 100%;
}
/* Texts wrap in rows of several lines, and pictures grow with them. */
.row:is([data-lines='two'], [data-lines='four'], [data-lines='eight']) :deep(.cell) {
  white-space: pre-line;
  line-height: 20px;
  padding-block: 6px;
  overflow-wrap: anywhere;
}
.row[data-lines='two'] :deep(.cell) {
  --thumb: 40px;
}
.row[data-lines='four'] :deep(.cell) {
  --thumb: 80px;
}
.row[data-lines='eight'] :deep(.cell) {
  --thumb: 160px;
}
/* Where what is carried would stand. */
.line[data-lands='above'] {
  box-shadow: 0 -2px var(--copper);
  z-index: 2;
}
.line[data-lands='beneath'] {
  box-shadow: 0 2px var(--copper);
  z-index: 2;
}
.line[data-lands='in'] :deep(.head) {
  background: var(--copper-soft);
}
.lands {
  margin: 0;
  padding: 5px 12px;
  border-top: 1px solid var(--copper);
  background: var(--copper-soft);
  font-size: 13px;
}
.sends {
  padding: 5px 12px;
  border-top: 1px solid var(--line);
}
.lands.refused {
  color: var(--fault);
}
.row {
  display: grid;
  grid-template-rows: 100%;
  border-bottom: 1px solid color-mix(in srgb, var(--line) 60%, transparent);
}
.row[data-rule='none'] {
  border-bottom-color: transparent;
}
.row[data-rule='thin'] {
  border-bottom-color: var(--rule, color-mix(in srgb, var(--line) 60%, transparent));
}
.row[data-rule='strong'] {
  border-bottom: 2px solid var(--rule, var(--line-strong));
}
/* Beneath whatever else says how a cell looks. */
.row.band,
.row.band :deep(.cell),
.row.band :deep(.margin) {
  background: color-mix(in srgb, var(--band) 9%, var(--sheet));
}
/* Beside a folio: the scroll bar stands at the left, so that the open entry reaches its folio. */
.beside {
  border: 0;
  min-height: 0;
}
.beside .scroller {
  direction: rtl;
  background:
    linear-gradient(var(--line-strong), var(--line-strong)) right / 1px 100% no-repeat,
    var(--stone);
}
.beside .scroller > * {
  direction: ltr;
}
/* What is summed needs the width of rows. */
.beside > :deep(.tally > span:not(.place)),
.beside :deep(.head > .count ~ .count) {
  display: none;
}
.beside :deep(.head) {
  border-right: 1px solid var(--line-strong);
}
.beside > :deep(.tally) {
  padding-left: var(--gap-5);
  border-right: 1px solid var(--line-strong);
}
.beside .row.narrow {
  display: grid;
  grid-template: auto auto / fit-content(62%) minmax(0, 1fr);
  padding: 6px var(--gap-3) 6px var(--gap-5);
}
.beside .row.narrow :deep(.title) {
  grid-column: 1 / -1;
}
.beside .row.narrow :deep(.cell:not(.title)) {
  color: var(--quiet);
}
.beside .row.runs {
  background: var(--stone);
  border-block: 1px solid var(--line-strong);
  box-shadow: inset 3px 0 var(--moss);
}
/* On a phone: each record a compact entry, opened with a tap. */
.row.narrow {
  display: flex;
  flex-wrap: wrap;
  align-content: center;
  gap: 0 12px;
  overflow: hidden;
  padding: 6px 10px;
  border-bottom: 1px solid var(--line);
  user-select: none;
  -webkit-touch-callout: none;
}
.row.taken {
  background: var(--moss-soft);
  box-shadow: inset 3px 0 var(--moss);
}
.chosen {
  position: absolute;
  right: 10px;
  top: 6px;
  color: var(--moss);
  font: italic 15px var(--serif);
}
</style>
