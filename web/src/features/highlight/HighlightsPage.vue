<script setup lang="ts">
// How a table's records look: one list of sentences, beside the records they act on. The one being written acts on them already.
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { until, useMediaQuery } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { HighlightsRehearsal, HighlightView, Phrase } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { isKept } from '@/features/cell/kinds'
import PickOne from '@/features/menu/PickOne.vue'
import { useSession } from '@/features/session/session'
import DoneLine from '@/features/tracker/DoneLine.vue'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import { plainQuery } from '@/features/view/draft'
import SentenceLine from '@/features/view/SentenceLine.vue'
import { askWhy } from '@/features/why/why'
import CopySheet from './CopySheet.vue'
import { begunFrom, bodyOf, takenOver, type Drafted } from './drafting'
import HighlightLine from './HighlightLine.vue'
import HighlightSheet from './HighlightSheet.vue'
import LookedTable from './LookedTable.vue'

/** Records that stand beside the list, and fields of them. */
const SHOWN = 60
const FIELDS = 7
/** Stands where a sentence will. */
const WAITING: Phrase[] = [{ text: '…', tone: 'plain' }]
/** How long its sentence is waited for, in ms. */
const PATIENCE = 4000

const { tracker: currentTracker } = useTracker()
const phone = useMediaQuery('(max-width: 700px)')
const route = useRoute()
const router = useRouter()
const { me } = useSession()
const edits = useEdits()
const tracker = computed(() => Number(route.params.tracker))
const tableId = computed(() => Number(route.params.table))
const table = computed(() => currentTracker.value?.tables.find((one) => one.id === tableId.value))
const views = computed(() => table.value?.views ?? [])
const view = computed(() => views.value.find((one) => one.id === Number(route.query.view)) ?? views.value[0])
const builds = computed(() => !!currentTracker.value?.builds && !me.value?.stands_in)
const path = computed(() => ({ tracker: tracker.value, table: tableId.value }))
const asked = useAsked(
  () => ['highlights', tracker.value, tableId.value],
  () => told(api.GET('/api/trackers/{tracker}/tables/{table}/highlights', { params: { path: path.value } })),
  (heard) => heard.structure || tableId.value in heard.records,
)
const list = computed<HighlightView[]>(() => asked.told.value ?? [])

/** The one that is open: one that is there, or a new one behind the last. */
const open = ref<{ id: number | undefined; number: number; draft: Drafted }>()
/** The view’s query, with as many fields as there is room for: the first, then those that look otherwise. */
const query = computed(() => {
  const whole = view.value?.query ?? (table.value ? plainQuery(table.value) : { fields: [] })
  const touches = [...list.value.flatMap((one) => one.highlight.touches ?? []), ...(open.value?.draft.touches ?? [])]
  const touched = new Set(touches.flatMap((touch) => touch.fields ?? []))
  const known = [...whole.fields.map((one) => one.field), ...touched].filter((id, n, all) => all.indexOf(id) === n)
  const there = known.filter((id) => table.value?.fields.some((field) => field.id === id && !isKept(field)))
  const first = there.filter((id, n) => n < 2 || touched.has(id)).slice(0, FIELDS)
  const rest = there.filter((id) => !first.includes(id)).slice(0, FIELDS - first.length)
  const shown = there.filter((id) => first.includes(id) || rest.includes(id))
  return { ...whole, shape: { as: 'rows' as const }, groups: [], fields: shown.map((field) => ({ field, width: 140 })) }
})
const fields = computed(() => query.value.fields.map((one) => one.field))

const shown = ref<HighlightsRehearsal>()
const { trouble, busy, attempt } = useDoing()
const rehearsal = useDoing()
async function rehearse() {
  const now = open.value
  const draft = now ? { number: now.id ?? null, highlight: bodyOf(tableId.value, now.draft) } : null
  const body = { query: query.value, count: SHOWN, draft }
  const answer = await rehearsal.newest(() =>
    told(api.POST('/api/trackers/{tracker}/tables/{table}/highlights/rehearsal', { params: { path: path.value }, body })),
  )
  if (answer) shown.value = answer
}
watch([query, open, list], () => void rehearse(), { immediate: true, deep: true })

const sheet = ref<HTMLElement>()
/** What was told of another one says nothing of this. */
const forget = () => shown.value && (shown.value = { ...shown.value, draft: null })
/** To what is being written, once its sentence is there. */
async function reveal() {
  await until(() => shown.value?.draft).toBeTruthy({ timeout: PATIENCE })
  await nextTick()
  const written = sheet.value?.querySelector<HTMLElement>('[data-test=highlight-sheet]')
  written?.scrollIntoView({ block: 'center' })
  written?.querySelector<HTMLElement>('button[data-at]')?.focus()
}
function write(one: HighlightView) {
  if (!builds.value) return
  const { condition, touches } = JSON.parse(JSON.stringify(one.highlight)) as HighlightView['highlight']
  forget()
  open.value = { id: one.highlight.id, number: one.number, draft: { condition: condition ?? { all: [] }, touches: touches ?? [] } }
  void reveal()
}
function begin(draft: Drafted = begunFrom(undefined, undefined)) {
  const last = Math.max(0, ...list.value.map((one) => one.number))
  forget()
  open.value = { id: undefined, number: last + 1, draft }
  void reveal()
}
/** One that is taken along, with what is asked for. */
const copied = ref<HighlightView>()
// What is begun elsewhere is written here, once the list is there.
watch(
  [() => asked.told.value, () => route.query],
  ([there, from]) => {
    if (!there || !builds.value || (!from.begin && !from.field)) return
    const draft = from.begin ? takenOver() : begunFrom(Number(from.field) || undefined, Number(from.option) || undefined)
    void router.replace({ query: { view: from.view } })
    if (draft) begin(draft)
  },
  { immediate: true },
)
const leave = () => {
  open.value = undefined
  trouble.value = ''
}

const parts = useParts(() => tracker.value)
const done = async (does: () => Promise<unknown>) => {
  const kept = await attempt(() => does().then(() => true))
  if (kept) {
    leave()
    await asked.again()
  }
}
function keep() {
  const now = open.value
  if (!now) return
  const highlight = bodyOf(tableId.value, now.draft)
  void done(() => (now.id === undefined ? parts.make({ highlight }) : parts.save('highlight', now.id, { highlight })))
}
const remove = () => open.value?.id !== undefined && void done(() => parts.drop('highlight', open.value!.id!))

/** Puts one at another place of the list. */
async function move(id: number, to: number) {
  if (!builds.value || to < 0 || to >= list.value.length) return
  await attempt(async () => {
    const params = { path: { tracker: tracker.value, highlight: id } }
    edits.remember(tracker.value, await told(api.POST('/api/trackers/{tracker}/highlights/{highlight}/move', { params, body: { to } })))
    await asked.again()
  })
  await nextTick()
  document.getElementById(`highlight-${id}`)?.focus()
}
const carried = ref<number>()

/** A number and its sentence find each other by a press. */
const pointed = ref<number>()
function point(number: number) {
  pointed.value = pointed.value === number ? undefined : number
  const one = list.value.find((other) => other.number === number)
  if (one) document.getElementById(`highlight-${one.highlight.id}`)?.scrollIntoView({ block: 'nearest' })
}
const isOff = (one: HighlightView) => !!view.value?.query.without?.includes(one.highlight.id)

function why(record: number, field: number, event: MouseEvent) {
  void askWhy({ ...path.value, record, field, without: view.value?.query.without ?? [] }, { x: event.clientX, y: event.clientY })
}
</script>

<template>
  <section v-if="table" class="page" aria-labelledby="looks-title">
    <header>
      <div>
        <p class="over">{{ table.name }}, highlights</p>
        <h1 id="looks-title">How {{ table.many }} look</h1>
      </div>
      <v-btn v-if="builds" color="primary" :disabled="open?.id === undefined && !!open" data-test="add-highlight" @click="begin()"
        >Add highlight</v-btn
      >
    </header>
    <SentenceLine :phrases="shown?.sentence ?? WAITING" />
    <p v-if="asked.trouble.value || rehearsal.trouble.value" class="fault-text" role="alert">{{
      asked.trouble.value || rehearsal.trouble.value
    }}</p>
    <div v-if="shown && !asked.waiting.value" class="split">
      <ol ref="sheet" class="list" :aria-label="`Highlights of ${table.many}`">
        <li
          v-for="(one, place) in list"
          :key="one.highlight.id"
          :class="{ pointed: pointed === one.number, off: isOff(one) }"
          data-test="highlight"
          @dragover.prevent
          @drop.prevent="carried !== undefined && move(carried, place)"
        >
          <HighlightSheet
            v-if="open?.id === one.highlight.id"
            :draft="open.draft"
            :table="table"
            :number="one.number"
            :told="shown?.draft"
            :fields="fields.slice(0, phone ? 2 : 4)"
            :is-new="false"
            :busy="busy"
            :trouble="trouble"
            @change="open.draft = $event"
            @keep="keep"
            @leave="leave"
            @remove="remove"
          />
          <HighlightLine
            v-else
            :one="one"
            :first="place === 0"
            :builds="builds"
            :off="isOff(one) ? (view?.name ?? '') : ''"
            @point="point(one.number)"
            @move="move(one.highlight.id, place + $event)"
            @lift="carried = $event ? one.highlight.id : undefined"
            @write="write(one)"
            @copy="copied = one"
          />
        </li>
        <li v-if="open && open.id === undefined">
          <HighlightSheet
            :draft="open.draft"
            :table="table"
            :number="open.number"
            :told="shown?.draft"
            :fields="fields.slice(0, phone ? 2 : 4)"
            is-new
            :busy="busy"
            :trouble="trouble"
            @change="open.draft = $event"
            @keep="keep"
            @leave="leave"
          />
        </li>
        <li v-if="list.length > 1" class="rule quiet"
          >A field’s own highlight goes before the whole {{ table.one }}’s, both go before the colour of an option; for each effect the
          higher one wins.</li
        >
      </ol>
      <div class="beside">
        <p v-if="views.length > 1" class="of"
          ><span class="quiet">as they look in</span>{{ ' ' }}
          <PickOne
            said
            :model-value="view?.id ?? 0"
            aria-label="The view"
            :items="views.map((one) => ({ value: one.id, title: one.name }))"
            @update:model-value="router.replace({ query: { ...route.query, view: Number($event) } })"
        /></p>
        <LookedTable
          v-if="shown"
          :table="table"
          :fields="fields"
          :rows="shown.rows"
          :pointed="pointed"
          :writing="open?.number"
          @point="point"
          @why="why"
        />
        <p v-if="shown" class="quiet small"
          ><template v-if="shown.rows.length < shown.row_count">The first {{ shown.rows.length }} of {{ shown.row_count }}.</template> Press
          a value to ask why it looks so.</p
        >
      </div>
    </div>
    <v-dialog :model-value="!!copied" max-width="560" aria-label="Take a highlight along" @update:model-value="copied = undefined">
      <div v-if="copied" class="boxed"><CopySheet :one="copied" :table="table" @leave="copied = undefined" /></div>
    </v-dialog>
    <DoneLine />
  </section>
</template>

<style scoped>
.page {
  padding: var(--gap-4) var(--gap-5) 60px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: end;
  gap: var(--gap-4);
}
h1 {
  font-size: 27px;
  margin: 0;
}
.over {
  margin: 0;
  font-size: 13px;
  color: var(--quiet);
}
.split {
  display: grid;
  grid-template-columns: minmax(340px, 480px) minmax(0, 1fr);
  gap: var(--gap-5);
  margin-top: var(--gap-3);
  align-items: start;
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--line-strong);
}
.list > li {
  border-bottom: 1px solid var(--line);
}
.rule {
  font: italic 14px/1.5 var(--serif);
  padding: var(--gap-2) 0;
}
.beside {
  min-width: 0;
}
.of {
  margin: 0 0 4px;
}
@media (max-width: 900px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
.small {
  font-size: 12.5px;
  margin: 2px 0 0;
}
</style>
