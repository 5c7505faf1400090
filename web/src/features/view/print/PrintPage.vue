<script setup lang="ts">
// A view as it goes on paper: its name, its sentence, its records whole, with groups, figures and highlights.
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { Field, Row } from '@/api/types'
import { useAsked } from '@/app/asking'
import DrawnLine from '../cards/DrawnLine.vue'
import CellText from '@/features/cell/CellText.vue'
import { isRight } from '@/features/cell/kinds'
import { useVocabulary } from '@/features/condition/vocabulary'
import { cellLook, lookClass, lookOf, lookStyle } from '@/features/highlight/looks'
import { useTracker } from '@/features/tracker/tracker'
import { useDraft } from '../draft'
import { paperLines } from './lines'

/** Most records that are put on paper, and rows of one slice. */
const MOST = 2000
const SLICE = 500

const { tracker: current } = useTracker()
const { figureWord } = useVocabulary()
const route = useRoute()
const router = useRouter()
const tracker = computed(() => Number(route.params.tracker))
const table = computed(() => current.value?.tables.find((one) => one.id === Number(route.params.table)))
const view = computed(() => table.value?.views.find((one) => one.id === Number(route.params.view)))
const { query } = useDraft(tracker, table, view)

const { told: answer, trouble } = useAsked(
  () => ['print', tracker.value, table.value?.id, query.value],
  () => {
    const slices = Array.from({ length: MOST / SLICE }, (_, n) => ({ start: n * SLICE, count: SLICE }))
    const body = { query: query.value ?? { fields: [] }, view: view.value?.id ?? null, keep: [], slices }
    const path = { tracker: tracker.value, table: table.value?.id ?? 0 }
    return told(api.POST('/api/trackers/{tracker}/tables/{table}/query', { params: { path }, body }))
  },
)
const rows = computed<Row[]>(() => answer.value?.slices.flatMap((slice) => slice.rows) ?? [])
const lines = computed(() => paperLines(answer.value?.groups ?? [], rows.value))
const fields = computed(
  () =>
    answer.value?.fields.flatMap((id) => table.value?.fields.find((field) => field.id === id && field.kind.type !== 'button') ?? []) ?? [],
)
const cellOf = (row: Row, id: number) => row.cells[answer.value?.fields.indexOf(id) ?? -1]
const says = computed(
  () =>
    answer.value?.sentence
      .filter((phrase) => phrase.tone !== 'offer')
      .map((phrase) => phrase.text)
      .join('') ?? '',
)
const tallies = computed(() =>
  (query.value?.tallies ?? []).map((tally, n) => ({
    name: `${table.value?.fields.find((one) => one.id === tally.field)?.within}: ${figureWord(tally.figure)}`,
    text: answer.value?.tallies[n]?.text ?? '',
  })),
)

const cards = computed(() => (query.value?.shape?.as === 'cards' ? query.value.shape : undefined))
const title = computed(() => fields.value.find((field) => field.id === table.value?.standing) ?? fields.value[0])
const captions = computed(() => fields.value.filter((field) => field !== title.value && field.id !== cards.value?.picture))
/** Many fields need a broad page. */
const broad = computed(() => !cards.value && fields.value.length > 7)

/** What is not broken over two lines. */
const SHORT = new Set(['numbering', 'date', 'datetime', 'number', 'money', 'percent', 'duration', 'range', 'phone'])
const isShort = (field: Field) => SHORT.has(field.shows.type)

const print = () => window.print()
const back = () => router.push({ name: 'view', params: { tracker: tracker.value, table: table.value?.id, view: view.value?.id } })
</script>

<template>
  <main class="page" :class="{ broad }">
    <div class="acts">
      <v-btn color="primary" data-test="do-print" :disabled="!answer" @click="print">Print</v-btn>
      <v-btn variant="text" @click="back">Back to the view</v-btn>
      <span class="quiet">As the browser prints it; it can also keep it as a PDF.</span>
    </div>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <article v-if="answer && table" class="paper" data-test="paper">
      <p class="over">{{ current?.name }}, {{ table.name }}</p>
      <h1>{{ view?.name ?? `All ${table.many}` }}</h1>
      <p class="says">{{ says }}</p>
      <div v-if="cards" class="plates">
        <template v-for="(line, n) in lines" :key="n">
          <h2 v-if="line.type === 'head'"
            >{{ line.head.group.text || 'Without a value' }} <span>{{ line.head.group.counted }}</span></h2
          >
          <figure v-else :class="lookClass(line.row.looks?.whole)" :style="lookStyle(line.row.looks?.whole)">
            <img
              v-for="picture in line.row.pictures ?? []"
              :key="picture.id"
              :src="`/api/files/${picture.id}?small=true`"
              :alt="picture.name"
            />
            <DrawnLine
              v-if="line.row.drawn"
              :drawn="line.row.drawn"
              :longest="answer.longest == null ? undefined : Number(answer.longest)"
            />
            <figcaption>
              <b><CellText v-if="title" :field="title" :cell="cellOf(line.row, title.id)" :look="lookOf(line.row, title.id)" /></b>
              <span v-for="field in captions" :key="field.id" class="caption"
                ><i>{{ field.name }}</i>
                <span :class="lookClass(lookOf(line.row, field.id))" :style="lookStyle(lookOf(line.row, field.id))"
                  ><CellText :field="field" :cell="cellOf(line.row, field.id)" :look="lookOf(line.row, field.id)" /></span
              ></span>
            </figcaption>
          </figure>
        </template>
      </div>
      <table v-else>
        <thead>
          <tr>
            <th v-for="field in fields" :key="field.id" :class="{ right: isRight(field) }">{{ field.name }}</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(line, n) in lines" :key="n">
            <tr v-if="line.type === 'head'" class="head" :data-level="line.head.path.length">
              <td :colspan="fields.length"
                ><b>{{ line.head.group.text || 'Without a value' }}</b> {{ line.head.group.counted
                }}<span v-for="(tally, m) in line.head.group.tallies" :key="m"> · {{ tallies[m]?.name }} {{ tally.text }}</span></td
              >
            </tr>
            <tr v-else>
              <td
                v-for="(field, column) in fields"
                :key="field.id"
                :class="{ right: isRight(field), short: isShort(field), ...lookClass(cellLook(line.row, field.id, column)) }"
                :style="lookStyle(cellLook(line.row, field.id, column))"
                ><CellText :field="field" :cell="cellOf(line.row, field.id)" :look="cellLook(line.row, field.id, column)"
              /></td>
            </tr>
          </template>
        </tbody>
      </table>
      <p class="foot">
        <b>{{ answer.counted }}</b>
        <span v-for="tally in tallies" :key="tally.name">{{ tally.name }} {{ tally.text }}</span>
        <span v-if="answer.row_count > rows.length">Of these the first {{ rows.length }}.</span>
      </p>
    </article>
  </main>
</template>

<style scoped>
.page {
  padding: var(--gap-4) var(--gap-5);
  overflow: auto;
  flex: 1;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--gap-3);
  margin-bottom: var(--gap-4);
}
.paper {
  max-width: 190mm;
  padding: 12mm;
  background: var(--sheet);
  border: 1px solid var(--line);
  overflow-x: auto;
}
.broad .paper {
  max-width: 270mm;
}
.over,
.says,
.foot {
  color: var(--quiet);
  font-size: 12px;
  margin: 0;
}
.says {
  font: 15px/1.45 var(--serif);
  margin-bottom: var(--gap-3);
}
h1 {
  font: 600 24px var(--serif);
  margin: 0;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 12px;
}
thead {
  display: table-header-group;
}
th {
  text-align: left;
  font-weight: 600;
  border-bottom: 1px solid var(--line-strong);
  padding: 3px 8px 3px 0;
  vertical-align: bottom;
}
td {
  border-bottom: 1px solid var(--line);
  padding: 3px 8px 3px 0;
  vertical-align: top;
}
tr {
  break-inside: avoid;
}
.head td {
  padding-top: 9px;
  color: var(--quiet);
  break-after: avoid;
}
.head b {
  color: var(--ink);
}
.head[data-level='2'] td {
  padding-left: 12px;
}
.head[data-level='3'] td {
  padding-left: 24px;
}
.right {
  text-align: right;
}
.short {
  white-space: nowrap;
}
td:first-child {
  padding-left: 7px;
}
th:first-child {
  padding-left: 7px;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  padding-top: var(--gap-2);
}
.plates {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 6mm 5mm;
}
.plates h2 {
  grid-column: 1 / -1;
  margin: 0;
  font: 600 16px var(--serif);
  border-bottom: 1px solid var(--line-strong);
}
.plates h2 span {
  font: 12px var(--sans);
  color: var(--quiet);
}
figure {
  margin: 0;
  break-inside: avoid;
  font-size: 12px;
}
figure img {
  width: 100%;
  aspect-ratio: 8 / 5;
  object-fit: cover;
}
figcaption {
  display: grid;
}
.caption {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-2);
  border-top: 1px solid var(--line);
}
.caption i {
  font-style: normal;
  color: var(--quiet);
}
@page broad {
  size: landscape;
}
@media print {
  .broad .paper {
    page: broad;
  }
  .page {
    padding: 0;
    overflow: visible;
  }
  .acts {
    display: none;
  }
  .paper {
    max-width: none;
    padding: 0;
    border: 0;
    overflow: visible;
  }
}
</style>
<style>
@media print {
  .band,
  .skip {
    display: none !important;
  }
}
</style>
