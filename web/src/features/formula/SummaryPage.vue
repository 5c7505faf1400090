<script setup lang="ts">
// A summary: which records, along which link, and which figure of them.
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { refDebounced } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { components } from '@/api/schema'
import type { Condition, Field } from '@/api/types'
import { useAsked } from '@/app/asking'
import { paths, pruned } from '@/features/condition/checks'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { useVocabulary } from '@/features/condition/vocabulary'
import { useTracker } from '@/features/tracker/tracker'
import ComputedField from './ComputedField.vue'
import { useKeeping } from './keeping'
import { target } from './text'

const { tracker: currentTracker } = useTracker()
const { vocabulary } = useVocabulary()

type Figure = components['schemas']['Figure']

const route = useRoute()
const tracker = computed(() => Number(route.params.tracker))
const tableId = computed(() => Number(route.params.table))
const path = computed(() => ({ tracker: tracker.value, table: tableId.value }))
const { keep, back, before, keeping, trouble } = useKeeping(() => path.value)
const table = computed(() => currentTracker.value?.tables.find((t) => t.id === tableId.value))
const isNew = computed(() => route.params.field === 'new')
const own = computed(() => table.value?.fields.find((f) => f.id === Number(route.params.field)))
const mayBuild = computed(() => currentTracker.value?.builds && (isNew.value || own.value?.kind.type === 'summary'))

const name = ref(String(route.query.name ?? ''))
const help = ref('')
const along = ref('')
const figure = ref<Figure>('count')
const of = ref<number>()
const condition = ref<Condition>({ all: [] })

const ways = computed(() =>
  currentTracker.value && table.value ? paths(currentTracker.value, table.value).filter((p) => p.field.kind.type === 'link') : [],
)
const way = computed(() => ways.value.find((p) => p.key === along.value))
const end = computed(() => (currentTracker.value ? target(currentTracker.value, way.value?.field) : undefined))
const figures = computed(() => vocabulary.value?.figures ?? [])
/** The kinds of field that the figure is of; none: it is of the records themselves. */
const kinds = computed(() => figures.value.find((one) => one.figure === figure.value)?.of ?? [])
const ofField = computed(() => kinds.value.length > 0)
const fields = computed<Field[]>(() => (end.value?.fields ?? []).filter((f) => kinds.value.includes(f.shows.type)))
const ready = computed(() => way.value && (!ofField.value || fields.value.some((f) => f.id === of.value)))

watch(
  () => own.value?.id,
  () => {
    const kind = own.value?.kind
    name.value = own.value?.name ?? String(route.query.name ?? '')
    help.value = own.value?.help ?? ''
    if (kind?.type !== 'summary') {
      along.value = ways.value[0]?.key ?? ''
      return
    }
    along.value = kind.links.join('.')
    figure.value = kind.figure
    of.value = kind.field ?? undefined
    condition.value = kind.condition ?? { all: [] }
  },
  { immediate: true },
)
// What does not go with the figure any more is not kept.
watch([figure, end], () => {
  if (!fields.value.some((f) => f.id === of.value)) of.value = fields.value[0]?.id
})
watch(along, (_, before) => before && (condition.value = { all: [] }))

const body = computed(() => ({
  name: name.value,
  help: help.value,
  links: way.value?.path ?? [],
  figure: figure.value,
  field: of.value ?? null,
  condition: pruned(condition.value),
  before: before(),
}))

// What it would show is tried while one chooses; its name changes nothing of that.
const settled = refDebounced(
  computed(() => ({ ...body.value, name: '', help: '' })),
  200,
)
const { told: tried, trouble: tryTrouble } = useAsked(
  () => ['summary', tracker.value, tableId.value, own.value?.id, settled.value, ready.value],
  () => {
    if (!ready.value) return Promise.resolve(null)
    const summary = { ...settled.value, name: 'tried' }
    return told(
      api.POST('/api/trackers/{tracker}/tables/{table}/summaries/try', {
        params: { path: path.value },
        body: { summary, field: isNew.value ? null : (own.value?.id ?? null) },
      }),
    )
  },
)

// What was tried last stands until the next is: nothing moves from under whoever is about to press.
const figured = shallowRef(tried.value)
watch(tried, (now) => {
  if (now !== undefined) figured.value = now
})

function keepIt() {
  const asked = () =>
    isNew.value
      ? told(api.POST('/api/trackers/{tracker}/tables/{table}/summaries', { params: { path: path.value }, body: body.value }))
      : told(
          api.PUT('/api/trackers/{tracker}/tables/{table}/summaries/{field}', {
            params: { path: { ...path.value, field: own.value!.id } },
            body: body.value,
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
      :what="isNew ? 'a new summary' : 'a summary'"
      act="Keep summary"
      :ready="!!ready"
      :keeping="keeping"
      :trouble="trouble"
      @keep="keepIt"
      @leave="back()"
    >
      <p v-if="!ways.length">{{ table.name }} is not linked to another table yet, so there is nothing to sum up.</p>
      <template v-else>
        <p class="clause">
          For each {{ table.one }}, take
          <PickOne v-model="figure" said aria-label="Figure" :items="figures.map((one) => ({ value: one.figure, title: one.name }))" />
          <template v-if="ofField">
            of
            <PickOne v-model="of" said aria-label="Field" :items="named(fields)" />
          </template>
          over
          <PickOne v-model="along" said aria-label="Along" :items="ways.map((one) => ({ value: one.key, title: one.name }))" />
        </p>
        <p v-if="ofField && !fields.length" class="fault-text">{{ end?.name }} has no field that can be figured so.</p>
        <section v-if="end" class="only">
          <h3>{{ ofField ? 'Which are taken' : 'Which are counted' }}</h3>
          <ConditionEditor
            v-model="condition"
            :table="end"
            :lead="`${end.many} of which`"
            :nothing="ofField ? `All ${end.many} are taken.` : `All ${end.many} are counted.`"
          />
        </section>
        <section class="tried" aria-label="What it would show" data-test="summary-tried">
          <p v-if="tryTrouble" class="fault-text" role="alert">{{ tryTrouble }}</p>
          <dl v-else-if="figured?.examples.length" aria-live="polite">
            <template v-for="one in figured.examples" :key="one.record">
              <dt>{{ one.name }}</dt>
              <dd>{{ one.text || 'nothing' }}</dd>
            </template>
          </dl>
        </section>
      </template>
    </ComputedField>
  </main>
  <main v-else-if="table" class="page">
    <h1>This summary is not open to you</h1>
    <p class="quiet">Only the tracker’s steward and builders change fields; or it may have been taken away.</p>
  </main>
</template>

<style scoped>
.page {
  max-width: 760px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-5) 60px;
}
.clause {
  font: 19px/1.7 var(--serif);
  margin: var(--gap-3) 0;
}
.only h3 {
  font-size: 15px;
  margin: var(--gap-4) 0 4px;
}
.tried {
  /* Five of them, before they are there as after: what is below stays where it is. */
  min-height: calc(5 * (1lh + 2px) + var(--gap-2) + 3px);
  margin: var(--gap-3) 0;
  border-top: 3px solid var(--copper);
  padding-top: var(--gap-2);
}
.tried dl {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 1fr);
  gap: 2px var(--gap-3);
  margin: 0;
}
.tried dd {
  margin: 0;
  font-weight: 600;
}
.tried dt {
  color: var(--quiet);
}
</style>
