<script setup lang="ts">
// A view as a catalogue of plates, under the heads of its groups. Wires only: how they lie is cards.ts.
import { computed, nextTick, ref, toRef, watch } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useElementSize } from '@vueuse/core'
import type { CardsShape, Field, Input, Query, Row, Table, Value } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import { grouping, isTaken } from '../adding'
import { useCells } from '../cells'
import { Layout, type Head } from '../layout'
import { measured } from '../measured'
import { boardKey } from '../lanes/keys'
import NothingFits from '../NothingFits.vue'
import type { Shown } from '../window'
import { usePicked } from '../picked'
import CardPlate from './CardPlate.vue'
import { acrossOf, Catalogue } from './cards'

const props = defineProps<{
  tracker: number
  table: Table
  fields: Field[]
  window: Shown
  query: Query
  shape: CardsShape
  edit: (table: number, record: number, field: Field, input: Input, was: Value | undefined) => Promise<unknown>
  left: (record: number) => Promise<unknown>
  readonly: boolean
}>()
const emit = defineEmits<{
  moved: [record: number | undefined]
  open: [record: number]
  add: [head: Head | undefined]
  remove: [row: Row]
  trouble: [words: string]
  why: [row: Row, field: Field | undefined, x: number, y: number]
  drop: [at: string]
  gone: [record: number]
}>()

const scroller = ref<HTMLElement>()
const shown = toRef(props, 'window')
const answer = computed(() => shown.value.answer.value)
const columns = computed(() => props.fields)
const { width: room } = useElementSize(scroller)
const across = computed(() => acrossOf(Math.max(0, room.value - 16), props.shape.size ?? 'middle'))
const catalogue = computed(() => new Catalogue(answer.value?.groups ?? [], answer.value?.row_count ?? 0, across.value))
const layout = computed(() => new Layout(answer.value?.groups ?? [], answer.value?.row_count ?? 0, new Set()))

const virtual = useVirtualizer(
  computed(() => ({
    count: catalogue.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: (line: number) => (catalogue.value.at(line).type === 'head' ? 44 : 300),
    measureElement: measured,
    overscan: 2,
  })),
)
watch(catalogue, () => virtual.value.measure())
const measure = (element: unknown) => element instanceof HTMLElement && virtual.value.measureElement(element)
const lines = computed(() =>
  virtual.value.getVirtualItems().flatMap((item) => {
    if (item.index >= catalogue.value.length) return []
    return [{ key: String(item.key), index: item.index, top: item.start, line: catalogue.value.at(item.index) }]
  }),
)
const rowsOf = (place: number, count: number) => Array.from({ length: count }, (_, n) => shown.value.rows.value.get(place + n))
watch(lines, (now) => {
  const cards = now.flatMap(({ line }) => (line.type === 'cards' ? [line] : []))
  if (cards.length) shown.value.show({ first: cards[0]!.place, last: cards.at(-1)!.place + cards.at(-1)!.count - 1 })
})

const focus = () => scroller.value?.focus()
const { at, cells } = useCells({
  props,
  columns,
  layout,
  reveal: (line) => {
    const found = layout.value.at(line)
    const to = found.type === 'row' ? catalogue.value.lineOf(found.place) : undefined
    if (to !== undefined) virtual.value.scrollToIndex(to, { align: 'auto' })
  },
  focus,
  say: {
    moved: (record) => emit('moved', record),
    open: (record) => emit('open', record),
    trouble: (words) => emit('trouble', words),
    gone: (record) => emit('gone', record),
  },
})

function press(event: MouseEvent, row: Row, column: number) {
  cells.moved()
  if (event.altKey) return emit('why', row, columns.value[column], event.clientX, event.clientY)
  const here = at.cell.value?.record === row.id && at.column.value === column
  if (here && !cells.editing.value) return cells.begin()
  at.toCell(row.id, column)
  focus()
}

const last = () => (answer.value?.row_count ?? 1) - 1
const place = () => at.place.value
function step(by: number) {
  const now = place()
  if (now === undefined) return at.toPlace(0, 0)
  if (!Number.isFinite(by)) return at.toPlace(by < 0 ? 0 : last())
  let to = now
  for (let n = 0; n < Math.abs(by); n++) to = catalogue.value.beside(to, by)
  at.toPlace(to)
}

const picked = usePicked(() => ({ tracker: props.tracker, table: props.table.id }))
const activeBox = () => scroller.value?.querySelector('[data-active=true]')?.getBoundingClientRect()
const menu = ref<{ x: number; y: number; row: Row }>()
function keys(event: KeyboardEvent) {
  if (cells.editing.value || event.target !== scroller.value) return
  cells.moved()
  const meant = boardKey(event, {
    step,
    sideways: (by) => at.toPlace(Math.max(0, Math.min(last(), (place() ?? -by) + by))),
    shift: () => undefined,
    field: (by) => {
      const next = at.column.value + by
      if (next < 0 || next >= columns.value.length) return false
      at.sideways(next)
      return true
    },
    begin: cells.begin,
    clear: () => void cells.clear(),
    choose: () => at.row.value && picked.turn([at.row.value.id]),
    open: () => at.row.value && emit('open', at.row.value.id),
    why: () => {
      const [row, field, box] = [at.row.value, at.field.value, activeBox()]
      if (row && field && box) emit('why', row, field, box.left, box.bottom)
    },
    menu: () => {
      const [row, box] = [at.row.value, activeBox()]
      if (row && box) menu.value = { x: box.left, y: box.bottom, row }
    },
    leave: () => undefined,
    isAtOne: () => !!at.cell.value,
  })
  if (meant) event.preventDefault()
}
watch(at.active, async () => {
  await nextTick()
  scroller.value?.querySelector('[data-active=true]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
})
function choices(does: (row: Row, spot: { x: number; y: number }) => void) {
  const now = menu.value
  menu.value = undefined
  if (now) does(now.row, now)
}

const { figureWord } = useVocabulary()
const levels = computed(() => grouping(props.query).map((by) => ({ by, field: props.table.fields.find((f) => f.id === by.field) })))
const takes = (head: Head) =>
  props.table.adds && !props.readonly && levels.value.every(({ by }) => isTaken(by, props.table)) && !head.group.within.length
const tallies = computed(() =>
  (props.query.tallies ?? []).map(
    (tally) => `${props.table.fields.find((f) => f.id === tally.field)?.within}: ${figureWord(tally.figure)}`,
  ),
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
  const line = catalogue.value.lineOf(place)
  if (line !== undefined) virtual.value.scrollToIndex(line, { align: 'auto' })
  at.inSight()
  if (takesKeys) focus()
}
defineExpose({
  goTo,
  goToPlace: (to: number) => {
    if (to >= 0) at.toPlace(to)
    focus()
  },
  goToField: async () => undefined,
  focus,
  walk: (by: number) => at.toPlace(Math.max(0, Math.min(last(), (place() ?? -by) + by))),
  groupHere: () => {
    const now = place()
    const found = now === undefined ? undefined : layout.value.lineOf(now)
    return found === undefined ? undefined : layout.value.at(found).head
  },
  box: () => scroller.value?.getBoundingClientRect(),
})
</script>

<template>
  <div ref="scroller" class="catalogue" role="group" :aria-label="`${table.name} as cards`" tabindex="0" data-test="cards" @keydown="keys">
    <div class="body" :style="{ height: `${virtual.getTotalSize()}px` }">
      <div
        v-for="one in lines"
        :key="one.key"
        :ref="measure"
        :data-index="one.index"
        class="line"
        :style="{ transform: `translateY(${one.top}px)` }"
      >
        <header v-if="one.line.type === 'head'" :class="`level-${one.line.head.path.length}`">
          <h2>{{ one.line.head.group.text || `No ${levels[one.line.head.path.length - 1]?.field?.within ?? ''}` }}</h2>
          <span>{{ one.line.head.group.counted }}</span>
          <span v-for="(tally, n) in one.line.head.group.tallies" :key="n"
            >{{ tallies[n] }} <b>{{ tally.text || '–' }}</b></span
          >
          <button v-if="takes(one.line.head)" type="button" class="link" @click="emit('add', one.line.head)">+ {{ table.one }}</button>
        </header>
        <div v-else class="cards" :style="{ '--across': across }">
          <template v-for="(row, n) in rowsOf(one.line.place, one.line.count)" :key="row?.id ?? `place ${one.line.place + n}`">
            <CardPlate
              v-if="row"
              :row="row"
              :picked="picked.holds(row.id)"
              :table="table"
              :tracker="tracker"
              :columns="columns"
              :at="at"
              :cells="cells"
              :longest="answer?.longest == null ? undefined : Number(answer.longest)"
              :shape="shape"
              :readonly="readonly"
              @press="(event, column) => picked.pressed(event, row.id) || press(event, row, column)"
              @focus="focus"
              @open="emit('open', row.id)"
              @contextmenu.prevent="menu = { x: $event.clientX, y: $event.clientY, row }"
            />
            <div v-else class="loading" aria-busy="true" />
          </template>
        </div>
      </div>
    </div>
    <NothingFits v-if="answer && !catalogue.length" :answer="answer" :table="table" @drop="emit('drop', $event)" />
    <PopupMenu :at="menu" :label="`What can be done with this ${table.one}`" @close="menu = undefined">
      <button @click="choices((row) => emit('open', row.id))">Open folio <kbd>Ctrl Enter</kbd></button>
      <button @click="choices((row) => picked.turn([row.id]))"
        >{{ menu && picked.holds(menu.row.id) ? 'Let go of it' : 'Choose it' }} <kbd>Ctrl Space</kbd></button
      >
      <button @click="choices((row, { x, y }) => emit('why', row, undefined, x, y))">Why is it in this view?</button>
      <button v-if="menu?.row.remove && !readonly" @click="choices((row) => emit('remove', row))">Put into the bin</button>
    </PopupMenu>
  </div>
</template>

<style scoped>
.catalogue {
  flex: 1;
  min-height: 240px;
  overflow: hidden auto;
  padding: 6px 8px;
  outline-offset: 2px;
}
.body {
  position: relative;
}
.line {
  position: absolute;
  inset: 0 0 auto;
}
header {
  display: flex;
  align-items: baseline;
  border-top: 1px solid var(--line-strong);
  padding: 6px 0 10px;
  flex-wrap: wrap;
  gap: 2px var(--gap-4);
  font-size: 13px;
  color: var(--quiet);
}
header b {
  color: var(--ink);
  font-weight: 600;
}
h2 {
  font: 600 19px/1.3 var(--serif);
  color: var(--ink);
  margin: 0;
}
.level-2 h2 {
  font-size: 16px;
}
.level-3 h2 {
  font-size: 14.5px;
}
.cards {
  display: grid;
  grid-template-columns: repeat(var(--across), minmax(0, 1fr));
  gap: var(--gap-5) 24px;
  padding-bottom: var(--gap-4);
}
.loading {
  aspect-ratio: 16 / 14;
  background: color-mix(in srgb, var(--line) 30%, transparent);
}
</style>
