<script setup lang="ts">
// Import on one page: the file as read, the table it becomes, what happens to each column between them; the rehearsal at the foot counts.
import { figure } from '@/theme/own'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Plan } from '@/api/types'
import { useEdits } from '@/features/cell/edits'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { useTracker } from '@/features/tracker/tracker'
import ColumnLine from './ColumnLine.vue'
import FileDrop from './FileDrop.vue'
import ReadingNotes from './ReadingNotes.vue'
import { useImport, type Upload } from './importing'

const { tracker: currentTracker, read: readTracker } = useTracker()

const route = useRoute()
const router = useRouter()
const edits = useEdits()
const tracker = computed(() => Number(route.params.tracker))
const importing = useImport(() => tracker.value)
const { token, read, plan, heard, busy, trouble, guesses, faults } = importing
const tables = computed(() => currentTracker.value?.tables ?? [])
const builds = computed(() => !!currentTracker.value?.builds)
const asked = computed(() => Number(route.query.into) || undefined)
const started = ref(false)

onMounted(() => {
  const given = route.query.token
  if (typeof given === 'string' && given) taken({ token: given, name: '', sheets: [] })
})

function taken(upload: Upload) {
  token.value = upload.token
  void importing.look({ into: asked.value ? { table: { table: asked.value, key: null } } : undefined })
}

const into = computed(() => {
  const target = plan.value?.into
  return target && 'table' in target ? target.table : undefined
})
const fresh = computed(() => {
  const target = plan.value?.into
  return target && 'new' in target ? target.new : undefined
})
const target = computed(() => tables.value.find((t) => t.id === into.value?.table))
const keys = computed(() => {
  const fields = (plan.value?.columns ?? []).flatMap((c) =>
    typeof c.becomes === 'object' && 'existing' in c.becomes ? [c.becomes.existing.field] : [],
  )
  return (target.value?.fields ?? []).filter((f) => fields.includes(f.id))
})
const used = computed(() => (plan.value?.columns ?? []).filter((c) => c.becomes !== 'nothing'))
const head = computed(() => read.value?.rows ?? [])
const faultOf = (place: number) =>
  faults.value.find((f) => f.pointer?.startsWith(`/columns/${place}`) && !/^\d/.test(f.pointer.slice(`/columns/${place}`.length)))?.message

function goInto(id: string) {
  const next: Plan['into'] = id
    ? { table: { table: Number(id), key: null } }
    : { new: { name: read.value?.guess.plan && fresh.value ? fresh.value.name : 'Records', one: 'record' } }
  void importing.look({ heading: plan.value?.heading, into: id ? next : undefined })
}

/** Another count of rows with names. */
function nameRows(rows: number) {
  if (plan.value) void importing.look({ heading: { ...plan.value.heading, rows }, into: plan.value.into })
}

const excerpt = (cells: string[]) => cells.filter(Boolean).slice(0, 4).join(', ').slice(0, 50) || 'empty'

function putInto(next: Plan['into']) {
  if (plan.value) plan.value = { ...plan.value, into: next }
  void importing.rehearse()
}

async function doIt() {
  started.value = true
  const done = await importing.carryOut()
  started.value = false
  if (!done) return
  edits.remember(tracker.value, done)
  await readTracker()
  await router.push({ name: 'view', params: { tracker: tracker.value, table: done.made! } })
}

const number = (count: number) => figure(count)
</script>

<template>
  <div class="whole">
    <main class="page">
      <p class="over">{{ currentTracker?.name }}</p>
      <h1>{{ read ? `From ${read.file}` : 'Add records from a file' }}</h1>
      <button v-if="read" type="button" class="link" data-test="another-file" @click="importing.forget()">Choose another file</button>
      <FileDrop v-if="!read && !busy" @taken="taken" />
      <v-progress-linear v-else-if="!read" indeterminate color="primary" height="2" aria-label="Reading the file" />
      <template v-if="read && plan">
        <p class="sentence">
          <template v-if="read.sheets.length > 1">
            The sheet
            <PickOne
              said
              :model-value="read.sheet"
              aria-label="Sheet"
              data-test="sheet"
              :items="
                read.sheets.map((sheet) => ({ value: sheet.at, title: `${sheet.name}${sheet.hidden ? ' (hidden in the file)' : ''}` }))
              "
              @update:model-value="importing.look({ sheet: Number($event) })"
            />
            has
          </template>
          <template v-else>It has</template>
          {{ number(read.guess.rows) }} rows under
          <PickOne
            said
            :model-value="plan.heading.rows"
            aria-label="How many rows of names"
            data-test="heading-rows"
            :items="[
              { value: 0, title: 'no names, beginning with' },
              { value: 1, title: 'the names in' },
              { value: 2, title: 'the names in two rows from' },
              { value: 3, title: 'the names in three rows from' },
            ]"
            @update:model-value="nameRows(Number($event))"
          />
          row
          <PickOne
            said
            :model-value="plan.heading.first"
            aria-label="Row with the names"
            data-test="heading"
            :items="head.map((row, n) => ({ value: n, title: `${row.line}: ${excerpt(row.cells)}` }))"
            @update:model-value="importing.look({ heading: { ...plan.heading, first: Number($event) }, into: plan.into })"
          />. They go into
          <PickOne
            said
            :model-value="into?.table ?? ''"
            aria-label="Table"
            data-test="into"
            :items="[...(builds ? [{ value: '', title: 'a new table' }] : []), ...named(tables.filter((t) => t.adds))]"
            @update:model-value="goInto(String($event))"
          />
          <template v-if="fresh">
            called
            <input
              :value="fresh.name"
              aria-label="Name of the new table"
              data-test="new-table"
              @change="putInto({ new: { ...fresh!, name: ($event.target as HTMLInputElement).value } })"
            />; one of them is a
            <input
              :value="fresh.one"
              aria-label="Name of one record"
              @change="putInto({ new: { ...fresh!, one: ($event.target as HTMLInputElement).value } })"
            />.
          </template>
          <template v-else-if="into">
            ; a row
            <PickOne
              said
              :model-value="into.key ?? ''"
              aria-label="How a row is known"
              data-test="key"
              :items="[
                { value: '', title: `is always a new ${target?.one}` },
                ...keys.map((field) => ({ value: field.id, title: `updates the ${target?.one} with the same ${field.name}` })),
              ]"
              @update:model-value="putInto({ table: { ...into!, key: Number($event) || null } })"
            />.
          </template>
        </p>
        <ReadingNotes :says="read.guess.says" :beside="read.guess.beside" :without="plan.without ?? []" @take="importing.take" />
        <div class="two">
          <section class="columns" aria-label="Columns">
            <ColumnLine
              v-for="(column, place) in plan.columns"
              :key="column.column"
              :column="column"
              :guess="guesses.get(column.column)"
              :plan="plan"
              :tables="tables"
              :builds="builds"
              :fault="faultOf(place)"
              @put="importing.put(column.column, $event)"
            />
          </section>
          <section v-if="heard" class="becomes" aria-label="The table it becomes">
            <h2>{{ fresh?.name ?? target?.name }}, the first rows</h2>
            <div class="scroll" tabindex="0" role="region" aria-label="The records as they would be">
              <table>
                <thead>
                  <tr
                    ><th v-for="column in used" :key="column.column">{{ column.name }}</th></tr
                  >
                </thead>
                <tbody>
                  <tr v-for="(row, n) in heard.examples" :key="n"
                    ><td v-for="(text, c) in row" :key="c">{{ text }}</td></tr
                  >
                </tbody>
              </table>
            </div>
          </section>
        </div>
      </template>
    </main>
    <RehearsalPanel
      v-if="read && plan"
      :title="heard?.title ?? 'Not ready yet'"
      :act="started ? 'Importing…' : 'Import'"
      :busy="busy"
      :blocked="!heard"
      :trouble="trouble"
      @act="doIt"
      @leave="router.back()"
    >
      <template v-if="heard">
        <p v-for="(one, n) in heard.says" :key="one" class="line" :class="{ refused: heard.rejected_count && n >= heard.made.length }">{{
          one
        }}</p>
        <button v-if="heard.rejected_count" class="link" data-test="refused" @click="importing.refused()">All of them as a file</button>
      </template>
    </RehearsalPanel>
  </div>
</template>

<style scoped>
.whole {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  height: calc(100dvh - var(--band));
}
.page {
  overflow-y: auto;
  padding: var(--gap-3) var(--gap-5) var(--gap-5);
}
.over {
  margin: 0;
  color: var(--quiet);
  font-size: 13px;
}
h1 {
  font-size: 26px;
  margin-bottom: var(--gap-3);
}
.sentence {
  font: 17px/1.9 var(--serif);
  margin: 0 0 var(--gap-3);
}
.sentence input {
  font: inherit;
  color: var(--moss);
  border: 0;
  border-bottom: 1px dashed var(--moss);
  background: none;
  max-width: 320px;
  field-sizing: content;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(280px, 2fr);
  gap: 36px;
}
h2 {
  font-size: 15px;
}
.scroll {
  overflow-x: auto;
  background: var(--sheet);
  border: 1px solid var(--line);
}
table {
  border-collapse: collapse;
  font-size: 13px;
  white-space: nowrap;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--quiet);
}
th,
td {
  padding: 4px 14px 4px 8px;
  border-bottom: 1px solid var(--line);
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.line {
  margin: 0 0 3px;
}
.refused {
  color: var(--copper);
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
