<script setup lang="ts">
// Records that a shared page shows: in order and narrowed for oneself alone; white is what may be written.
import { computed, reactive, ref, useId, watch } from 'vue'
import type { Input, PageRow, PageRows, PageTable } from '@/api/types'
import { usePage } from './asking'
import LookMark from '@/features/highlight/LookMark.vue'
import { cellLook, lookClass, lookStyle } from '@/features/highlight/looks'
import { filesIn, hueOf } from './cells'
import { conditionOf, nothing, orderNow, ordersOf } from './narrowing'
import PageCell from './PageCell.vue'
import PageSheet from './PageSheet.vue'

const props = defineProps<{ part: PageTable; looks: number }>()

const AT_ONCE = 50
const page = usePage()
const id = useId()
const told = ref<PageRows>()
const trouble = ref('')
const said = ref('')
const own = reactive(nothing())
const count = ref(AT_ONCE)
const at = computed(() => `/parts/${props.part.number}`)
const orders = computed(() => ordersOf(props.part.columns))
const choices = computed(() => props.part.columns.filter((column) => column.options?.length))
const finds = computed(() => props.part.columns.some((column) => column.text))
const isNarrowed = computed(() => Object.keys(own.choices).length > 0 || !!own.words.trim())

// A newer question drops the older's answer.
let asked = 0
async function read() {
  const mine = ++asked
  const answer = await page.post<PageRows>(`${at.value}/rows`, {
    condition: conditionOf(props.part.columns, own),
    sorts: own.order ? [own.order] : [],
    start: 0,
    count: count.value,
  })
  if (mine !== asked) return
  if (answer.ok) told.value = answer.body
  trouble.value = answer.ok ? '' : answer.says
}
watch([own, count, () => props.looks], () => void read(), { immediate: true })

function put(value: string) {
  own.order = orders.value.find((order) => order.value === value)?.order
}
function choose(field: number, option: string) {
  if (option) own.choices[field] = Number(option)
  else delete own.choices[field]
}

/** What was kept just now and what is wrong, by record and field. */
const kept = reactive<Record<string, string>>({})
const faults = reactive<Record<string, string>>({})
async function keep(row: PageRow, n: number, input: Input) {
  const field = props.part.columns[n]!.field
  const spot = `${row.id}:${field}`
  const was = row.cells[n]?.value ?? ('empty' as const)
  const answer = await page.post<{ kept: string }>(`${at.value}/records/${row.id}`, { edits: [{ field, input, was }] })
  delete kept[spot]
  delete faults[spot]
  if (answer.ok) kept[spot] = answer.body.kept
  else faults[spot] = answer.faults[0]?.message ?? answer.says
  // After a clash one sees what stands there, and can put it again.
  await read()
}

const open = ref<PageRow | 'new'>()
function done(says: string) {
  open.value = undefined
  said.value = says
  void read()
}
/** How a cell looks: as in rows, the record’s ground lies under each. */
const lookAt = (row: PageRow, n: number) => cellLook(row, props.part.columns[n]!.field, n)
const name = (row: PageRow) => row.cells.find((cell) => cell?.text)?.text ?? props.part.one
const labelOf = (row: PageRow, n: number) => `${props.part.columns[n]!.name} of ${name(row)}`
const writes = (row: PageRow, n: number) => row.change && !!props.part.columns[n]!.question
</script>

<template>
  <section :aria-labelledby="part.title ? id : undefined" :data-test="`part-${part.number}`">
    <h2 v-if="part.title" :id="id">{{ part.title }}</h2>
    <p v-if="told" class="sentence">
      <b>{{ told.matching }}</b><template v-if="isNarrowed"> of {{ told.total }}</template>
      {{ told.matching === 1 && !isNarrowed ? part.one : part.many }},
      <select
        class="phrase"
        aria-label="In which order"
        :value="orderNow(own.order, part.sorts)"
        @change="put(($event.target as HTMLSelectElement).value)"
      >
        <option v-if="!orderNow(own.order, part.sorts)" value="">as they came</option>
        <option v-for="order in orders" :key="order.value" :value="order.value">{{ order.words }}</option> </select
      ><template v-for="column in choices" :key="column.field"
        >,
        <select
          class="phrase"
          :aria-label="`Which ${column.name}`"
          :value="String(own.choices[column.field] ?? '')"
          @change="choose(column.field, ($event.target as HTMLSelectElement).value)"
        >
          <option value="">every {{ column.name }}</option>
          <option v-for="option in column.options" :key="option.id" :value="String(option.id)">{{ column.name }}: {{ option.name }}</option>
        </select></template
      >.
      <input v-if="finds" v-model="own.words" class="find" type="search" placeholder="find words" aria-label="Find words" />
      <span class="quiet">Rearranging them changes your own screen only.</span>
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <div v-if="told?.rows.length" class="wide">
      <table>
        <thead>
          <tr>
            <th
              v-for="column in part.columns"
              :key="column.field"
              scope="col"
              :class="{ figures: column.figures }"
              :title="column.help || undefined"
            >
              {{ column.name }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in told.rows" :key="row.id" :aria-description="row.looks?.says">
            <td
              v-for="(column, n) in part.columns"
              :key="column.field"
              :class="{ figures: column.figures, white: writes(row, n), ...lookClass(lookAt(row, n)) }"
              :style="lookStyle(lookAt(row, n))"
              :data-name="column.name"
            >
              <LookMark :look="lookAt(row, n)" />
              <PageCell
                v-if="writes(row, n)"
                :column="column"
                :cell="row.cells[n]"
                :label="labelOf(row, n)"
                :kept="kept[`${row.id}:${column.field}`]"
                :fault="faults[`${row.id}:${column.field}`]"
                @keep="keep(row, n, $event)"
                @open="open = row"
              />
              <template v-else-if="filesIn(row.cells[n]).length">
                <a
                  v-for="file in filesIn(row.cells[n])"
                  :key="file.id"
                  :href="page.at(`/files/${file.id}`)"
                  target="_blank"
                  rel="noopener"
                  >{{ file.name }}</a
                >
              </template>
              <button v-else-if="n === 0" type="button" class="record" @click="open = row">{{ row.cells[n]?.text || part.one }}</button>
              <span
                v-else-if="hueOf(row.cells[n], column.options)"
                class="choice"
                :style="{ '--hue': `var(--${hueOf(row.cells[n], column.options)})` }"
                >{{ row.cells[n]?.text }}</span
              >
              <span v-else class="text" :class="{ short: (row.cells[n]?.text.length ?? 0) < 15 }">{{ row.cells[n]?.text }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="told" class="none">{{
      isNarrowed ? `None of the ${told.total} fits what you ask for.` : `There are no ${part.many} here now.`
    }}</p>
    <p class="after">
      <button v-if="told && told.matching > told.rows.length" type="button" class="link" @click="count += AT_ONCE"
        >Show more: {{ told.matching - told.rows.length }} are left</button
      >
      <button v-if="part.adds" type="button" class="link" data-test="add-record" @click="open = 'new'">Add {{ part.one }}</button>
      <span role="status">{{ said }}</span>
    </p>
    <PageSheet
      v-if="open"
      :key="open === 'new' ? 0 : open.id"
      :part="part"
      :row="open === 'new' ? undefined : open"
      @done="done"
      @leave="open = undefined"
    />
  </section>
</template>

<style scoped>
section {
  min-width: 0;
}
.sentence {
  margin: 2px 0 10px;
  font: 16px/1.7 var(--serif);
  color: var(--quiet);
}
.sentence b {
  color: var(--ink);
}
.phrase {
  max-width: 100%;
  min-height: 26px;
  border: 0;
  background: none;
  color: var(--moss);
  font: inherit;
  text-decoration: underline dotted;
  text-underline-offset: 5px;
  cursor: pointer;
  field-sizing: content;
  appearance: none;
  padding: 0;
}
.phrase option {
  font: 14px var(--sans);
  color: var(--ink);
  background: var(--sheet);
}
.find {
  width: 130px;
  min-height: 28px;
  border: 0;
  border-bottom: 1px solid var(--line-strong);
  background: none;
  color: var(--ink);
  font: 14px var(--sans);
}
.find + .quiet {
  margin-left: 8px;
}
.quiet {
  font-size: 14px;
}
.wide {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 14px;
}
th {
  padding: 6px 12px 6px 0;
  text-align: left;
  font-size: 12.5px;
  color: var(--quiet);
  border-bottom: 1px solid var(--line-strong);
  white-space: nowrap;
}
td {
  padding: 0 12px 0 0;
  height: 41px;
  border-bottom: 1px solid var(--line);
}
td.white + td:not(.white) {
  padding-left: 12px;
}
td.white {
  padding: 0;
  background: var(--sheet);
  border: 1px solid var(--line);
}
.figures {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.record {
  border: 0;
  background: none;
  padding: 0;
  min-height: 40px;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.record:hover {
  text-decoration: underline;
}
.choice {
  padding-left: 8px;
  border-left: 3px solid var(--hue);
}
.text {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
}
.short {
  white-space: nowrap;
}
.none {
  font: 17px/1.5 var(--serif);
}
.after {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  margin: 10px 0 0;
}
.after .link {
  min-height: 32px;
}
@media (max-width: 760px) {
  thead {
    display: none;
  }
  table,
  tbody,
  tr,
  td {
    display: block;
  }
  tr {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
    gap: 2px 12px;
    padding: 12px 0;
    border-bottom: 1px solid var(--line-strong);
  }
  td.white,
  td:first-child {
    grid-column: 1 / -1;
  }
  td,
  td.white,
  td.white + td:not(.white) {
    height: auto;
    padding: 3px 0;
    border: 0;
    background: none;
    text-align: left;
  }
  td:first-child {
    font-weight: 600;
    font-size: 16px;
  }
  td:not(:first-child)::before {
    content: attr(data-name);
    display: block;
    font-size: 12.5px;
    color: var(--quiet);
  }
  td:not(.white, :first-child):empty,
  td:not(.white, :first-child):has(.text:empty) {
    display: none;
  }
  .phrase,
  .find,
  .after .link,
  .record {
    min-height: 44px;
  }
}
</style>
