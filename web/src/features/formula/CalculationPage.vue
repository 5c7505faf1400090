<script setup lang="ts">
// A calculation: its formula, what it gives on a record that one can choose, and how that is shown.
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import type { FormulaFault, FunctionHelp, Kind, RecordName } from '@/api/types'
import { useTracker } from '@/features/tracker/tracker'
import TraceLines from '@/features/why/TraceLines.vue'
import { askWhy } from '@/features/why/why'
import ComputedField from './ComputedField.vue'
import FormulaEditor from './FormulaEditor.vue'
import FunctionList from './FunctionList.vue'
import ShownAs from './ShownAs.vue'
import { useKeeping } from './keeping'
import { callAt } from './text'
import { useTrying } from './trying'

const { tracker: currentTracker } = useTracker()

const route = useRoute()
const tracker = computed(() => Number(route.params.tracker))
const tableId = computed(() => Number(route.params.table))
const table = computed(() => currentTracker.value?.tables.find((t) => t.id === tableId.value))
const field = computed(() => table.value?.fields.find((f) => f.id === Number(route.params.field)))
const isNew = computed(() => route.params.field === 'new')
const mayBuild = computed(() => currentTracker.value?.builds && (isNew.value || field.value?.formula !== undefined))

const name = ref(String(route.query.name ?? ''))
const help = ref('')
const formula = ref('')
const place = ref(0)
const shows = ref<Kind>()
const functions = shallowRef<FunctionHelp[]>([])
const editor = ref<InstanceType<typeof FormulaEditor>>()

watch(
  () => field.value?.id,
  () => {
    name.value = field.value?.name ?? String(route.query.name ?? '')
    help.value = field.value?.help ?? ''
    formula.value = field.value?.formula ?? ''
    shows.value = field.value?.shows
  },
  { immediate: true },
)

// The sample: records of the table, one after the other; the one that one came from first.
const samples = shallowRef<RecordName[]>([])
const at = ref(0)
const sample = computed(() => samples.value[at.value])
const path = computed(() => ({ tracker: tracker.value, table: tableId.value }))
const { keep, back, before, keeping, trouble } = useKeeping(() => path.value)
onMounted(async () => {
  functions.value = await told(api.GET('/api/functions')).catch(() => [])
  const names: RecordName[] = await told(
    api.GET('/api/trackers/{tracker}/tables/{table}/names', { params: { path: path.value, query: { search: '' } } }),
  ).catch(() => [])
  const first = Number(route.query.record)
  const there = names.findIndex((n) => n.id === first)
  if (first && there < 0) {
    const params = { path: { ...path.value, record: first } }
    const record = await told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}', { params })).catch(() => undefined)
    if (record) names.unshift({ id: first, name: record.name })
  }
  samples.value = names
  at.value = Math.max(0, there)
})

const record = computed(() => sample.value?.id)
const { tried, trouble: tryTrouble } = useTrying(path, formula, record, shows)
const fitting = computed(() => tried.value?.ways ?? [])
// Where the result's type changes, it is shown as fits the new one.
watch(tried, (now) => {
  if (!now || now.faults.length || fitting.value.some((way) => way.kind.type === shows.value?.type)) return
  shows.value = now.shows
})
// What was found of an earlier state says nothing of this one.
const current = computed(() => tried.value?.of === formula.value)
const faults = computed<FormulaFault[]>(() => (current.value && formula.value.trim() ? (tried.value?.faults ?? []) : []))
const call = computed(() => {
  const here = callAt(formula.value, place.value)
  return here && functions.value.find((f) => f.name === here.name)
})
const changed = computed(
  () =>
    name.value !== (field.value?.name ?? '') ||
    formula.value !== (field.value?.formula ?? '') ||
    help.value !== (field.value?.help ?? '') ||
    JSON.stringify(shows.value) !== JSON.stringify(field.value?.shows),
)

function walk(by: number) {
  const count = samples.value.length
  if (count) at.value = (at.value + by + count) % count
}

function keepIt() {
  const body = { name: name.value, help: help.value, formula: formula.value, shows: shows.value!, before: before() }
  const asked = () =>
    isNew.value
      ? told(api.POST('/api/trackers/{tracker}/tables/{table}/calculations', { params: { path: path.value }, body }))
      : told(
          api.PUT('/api/trackers/{tracker}/tables/{table}/calculations/{field}', {
            params: { path: { ...path.value, field: field.value!.id } },
            body,
          }),
        )
  return keep(asked)
}
</script>

<template>
  <main v-if="table && mayBuild" class="page">
    <ComputedField
      v-model:name="name"
      v-model:help="help"
      :table="table"
      :what="isNew ? 'a new calculation' : 'a calculation'"
      act="Keep calculation"
      :ready="changed && !!formula.trim() && current && !faults.length"
      :keeping="keeping"
      :trouble="trouble"
      @keep="keepIt"
      @leave="back()"
    >
      <FormulaEditor
        ref="editor"
        v-model="formula"
        v-model:place="place"
        :tracker="currentTracker!"
        :table="table"
        :functions="functions"
        :faults="faults"
      />
      <div class="below" aria-live="polite">
        <p v-for="(fault, n) in faults" :key="n" class="fault-text" data-test="formula-fault">
          {{ fault.message }}
          <button v-if="fault.instead" type="button" class="instead" @click="editor?.put(fault.instead, fault.span.from, fault.span.to)"
            >Put {{ fault.instead }}</button
          >
        </p>
        <p v-if="call && !faults.length" class="signature" data-test="signature"
          ><b>{{ call.signature }}</b> {{ call.help }}</p
        >
        <p v-else-if="!faults.length && tried && current && formula.trim()" class="quiet">It gives {{ tried.gives }}.</p>
        <p v-if="tryTrouble" class="fault-text">{{ tryTrouble }}</p>
      </div>
      <ShownAs v-if="shows" v-model="shows" :ways="fitting" />
    </ComputedField>
    <aside class="sample" aria-label="On a record">
      <p class="walk">
        <button type="button" aria-label="Record before" @click="walk(-1)">←</button>
        <button type="button" aria-label="Next record" data-test="next-sample" @click="walk(1)">→</button>
        <span class="quiet">{{ samples.length ? `${at + 1} of ${samples.length}` : `There are no ${table.many} yet to try it on` }}</span>
      </p>
      <template v-if="sample">
        <p class="over"
          >On “{{ sample.name }}” <span v-if="sample.beside">{{ sample.beside }}</span></p
        >
        <p class="result" data-test="result" aria-live="polite">{{
          faults.length
            ? '…'
            : tried?.withheld
              ? 'It draws on something that is not open to you, so nothing is shown.'
              : tried?.text || 'nothing'
        }}</p>
        <TraceLines
          v-if="tried?.trace && !faults.length"
          :formula="tried.trace.formula"
          :with-values="tried.trace.with_values"
          :result="tried.text ?? ''"
          :steps="tried.trace.steps"
          :sources="tried.trace.sources"
          :table="tableId"
          :record="sample.id"
          @ask="(cell, spot) => askWhy({ ...cell, tracker }, spot)"
        />
      </template>
    </aside>
    <FunctionList :functions="functions" class="all" @put="editor?.put($event)" />
  </main>
  <main v-else-if="table" class="gone">
    <h1>This calculation is not open to you</h1>
    <p class="quiet">Only the tracker’s steward and builders write formulas; or it may have been taken away.</p>
  </main>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(300px, 2fr);
  grid-template-rows: auto 1fr;
  column-gap: 40px;
  max-width: 1240px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-5) 60px;
}
.gone {
  max-width: 520px;
  margin: 80px auto;
  padding: 0 var(--gap-5);
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
.below {
  min-height: 46px;
  padding-top: 6px;
  font-size: 13.5px;
}
.below p {
  margin: 0 0 4px;
}
.instead {
  border: 0;
  background: none;
  color: var(--moss);
  text-decoration: underline;
  cursor: pointer;
}
.all {
  border-top: 1px solid var(--line);
  padding-top: var(--gap-3);
}
.sample {
  grid-row: 1 / 3;
  grid-column: 2;
  border-left: 1px solid var(--line-strong);
  padding-left: 28px;
  min-width: 0;
  font-size: 13.5px;
}
.walk button {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  cursor: pointer;
  padding: 2px 10px;
  margin-right: 4px;
}
.result {
  font: 600 28px/1.3 var(--serif);
  margin: 2px 0 var(--gap-2);
  overflow-wrap: anywhere;
}
@media (max-width: 800px) {
  .page {
    grid-template-columns: minmax(0, 1fr);
    padding: var(--gap-3);
  }
  .sample {
    grid-row: auto;
    grid-column: auto;
    border-left: 0;
    padding-left: 0;
    margin-bottom: var(--gap-4);
  }
}
</style>
