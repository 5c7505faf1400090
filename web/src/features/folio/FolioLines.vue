<script setup lang="ts">
// The records of a link as lines within their parent's folio: entered, changed and taken out here, with totals beneath.
import { computed, nextTick, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { saying, theirsOf } from '@/api/client'
import type { Field, Input, Query, QueryReply, RecordList, Row, Table, Value } from '@/api/types'
import { useDoing } from '@/app/asking'
import CellEditor, { type Move } from '@/features/cell/CellEditor.vue'
import { pasted } from '@/features/view/block'
import CellText from '@/features/cell/CellText.vue'
import { editor, isKept, isRight } from '@/features/cell/kinds'
import { touches, useChanges } from '@/features/tracker/tracker'
import { blockOver, movedLine, nextCell, shifted } from './lines'
import type { LinesKept } from './linesKept'

/** What is read as one word: on a phone the list scrolls sooner than it breaks them. */
const WHOLE: Field['shows']['type'][] = ['numbering', 'date', 'number', 'money', 'percent']

const props = defineProps<{
  kept: LinesKept
  /** The link whose records these are. */
  field: Field
  /** The table of the lines. */
  lines: Table
  /** What is listed of them, where somebody said. */
  listed?: RecordList
  change: boolean
}>()
const emit = defineEmits<{ changed: [] }>()

const MOST = 8
const NUMBERS = ['number', 'money', 'duration']
const answer = ref<QueryReply>()
const rows = computed(() => answer.value?.slices[0]?.rows ?? [])
/** What is being edited, and what stood there when one began. */
const editing = ref<{ row: number; field: number; was?: Value; fault?: string }>()
const doing = useDoing()
const { trouble } = doing
const adder = ref<HTMLButtonElement>()
/** The line that was edited last. */
let last: number | undefined

const back = computed(() => (props.field.kind.type === 'link' ? props.field.kind.back : 0))
const isField = (field: Field | undefined): field is Field => !!field
const shown = computed(() =>
  props.listed ? props.listed.shows.map((id) => props.lines.fields.find((f) => f.id === id)).filter(isField) : usual.value,
)
const usual = computed(() =>
  props.lines.fields
    .filter((f) => f.id !== back.value && !isKept(f) && f.id !== (f.kind.type === 'calculation' ? props.lines.standing : 0))
    .slice(0, MOST),
)
const summed = computed(() =>
  props.listed
    ? shown.value.filter((f) => props.listed!.figures.some((one) => one.field === f.id))
    : shown.value.filter((f) => NUMBERS.includes(f.shows.type) && !f.copies),
)
const query = computed<Query>(() => ({
  ...(props.kept.condition ? { condition: props.kept.condition } : {}),
  fields: shown.value.map((f) => ({ field: f.id, width: 100 })),
  sorts: props.listed?.by ? [{ field: props.listed.by, descending: props.listed.descending }] : [],
  tallies: summed.value.map((f) => ({ field: f.id, figure: 'sum' })),
}))
const total = (field: Field) => answer.value?.tallies[summed.value.indexOf(field)]?.text
// What is only listed is linked, and not made here.
const adds = computed(() => props.change && props.lines.adds && props.field.writes && props.field.lines)
const drops = computed(() => props.change && props.field.lines)

async function read() {
  const body = { query: query.value, slices: [{ start: 0, count: 200 }], keep: [] }
  const found = await doing.newest(() => props.kept.read(body))
  if (found) answer.value = found
}
watch(
  () => JSON.stringify([props.kept.key, query.value]),
  () => void read(),
  { immediate: true },
)
useChanges(
  () => void read(),
  (heard) => touches(answer.value?.of)(heard),
)

const attempt = (work: () => Promise<unknown>) =>
  doing.attempt(async () => {
    await work()
    await read()
    emit('changed')
  })

const add = () =>
  attempt(async () => {
    const made = await props.kept.add()
    const first = shown.value.find((f) => editor(f))
    if (made && first) editing.value = { row: made, field: first.id }
  })

const valueOf = (row: Row, field: Field): Value => row.cells[shown.value.indexOf(field)]?.value ?? 'empty'

/** Where one goes on from a cell: along its line, to the next line, and behind the last to a new one. */
function goOn(row: Row, field: Field, move: Move | undefined) {
  const typedInto = shown.value.filter((one) => editor(one))
  const next = nextCell(
    rows.value.map((one) => one.id),
    typedInto.map((one) => one.id),
    { row: row.id, field: field.id },
    move,
  )
  if (next === 'new') return adds.value ? void add() : undefined
  // Whoever has finished is where the next line is added.
  if (!next && move === 'down') return void nextTick(() => adder.value?.focus())
  const to = rows.value.find((one) => one.id === next?.row)
  if (next && to)
    begin(
      to,
      typedInto.find((one) => one.id === next.field)!,
    )
}

async function commit(row: Row, field: Field, input: Input, move?: Move) {
  const mine = editing.value
  const was = mine?.row === row.id && mine.field === field.id && mine.was ? mine.was : valueOf(row, field)
  try {
    await props.kept.edit(row.id, field.id, input, was)
    // Whoever went on to another cell meanwhile stays there.
    const stays = editing.value === mine
    if (stays) editing.value = undefined
    await read()
    if (stays && !editing.value) goOn(row, field, move)
    emit('changed')
  } catch (error) {
    editing.value = { row: row.id, field: field.id, fault: saying(error), was: theirsOf(error) ?? was }
  }
}

// A line that was begun is left when one goes on to another, or away.
function leave(id: number | undefined) {
  if (id !== undefined && rows.value.some((row) => row.id === id && row.begun)) void props.kept.left(id)
}
watch(
  () => editing.value?.row,
  (now, was) => now !== undefined && now !== was && leave(was ?? last),
)
watch(editing, (now) => now && (last = now.row))
onBeforeUnmount(() => leave(last))

/** Left as it was. An editor that has gone already leaves no other. */
function cancel(row: Row, field: Field, move?: Move) {
  if (editing.value?.row !== row.id || editing.value.field !== field.id) return
  editing.value = undefined
  goOn(row, field, move)
}

/** A block is put over the lines from the cell that one is in, or under the last; what goes beyond them becomes new lines. */
function paste(event: ClipboardEvent) {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\t\n]/.test(text.trim()) || !props.change) return
  event.preventDefault()
  event.stopPropagation()
  const from = editing.value
  editing.value = undefined
  const block = blockOver(
    pasted(text, event.clipboardData?.getData('text/html') ?? ''),
    { rows: rows.value.map((row) => row.id), fields: shown.value },
    from,
    props.kept.link,
    !!adds.value,
  )
  if (block) void attempt(() => props.kept.put(block))
}

// Where they stand by a field, nothing is put by hand.
const orders = computed(() => drops.value && !props.listed?.by && rows.value.length > 1)
const body = useTemplateRef<{ $el: HTMLElement }>('body')

/** They stand in another order: shown at once, and kept. */
function arrange(order: number[]) {
  const moved = movedLine(
    rows.value.map((row) => row.id),
    order,
  )
  const slice = answer.value?.slices[0]
  if (!moved || !slice) return
  slice.rows = order.flatMap((id) => slice.rows.find((row) => row.id === id) ?? [])
  void attempt(async () => {
    try {
      await props.kept.place(moved.line, moved.spot, order)
    } catch (error) {
      // What is not kept does not stay on the screen either.
      await read()
      throw error
    }
  })
}

/** By its handle a line goes up and down, and the keys with it. */
function shift(row: Row, by: -1 | 1) {
  const order = shifted(
    rows.value.map((one) => one.id),
    row.id,
    by,
  )
  if (!order) return
  arrange(order)
  const place = order.indexOf(row.id)
  void nextTick(() => body.value?.$el.querySelectorAll<HTMLElement>('.grip')[place]?.focus())
}

const drop = (row: Row) => attempt(() => props.kept.remove([row.id]))
const begin = (row: Row, field: Field) => {
  if (props.change && row.change && editor(field)) editing.value = { row: row.id, field: field.id, was: valueOf(row, field) }
}
</script>

<template>
  <section class="lines" :data-lines="field.name" @paste="paste">
    <h3>
      {{ field.name }} <span class="quiet">{{ answer?.matching ?? '' }}</span>
    </h3>
    <div class="scroll" tabindex="0" role="region" :aria-label="field.name">
      <table>
        <thead>
          <tr>
            <th class="nth"><span class="unseen">Line</span></th>
            <th v-for="one in shown" :key="one.id" :class="{ right: isRight(one) }">{{ one.name }}</th>
            <th v-if="drops" class="end" />
          </tr>
        </thead>
        <VueDraggable
          ref="body"
          tag="tbody"
          :model-value="rows"
          handle=".grip"
          :animation="120"
          @update:model-value="(now: Row[]) => arrange(now.map((row) => row.id))"
        >
          <tr v-for="(row, place) in rows" :key="row.id">
            <td class="nth quiet">
              <button
                v-if="orders"
                type="button"
                class="grip"
                :aria-label="`Move line ${place + 1}; arrow keys move it`"
                @keydown.up.prevent="shift(row, -1)"
                @keydown.down.prevent="shift(row, 1)"
                >{{ place + 1 }}</button
              >
              <template v-else>{{ place + 1 }}</template>
            </td>
            <td
              v-for="(one, n) in shown"
              :key="one.id"
              :class="{ right: isRight(one), whole: WHOLE.includes(one.shows.type), edit: change && editor(one) }"
              :data-cell="one.name"
              @click="begin(row, one)"
            >
              <CellEditor
                v-if="editing?.row === row.id && editing.field === one.id"
                :field="one"
                :cell="row.cells[n]"
                :at="kept.at(row.id)"
                :fault="editing.fault"
                @commit="(input, move) => commit(row, one, input, move)"
                @cancel="cancel(row, one, $event)"
              />
              <CellText v-else :field="one" :cell="row.cells[n]" />
            </td>
            <td v-if="drops" class="end"><button :aria-label="`Take out this ${lines.one}`" @click="drop(row)">×</button></td>
          </tr>
        </VueDraggable>
        <tbody v-if="answer && !rows.length">
          <tr
            ><td :colspan="shown.length + 2" class="quiet">No {{ lines.many }} yet.</td></tr
          >
        </tbody>
        <tfoot v-if="answer?.tallies.length && rows.length">
          <tr>
            <td class="nth" />
            <td v-for="(one, n) in shown" :key="one.id" :class="{ right: isRight(one) }">{{ total(one) ?? (n ? '' : 'In all') }}</td>
            <td v-if="drops" />
          </tr>
        </tfoot>
      </table>
    </div>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <button v-if="adds" ref="adder" class="add" data-test="add-line" @click="add">+ {{ lines.one }}</button>
  </section>
</template>

<style scoped>
.lines {
  margin-top: var(--gap-4);
}
h3 {
  font: 600 16px/1.4 var(--serif);
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--quiet);
}
th,
td {
  padding: 4px 8px;
  border-bottom: 1px solid var(--line);
}
.right {
  text-align: right;
}
.whole {
  white-space: nowrap;
}
/* Which line it is, for whoever speaks of it. */
.nth {
  width: 24px;
  padding-inline: 0 6px;
  text-align: right;
}
/* Its number is where a line is taken to be put elsewhere. */
.grip {
  display: inline-flex;
  align-items: center;
  justify-content: flex-end;
  gap: 3px;
  min-width: 24px;
  min-height: 24px;
  padding: 0;
  cursor: grab;
  touch-action: none;
}
/* The table scrolls, and would cut it. */
.grip:focus-visible {
  outline-offset: -2px;
}
.grip::before {
  content: '⋮';
  opacity: 0.55;
}
tr:hover .grip::before,
.grip:focus-visible::before {
  opacity: 1;
}
@media (pointer: coarse) {
  .grip {
    min-width: 36px;
    min-height: 40px;
  }
}
.edit {
  cursor: text;
  background: var(--sheet);
}
.edit:hover {
  box-shadow: inset 0 -2px var(--moss);
}
tfoot td {
  font-weight: 600;
  border-bottom: 0;
}
.end {
  width: 20px;
}
button {
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--quiet);
}
.add {
  color: var(--moss);
  padding: 6px 0;
}
</style>
