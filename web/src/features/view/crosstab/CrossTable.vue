<script setup lang="ts">
// A view as a cross-tab: totals first, then what they are made of. Wires only: how it is drawn and walked is crossing.ts, what is
// read is crossed.ts.
import { computed, nextTick, ref, shallowRef, toRef, watch } from 'vue'
import { useClipboard, useMediaQuery } from '@vueuse/core'
import type { Condition, CrossShape, Field, Query, Table } from '@/api/types'
import NothingFits from '../NothingFits.vue'
import { usePicked } from '../picked'
import type { Shown } from '../window'
import CellComb from './CellComb.vue'
import CrossBehind from './CrossBehind.vue'
import { useCrossed } from './crossed'
import { asLines, huesOf, leadsWithFigure, oversOf, partOf, readsOf, walked, type Spot } from './crossing'

const props = defineProps<{
  tracker: number
  table: Table
  fields: Field[]
  window: Shown
  query: Query
  shape: CrossShape
}>()
const emit = defineEmits<{
  open: [record: number]
  /** The records of a cell alone, as rows. */
  rows: [only: Condition]
  drop: [at: string]
}>()

const board = ref<HTMLElement>()
const spot = shallowRef<Spot>({ row: 0, column: 0 })
const opened = ref(false)
const tracker = toRef(props, 'tracker')
const tableId = computed(() => props.table.id)
const { crossed, behind, trouble } = useCrossed({ tracker, table: tableId, query: toRef(props, 'query'), spot })
const picked = usePicked(() => ({ tracker: props.tracker, table: props.table.id }))
const { copy } = useClipboard({ legacy: true })
const said = ref('')
const phone = useMediaQuery('(max-width: 700px)')

const answer = computed(() => props.window.answer.value)
const byFigure = computed(() => leadsWithFigure(props.shape, props.query.tallies ?? []))
const within = computed(() => props.table.fields.find((field) => field.id === props.shape.within))
const hues = computed(() => huesOf(crossed.value?.within ?? [], within.value))
const hueByText = computed(() => new Map((crossed.value?.within ?? []).map((part, n) => [part.text, hues.value[n]!])))
const deep = computed(() => crossed.value?.columns.some((head) => head.depth === 2) ?? false)
const overs = computed(() => oversOf(crossed.value?.columns ?? []))
/** Under the head of an outer value stands its own column first. */
const headText = (column: number) => {
  const head = crossed.value?.columns[column]
  return deep.value && head?.depth !== 2 ? (column === 0 ? '' : 'all') : (head?.text ?? '')
}
const isAt = (row: number, column: number) => spot.value.row === row && spot.value.column === column
const heat = (row: number, column: number) =>
  props.shape.heat && row && column ? partOf(crossed.value?.cells[row]?.[column], crossed.value?.most) : 0
const drawnPart = (row: number, column: number) => {
  const now = crossed.value
  const cell = now?.cells[row]?.[column]
  // Totals have a scale of their own: the longest of them, but for the total of all.
  const totals = row === 0 ? (now?.cells[0]?.slice(1) ?? []) : (now?.cells.slice(1).map((cells) => cells[0]) ?? [])
  const most = row && column ? now?.most : Math.max(0, ...totals.map((one) => Number(one?.lead ?? 0)))
  return row === 0 && column === 0 ? 0 : partOf(cell, most)
}

function go(row: number, column: number, open = false) {
  if (!isAt(row, column)) spot.value = { row, column }
  if (open) opened.value = true
}
const cellAt = ({ row, column }: Spot) => board.value?.querySelector<HTMLElement>(`[data-spot="${row} ${column}"]`)

function key(event: KeyboardEvent) {
  if (!crossed.value || event.altKey) return
  const mod = event.ctrlKey || event.metaKey
  if (event.key === 'Enter' || event.key === ' ') {
    event.preventDefault()
    opened.value = true
    return
  }
  if (event.key === 'Escape' && opened.value) return close()
  const to = walked(crossed.value, spot.value, event.key, mod)
  if (!to) return
  event.preventDefault()
  go(to.row, to.column)
  void nextTick(() => cellAt(to)?.focus())
}

const copied = () => (said.value = `Copied: ${crossed.value?.rows.length} rows of ${crossed.value?.columns.length} columns.`)
async function copyAll() {
  if (!crossed.value) return
  await copy(asLines(crossed.value, byFigure.value))
  copied()
}
/** By the browser’s own keys: the whole of it, unless some words are marked. */
function take(event: ClipboardEvent) {
  if (!crossed.value || window.getSelection()?.toString()) return
  event.preventDefault()
  event.clipboardData?.setData('text/plain', asLines(crossed.value, byFigure.value))
  copied()
}

function close() {
  opened.value = false
  focus()
}
watch([opened, behind], async ([now, told], [was]) => {
  if (!now || was || !told || !phone.value) return
  await nextTick()
  board.value?.querySelector<HTMLElement>('[data-test=close-behind]')?.focus()
})
watch(said, () => setTimeout(() => (said.value = ''), 4000))
function focus() {
  void nextTick(() => (cellAt(spot.value) ?? board.value)?.focus())
}

defineExpose({
  box: () => board.value?.getBoundingClientRect(),
  goTo: () => Promise.resolve(),
  goToPlace: focus,
  goToField: () => Promise.resolve(),
  focus,
  walk: () => undefined,
  groupHere: () => undefined,
  copyAll,
})
</script>

<template>
  <div ref="board" class="cross" :class="{ opened: opened && behind }">
    <div class="main">
      <p v-if="trouble" class="fault-text" role="alert" data-test="cross-trouble">{{ trouble }}</p>
      <NothingFits v-else-if="answer && answer.matching === 0" :table="table" :answer="answer" @drop="emit('drop', $event)" />
      <template v-else-if="crossed">
        <ul v-if="crossed.within.length" class="legend" data-test="legend">
          <li v-for="(part, n) in crossed.within" :key="part.text">
            <svg width="15" height="13" aria-hidden="true">
              <path d="M1 1v12M5 1v12M9 1v12M13 1v12M0 1.5h14" :style="{ stroke: hues[n] }" />
            </svg>
            <span
              ><b>{{ part.count }}</b> {{ [part.text, ...part.figures.map((one) => one.text)].filter(Boolean).join(', ') }}</span
            >
          </li>
          <li class="quiet per">{{ crossed.stroke_says }}</li>
        </ul>
        <div class="sheet">
          <table role="grid" :aria-label="`${table.name}, as a cross-tab`" @keydown="key" @copy="take">
            <thead>
              <tr v-if="deep" class="overs">
                <th scope="col" class="name" />
                <th v-for="over in overs" :key="over.column" :colspan="over.span" scope="colgroup">{{ over.text }}</th>
              </tr>
              <tr>
                <th scope="col" class="name"><span class="unseen">by</span></th>
                <th
                  v-for="(head, column) in crossed.columns"
                  :key="column"
                  scope="col"
                  :class="{ total: column === 0, here: column && spot.column === column, thin: column && !head.count }"
                  >{{ headText(column) }}</th
                >
              </tr>
            </thead>
            <tbody>
              <tr
                v-for="(head, row) in crossed.rows"
                :key="row"
                :class="{ all: row === 0, here: row && spot.row === row, thin: row && !head.count, inner: head.depth === 2 }"
              >
                <th scope="row" class="name">{{ head.text }}<span v-if="row === 0" class="quiet">share of all</span></th>
                <td
                  v-for="(column, at) in crossed.columns"
                  :key="at"
                  role="gridcell"
                  :data-spot="`${row} ${at}`"
                  :tabindex="isAt(row, at) ? 0 : -1"
                  :aria-selected="isAt(row, at)"
                  :class="{
                    total: at === 0,
                    here: at && spot.column === at,
                    pressed: isAt(row, at),
                    thin: at && !column.count,
                    sub: column.depth === 1 && deep,
                  }"
                  :style="heat(row, at) ? { '--heat': `${Math.round(heat(row, at) * 70)}%` } : undefined"
                  @click="go(row, at, true)"
                  @focus="go(row, at)"
                >
                  <template v-if="crossed.cells[row]?.[at]">
                    <span class="reads">
                      <b>{{ readsOf(crossed.cells[row]![at]!, byFigure).lead }}</b>
                      <span v-if="crossed.cells[row]![at]!.share" class="share">{{ crossed.cells[row]![at]!.share }}</span>
                      <span v-for="(other, n) in readsOf(crossed.cells[row]![at]!, byFigure).others" :key="n" class="other">{{
                        other
                      }}</span>
                    </span>
                    <CellComb
                      v-if="row && !phone"
                      :within="crossed.cells[row]![at]!.within ?? []"
                      :hues="hues"
                      :each="crossed.stroke"
                      :part="drawnPart(row, at)"
                    />
                  </template>
                  <span v-else class="quiet none">{{
                    row && !head.count && at === 0 ? 'none' : head.count && column.count ? '–' : ''
                  }}</span>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <div v-if="behind" class="words" aria-live="polite" data-test="cross-words">
          <p class="says"
            ><b>{{ behind.title }}:</b> {{ behind.says }} <span class="quiet hint">Arrows walk, Enter opens.</span></p
          >
          <dl>
            <template v-if="behind.along">
              <dt>along the row</dt>
              <dd>{{ behind.along }}</dd>
            </template>
            <template v-if="behind.down">
              <dt>down the column</dt>
              <dd>{{ behind.down }}</dd>
            </template>
          </dl>
        </div>
        <p class="tally" data-test="cross-foot"
          ><span v-for="one in crossed.foot" :key="one">{{ one }}</span>
          <button type="button" class="link" data-test="cross-copy" @click="copyAll">Copy</button>
          <span role="status" class="quiet">{{ said }}</span></p
        >
      </template>
    </div>
    <CrossBehind
      v-if="opened && behind"
      :behind="behind"
      :fields="fields"
      :standing="table.standing"
      :one="table.one"
      :hues="hueByText"
      @open="emit('open', $event)"
      @rows="behind.only && emit('rows', behind.only)"
      @pick="picked.take"
      @close="close"
    />
  </div>
</template>

<style scoped>
.cross {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--gap-4);
}
.cross.opened {
  grid-template-columns: minmax(0, 1fr) minmax(240px, 290px);
}
.main {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--gap-5);
  list-style: none;
  margin: 0 0 var(--gap-2);
  padding: 0;
  font-size: 13px;
}
.legend li {
  display: flex;
  gap: 8px;
  align-items: center;
}
.legend path {
  fill: none;
  stroke-width: 2;
}
.per {
  margin-left: auto;
}
.sheet {
  overflow: auto;
  min-height: 120px;
  flex: 0 1 auto;
}
table {
  border-collapse: separate;
  border-spacing: 0;
  min-width: 100%;
  font-size: 13px;
  line-height: 1.3;
}
th {
  text-align: left;
  font-weight: 600;
  vertical-align: top;
}
thead {
  position: sticky;
  top: 0;
  z-index: 3;
  background: var(--stone);
}
thead th {
  padding: 2px 8px 4px;
  color: var(--quiet);
  white-space: nowrap;
  background: var(--stone);
}
thead tr:last-child th {
  border-bottom: 2px solid var(--line-strong);
}
.overs th {
  border-left: 1px solid var(--line);
}
.name {
  position: sticky;
  left: 0;
  z-index: 2;
  min-width: 110px;
  max-width: 180px;
  padding: 6px 12px 6px 0;
  background: var(--stone);
}
.name .quiet {
  display: block;
  font-weight: 400;
}
.inner .name {
  font-weight: 400;
  padding-left: 16px;
}
td {
  padding: 4px 8px 6px;
  min-width: 92px;
  vertical-align: top;
  cursor: pointer;
  border: 1px solid transparent;
  border-bottom-color: var(--line);
  background: color-mix(in srgb, var(--slate) calc(var(--heat, 0%) * 0.45), transparent);
}
tbody th {
  border-bottom: 1px solid var(--line);
}
.all th,
.all td {
  border-bottom: 2px solid var(--line-strong);
}
td.total {
  min-width: 150px;
  border-right-color: var(--line-strong);
}
.sub b {
  font-weight: 700;
}
th.thin,
td.thin {
  min-width: 54px;
  font-weight: 400;
  color: var(--quiet);
}
tr.thin th,
tr.thin td {
  padding-block: 2px;
  font-weight: 400;
  color: var(--quiet);
}
tbody .here > td,
tbody td.here,
tbody .here > .name {
  background: var(--moss-soft);
}
thead .here,
tbody .here > .name {
  color: var(--moss);
}
tbody td.pressed {
  background: var(--sheet);
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
tbody td.pressed:focus-visible {
  outline-width: 3px;
  outline-offset: -3px;
  box-shadow: 0 0 0 2px var(--moss-soft);
}
.reads {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 8px;
  font-variant-numeric: tabular-nums;
}
.reads b {
  font: 600 17px/1.3 var(--serif);
}
.share,
.other {
  color: var(--quiet);
}
.other {
  margin-left: auto;
}
.words {
  padding-top: var(--gap-2);
}
.says {
  margin: 0;
  font: 16px/1.45 var(--serif);
}
.hint {
  font: 13px/1.4 var(--sans);
}
dl {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 0 var(--gap-4);
  margin: 2px 0 0;
  font-size: 13px;
}
dt {
  font: italic 14px/1.5 var(--serif);
  color: var(--quiet);
}
dd {
  margin: 0;
  line-height: 1.6;
}
.tally {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--gap-5);
  margin: auto 0 0;
  padding: 8px 0 4px;
  border-top: 1px solid var(--line-strong);
  font-size: 13px;
}
.tally .link {
  margin: -5px 0 0 auto;
}
@media (max-width: 700px) {
  .cross.opened {
    grid-template-columns: minmax(0, 1fr);
    overflow-y: auto;
  }
  .cross.opened .main {
    display: none;
  }
  .behind {
    padding: 0;
    border: 0;
  }
  .sheet {
    flex: none;
    max-height: 60dvh;
  }
  .main {
    overflow-y: auto;
  }
  .name {
    min-width: 84px;
    max-width: 104px;
    padding-right: 6px;
  }
  td {
    min-width: 72px;
    min-height: 44px;
  }
  td.total {
    min-width: 84px;
  }
  .hint {
    display: none;
  }
}
@media print {
  .cross,
  .main,
  .sheet {
    display: block;
    overflow: visible;
  }
  thead,
  .name {
    position: static;
  }
  .tally .link,
  .hint,
  .behind {
    display: none;
  }
}
</style>
