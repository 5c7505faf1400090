<script setup lang="ts">
// Records as rows: fields across, records down, moved through and edited by keyboard.
import { computed, nextTick, onBeforeUnmount, ref, toRef, watch } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useMediaQuery } from '@vueuse/core'
import { Problem, saying } from '@/api/client'
import type { Field, Input, Query, Row, Table, Value } from '@/api/types'
import CellEditor, { type Move } from '@/features/cell/CellEditor.vue'
import CellText from '@/features/cell/CellText.vue'
import PressButton from '@/features/cell/PressButton.vue'
import { editor, facts, isComputed, isRight } from '@/features/cell/kinds'
import { currentTracker } from '@/features/tracker/tracker'
import RowsHeadings, { type Computed } from './RowsHeadings.vue'
import { groupKey, Layout, type Line } from './layout'
import { useSending } from './sending'
import type { useWindow } from './window'

const props = defineProps<{
  table: Table
  fields: { field: Field; width: number }[]
  window: ReturnType<typeof useWindow>
  query: Query
  /** Puts a value into a cell; throws what the server refuses. */
  edit: (table: number, record: number, field: Field, input: Input, was: Value) => Promise<unknown>
  readonly: boolean
  /** Says that one has gone on from a record that somebody began. */
  left: (record: number) => Promise<unknown>
}>()
const emit = defineEmits<{
  moved: [record: number | undefined]
  open: [record: number]
  remove: [row: Row]
  add: [group: number | undefined]
  trouble: [words: string]
  /** Why a cell holds what it does, or with no field, why the record is here. */
  why: [row: Row, field: Field | undefined, x: number, y: number]
  formula: [field: Field]
  compute: [what: Computed, after: Field]
  design: [field: Field, what: 'settings' | 'before' | 'behind' | 'hide']
}>()

const scroller = ref<HTMLElement>()
const shown = toRef(props, 'window')
const narrow = useMediaQuery('(max-width: 700px)')
const closed = ref(new Set<string>())
const answer = computed(() => shown.value.answer.value)
const layout = computed(() => new Layout(answer.value?.groups ?? [], answer.value?.row_count ?? 0, closed.value))

const ROW = 33
const HEAD = 37
const COMPACT = 62
const rowHeight = computed(() => (narrow.value ? COMPACT : ROW))
const virtual = useVirtualizer(
  computed(() => ({
    count: layout.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: (line: number) => (layout.value.at(line).type === 'group' ? HEAD : rowHeight.value),
    overscan: 12,
  })),
)
watch([layout, rowHeight], () => virtual.value.measure())

interface ShownLine {
  key: string
  top: number
  size: number
  index: number
  line: Line
  row: Row | undefined
}
const lines = computed<ShownLine[]>(() =>
  virtual.value.getVirtualItems().flatMap((item) => {
    if (item.index >= layout.value.length) return []
    const line = layout.value.at(item.index)
    const row = line.type === 'row' ? shown.value.rows.value.get(line.place) : undefined
    return [{ key: String(item.key), top: item.start, size: item.size, index: item.index, line, row }]
  }),
)
watch(lines, (now) => {
  const places = now.flatMap((l) => (l.line.type === 'row' ? [l.line.place] : []))
  if (places.length) shown.value.show(Math.min(...places), Math.max(...places))
})

const columns = computed(() => props.fields.map((f) => f.field))
// The last field takes what room is left, but not a figure: that would stand far from its fellows.
const template = computed(() => {
  const last = props.fields[props.fields.length - 1]
  const widths = props.fields.map((f) => (f === last && !isRight(f.field) ? `minmax(${f.width}px, 1fr)` : `${f.width}px`))
  return [...widths, ...(last && isRight(last.field) ? ['minmax(0, 1fr)'] : [])].join(' ')
})
const width = computed(() => props.fields.reduce((sum, f) => sum + f.width, 0))

// The active cell: a record and a field, so that it stays with its record when others come and go.
const active = ref<{ record: number; column: number }>()
const editing = ref<{ start?: string; fault?: string }>()
const activePlace = computed(() => (active.value ? shown.value.placeOf.value.get(active.value.record) : undefined))
const activeRow = computed(() => (activePlace.value === undefined ? undefined : shown.value.rows.value.get(activePlace.value)))
const activeField = computed(() => (active.value ? columns.value[active.value.column] : undefined))

function activate(record: number, column: number) {
  const another = active.value?.record !== record
  if (another) leave(activeRow.value)
  active.value = { record, column: Math.max(0, Math.min(columns.value.length - 1, column)) }
  editing.value = undefined
  if (another) emit('moved', record)
}

/** Whoever goes on from a record that was begun has left it, once what they typed has arrived. */
function leave(row: Row | undefined) {
  if (row?.begun && !props.readonly) sending.after(() => props.left(row.id))
}
onBeforeUnmount(() => leave(activeRow.value))

async function goTo(place: number, record: number) {
  const line = layout.value.lineOf(place)
  if (line === undefined) return
  virtual.value.scrollToIndex(line, { align: 'auto' })
  const column = Math.max(
    0,
    columns.value.findIndex((f) => editor(f)),
  )
  activate(record, column)
  await nextTick()
  scroller.value?.focus()
}

/** To another record, so many rows away in the view's order. */
function walk(by: number) {
  const from = activePlace.value ?? -by
  const place = Math.max(0, Math.min((answer.value?.row_count ?? 1) - 1, from + by))
  const line = layout.value.lineOf(place)
  if (line !== undefined) virtual.value.scrollToIndex(line, { align: 'auto' })
  const row = shown.value.rows.value.get(place)
  if (row) activate(row.id, active.value?.column ?? 0)
}

function groupHere(): number | undefined {
  const place = activePlace.value
  if (place === undefined) return undefined
  const line = layout.value.lineOf(place)
  const at = line === undefined ? undefined : layout.value.at(line)
  return at?.type === 'row' ? at.group : undefined
}

defineExpose({ goTo, walk, groupHere })

const mayEdit = (row: Row | undefined, field: Field | undefined) => !props.readonly && !!row?.change && !!field && !!editor(field)

function begin(start?: string) {
  const field = activeField.value
  if (!field || !mayEdit(activeRow.value, field)) {
    if (activeRow.value && field) emit('trouble', refusal(field))
    return
  }
  if (editor(field) === 'files') return emit('open', activeRow.value!.id)
  emit('trouble', '')
  const refused = sending.mend(activeRow.value!.id, field.id)
  editing.value = start === undefined && refused ? { start: refused.start, fault: refused.fault } : { start }
}

function refusal(field: Field): string {
  if (props.readonly) return 'You are standing in for somebody, to look. Stop standing in before you change anything.'
  if (field.kind.type === 'carried') return `“${field.name}” is carried from a linked record: change it there.`
  if (isComputed(field)) return `“${field.name}” is computed. Ctrl-. says why it is what it is.`
  if (!facts(field).editor) return `Westerfall fills in “${field.name}” by itself.`
  return `You can look at this ${props.table.one} but not change it.`
}

const sending = useSending(({ row, field, stamp }, error) => {
  const column = columns.value.findIndex((f) => f.id === field.id)
  // Whoever went on since is not called back: the cell keeps what was typed, marked, until they come to it.
  if (stamp === moves && !editing.value && column >= 0) mend(row.id, column)
  else emit('trouble', `${row.cells.find((c) => c?.text)?.text}, ${field.name}: ${saying(error)} What you typed waits in its cell.`)
  if (error instanceof Problem && error.status === 409) void shown.value.refresh()
})
/** Counts what is done by hand, so that it can be known whether somebody went on. */
let moves = 0

/** Sends a change and moves on at once: whoever types fast loses nothing to a slow line. */
function commit(input: Input, move: Move) {
  const [row, field, column] = [activeRow.value, activeField.value, active.value?.column]
  if (!row || !field || column === undefined || !editing.value) return
  const table = props.table.id
  const send = async () => {
    // As it stands by now, if this table is still on the screen: a change before this one may have moved it on.
    const now = props.table.id === table ? shown.value.rows.value.get(shown.value.placeOf.value.get(row.id) ?? -1) : undefined
    await props.edit(table, row.id, field, input, (now ?? row).cells[column]?.value ?? 'empty')
    await shown.value.refresh()
  }
  sending.put({ row, field, input, send, stamp: ++moves })
  editing.value = undefined
  step(move)
  if (move !== 'away') scroller.value?.focus()
}

/** Opens what was refused in a cell, with what is wrong beneath it. */
function mend(record: number, column: number) {
  activate(record, column)
  const found = sending.mend(record, columns.value[column]?.id ?? 0)
  editing.value = { start: found?.start, fault: found?.fault }
}

function cancel() {
  editing.value = undefined
  scroller.value?.focus()
}

function step(move: Move) {
  if (move === 'down') walk(1)
  else if ((move === 'left' || move === 'right') && active.value)
    activate(active.value.record, active.value.column + (move === 'right' ? 1 : -1))
}

async function clear() {
  const [row, field] = [activeRow.value, activeField.value]
  if (!row || !field || !mayEdit(row, field)) return
  try {
    await props.edit(props.table.id, row.id, field, { value: 'empty' }, row.cells[active.value?.column ?? -1]?.value ?? 'empty')
    await shown.value.refresh()
  } catch (error) {
    emit('trouble', saying(error))
  }
}

function keys(event: KeyboardEvent) {
  if (editing.value || event.altKey) return
  moves += 1
  const mod = event.ctrlKey || event.metaKey
  const page = Math.floor((scroller.value?.clientHeight ?? 400) / rowHeight.value) - 1
  const rows: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page }
  const columnsBy: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, Tab: event.shiftKey ? -1 : 1 }
  if (mod && event.key === '.') whyHere()
  else if (mod && event.key === 'Enter') {
    if (!event.shiftKey && active.value) emit('open', active.value.record)
    else return
  } else if (mod && (event.key === 'Home' || event.key === 'End')) walk(event.key === 'Home' ? -1e9 : 1e9)
  else if (mod) return
  else if (event.key in rows) walk(rows[event.key]!)
  else if (event.key in columnsBy && active.value) {
    const next = active.value.column + columnsBy[event.key]!
    // At the ends, Tab leaves the grid as it should.
    if (event.key === 'Tab' && (next < 0 || next >= columns.value.length)) return
    activate(active.value.record, next)
  } else if (event.key === 'Home' && active.value) activate(active.value.record, 0)
  else if (event.key === 'End' && active.value) activate(active.value.record, columns.value.length - 1)
  else if (event.key === 'Enter' || event.key === 'F2') begin()
  else if (event.key === 'Delete' || event.key === 'Backspace') void clear()
  else if (event.key.length === 1 && active.value) begin(event.key)
  else return
  event.preventDefault()
}

// The active cell stays in sight when it moves sideways.
watch(active, async () => {
  await nextTick()
  scroller.value?.querySelector('[data-active=true]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
})

function whyHere() {
  const box = scroller.value?.querySelector('[data-active=true]')?.getBoundingClientRect()
  if (activeRow.value && activeField.value && box) emit('why', activeRow.value, activeField.value, box.left, box.bottom)
}

function press(event: MouseEvent, row: Row, column: number) {
  moves += 1
  if (event.altKey) return emit('why', row, columns.value[column], event.clientX, event.clientY)
  if (narrow.value) return emit('open', row.id)
  if (active.value?.record === row.id && active.value.column === column && !editing.value) return begin()
  activate(row.id, column)
}

function toggle(key: string) {
  const next = new Set(closed.value)
  if (!next.delete(key)) next.add(key)
  closed.value = next
}

const groupField = computed(() => props.table.fields.find((f) => f.id === props.query.groups?.[0]?.field))
const menu = ref<{ x: number; y: number; row: Row; field: Field | undefined }>()

function rowMenu(event: MouseEvent, row: Row) {
  event.preventDefault()
  const name = event.target instanceof Element ? event.target.closest<HTMLElement>('[data-field]')?.dataset.field : undefined
  menu.value = { x: event.clientX, y: event.clientY, row, field: columns.value.find((f) => f.name === name) }
}

function whyFrom(field: Field | undefined) {
  const at = menu.value
  menu.value = undefined
  if (at) emit('why', at.row, field, at.x, at.y)
}

/** What the choice that a dependent one depends on holds, where that is on the screen. */
function ground(field: Field, row: Row): number | null | undefined {
  const on = field.kind.type === 'choice' ? field.kind.on : undefined
  const at = on == null ? -1 : columns.value.findIndex((f) => f.id === on)
  if (at < 0) return undefined
  const value = row.cells[at]?.value
  return typeof value === 'object' && 'choice' in value ? value.choice : null
}

const tallyNames: Record<string, string> = { sum: 'sum', average: 'average', least: 'least', most: 'most' }
const tallies = computed(() =>
  (props.query.tallies ?? []).map((tally, n) => ({
    field: tally.field,
    name: `${props.table.fields.find((f) => f.id === tally.field)?.name}: ${tallyNames[tally.figure]}`,
    text: answer.value?.tallies[n]?.text ?? '',
  })),
)
const formTitle = (row: Row) => (row.form ? `Came by a form` : undefined)
</script>

<template>
  <div class="frame">
    <div
      ref="scroller"
      class="scroller"
      role="grid"
      :aria-label="table.name"
      :aria-rowcount="layout.length + 1"
      :aria-colcount="columns.length"
      :aria-activedescendant="active ? `cell-${active.record}-${active.column}` : undefined"
      :class="{ active: !!active }"
      tabindex="0"
      data-test="grid"
      @keydown="keys"
    >
      <RowsHeadings
        v-if="!narrow"
        :columns="columns"
        :template="template"
        :width="width"
        :builds="!!currentTracker?.builds && !readonly"
        @formula="emit('formula', $event)"
        @compute="(what, after) => emit('compute', what, after)"
        @design="(field, what) => emit('design', field, what)"
      />
      <div class="body" role="rowgroup" :style="{ height: `${virtual.getTotalSize()}px`, width: narrow ? '100%' : `${width}px` }">
        <template v-for="one in lines" :key="one.key">
          <div
            v-if="one.line.type === 'group'"
            class="line group"
            role="row"
            :aria-rowindex="one.index + 2"
            :style="{ transform: `translateY(${one.top}px)`, height: `${one.size}px` }"
          >
            <div role="gridcell" :aria-colspan="columns.length">
              <button class="fold" :aria-expanded="!one.line.closed" tabindex="-1" @click="toggle(groupKey(one.line.group))">
                <span aria-hidden="true">{{ one.line.closed ? '▸' : '▾' }}</span>
                {{ one.line.group.texts[0] || `No ${groupField?.name.toLowerCase()}` }}
              </button>
              <span class="count">{{ one.line.group.count }} {{ one.line.group.count === 1 ? table.one : table.name.toLowerCase() }}</span>
              <span v-for="(tally, n) in one.line.group.tallies" :key="n" class="count"
                >{{ tallies[n]?.name.toLowerCase() }} {{ tally.text }}</span
              >
              <button v-if="groupField?.writes && table.adds && !readonly" class="add" tabindex="-1" @click="emit('add', one.line.index)"
                >+ {{ table.one }}</button
              >
            </div>
          </div>
          <div
            v-else
            class="line row"
            role="row"
            :aria-rowindex="one.index + 2"
            :aria-selected="one.row?.id === active?.record"
            :class="{ outside: one.row?.outside, here: one.row?.id === active?.record, loading: !one.row, narrow }"
            :style="{ transform: `translateY(${one.top}px)`, height: `${one.size}px`, gridTemplateColumns: narrow ? undefined : template }"
            @contextmenu="one.row && rowMenu($event, one.row)"
          >
            <template v-if="one.row">
              <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events -- the grid hears the keys of its cells -->
              <div
                v-for="(field, column) in columns"
                v-show="!narrow || column < 4"
                :id="`cell-${one.row.id}-${column}`"
                :key="field.id"
                role="gridcell"
                class="cell"
                :class="{ right: isRight(field) && !narrow, title: field.id === table.standing, number: field.kind.type === 'numbering' }"
                :data-field="field.name"
                :data-active="one.row.id === active?.record && column === active?.column"
                :aria-readonly="!mayEdit(one.row, field)"
                @mousedown.prevent="scroller?.focus()"
                @click="press($event, one.row, column)"
              >
                <CellEditor
                  v-if="editing && one.row.id === active?.record && column === active?.column"
                  :field="field"
                  :cell="one.row.cells[column]"
                  :start="editing.start"
                  :on="ground(field, one.row)"
                  :at="currentTracker && { tracker: currentTracker.id, table: table.id, record: one.row.id }"
                  :fault="editing.fault"
                  @commit="commit"
                  @cancel="cancel"
                />
                <PressButton
                  v-else-if="field.kind.type === 'button' && currentTracker"
                  :field="field"
                  :at="{ tracker: currentTracker.id, table: table.id, record: one.row.id }"
                  :may="!!one.row.change"
                />
                <span v-else-if="sending.typed(one.row.id, field.id)" class="underway">{{ sending.typed(one.row.id, field.id) }}</span>
                <span
                  v-else-if="sending.refusedAt(one.row.id, field.id)"
                  class="refused"
                  :title="sending.refusedAt(one.row.id, field.id)?.fault"
                >
                  <b aria-label="refused">!</b> {{ sending.refusedAt(one.row.id, field.id)?.start ?? one.row.cells[column]?.text }}
                </span>
                <CellText v-else :field="field" :cell="one.row.cells[column]" />
                <span
                  v-if="column === 0 && one.row.outside"
                  class="mark"
                  title="The view’s conditions leave this out; it stays until you move on"
                  >left out here</span
                >
                <span v-else-if="column === 0 && one.row.form" class="form-mark" :title="formTitle(one.row)" aria-label="came by a form"
                  >✉</span
                >
              </div>
            </template>
          </div>
        </template>
      </div>
      <p v-if="answer && !layout.length" class="nothing">
        {{
          answer.total
            ? `No ${table.one} fits. Press a phrase of the sentence above to change what is shown.`
            : `There are no ${table.name.toLowerCase()} yet.`
        }}
      </p>
    </div>
    <div class="tally" data-test="tally">
      <span
        ><b>{{ answer?.matching ?? '…' }}</b> {{ answer?.matching === 1 ? table.one : table.name.toLowerCase() }}</span
      >
      <span v-for="tally in tallies" :key="tally.field"
        >{{ tally.name.toLowerCase() }} <b>{{ tally.text }}</b></span
      >
      <span v-if="activePlace !== undefined" class="place">{{ activePlace + 1 }} of {{ answer?.row_count }}</span>
      <button v-if="active" class="open" data-test="open-folio" @click="emit('open', active.record)">Open folio</button>
    </div>
    <v-menu :model-value="!!menu" :target="menu ? [menu.x, menu.y] : undefined" @update:model-value="menu = undefined">
      <div v-if="menu" class="popup">
        <button @click="emit('open', menu.row.id)">Open folio <kbd>Ctrl Enter</kbd></button>
        <button v-if="menu.field" @click="whyFrom(menu.field)">Why is {{ menu.field.name }} like this? <kbd>Ctrl .</kbd></button>
        <button @click="whyFrom(undefined)">Why is it in this view?</button>
        <button v-if="menu.row.remove && !readonly" @click="emit('remove', menu.row)">Put into the bin</button>
      </div>
    </v-menu>
  </div>
</template>

<style scoped>
.underway {
  color: var(--quiet);
}
.refused {
  color: var(--fault);
}
.frame {
  display: flex;
  flex-direction: column;
  min-height: 0;
  flex: 1;
  border: 1px solid var(--line);
}
.scroller {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  position: relative;
  outline-offset: -2px;
}
/* The active cell shows the focus; a frame around everything would say it twice. */
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
.row {
  display: grid;
  grid-template-rows: 100%;
  border-bottom: 1px solid color-mix(in srgb, var(--line) 60%, transparent);
}
.cell {
  padding: 0 10px;
  line-height: 32px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 13.5px;
  cursor: default;
  position: relative;
}
.cell :deep(.choice) {
  line-height: 1;
  padding-block: 3px;
}
.cell:has(.editor) {
  padding: 0;
  line-height: 1.4;
}
.number {
  color: var(--quiet);
}
.right {
  text-align: right;
}
.here .cell {
  background: var(--moss-soft);
}
.cell[data-active='true'] {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
.outside .cell:first-child {
  box-shadow: inset 3px 0 var(--copper);
}
.mark {
  margin-left: 6px;
  font-size: 11.5px;
  color: var(--copper);
}
.form-mark {
  margin-left: 5px;
  color: var(--quiet);
  font-size: 11px;
}
.group > div {
  height: 100%;
  display: flex;
  align-items: center;
  gap: var(--gap-3);
  background: var(--stone);
  border-bottom: 1px solid var(--line);
  padding: 0 8px;
}
.fold {
  border: 0;
  background: none;
  font-weight: 600;
  cursor: pointer;
  padding: 0;
}
.fold span {
  color: var(--quiet);
  display: inline-block;
  width: 14px;
}
.count {
  color: var(--quiet);
  font-size: 13px;
}
.add {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
}
.nothing {
  padding: 28px;
  color: var(--quiet);
  font: 16px/1.5 var(--serif);
  position: sticky;
  left: 0;
  max-width: 620px;
}
.tally {
  display: flex;
  gap: var(--gap-5);
  background: var(--stone);
  border-top: 1px solid var(--line-strong);
  color: var(--quiet);
  font-size: 12.5px;
  padding: 5px 10px;
  align-items: center;
}
.tally b {
  color: var(--ink);
  font-weight: 600;
}
.place {
  margin-left: auto;
}
.open {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  text-decoration: underline;
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
}
.row.narrow .cell {
  padding: 0;
  line-height: 1.5;
  outline: 0;
  font-size: 13px;
  max-width: 100%;
}
.row.narrow .cell.title {
  flex-basis: 100%;
  font-weight: 600;
  font-size: 14.5px;
  order: -1;
}
</style>
