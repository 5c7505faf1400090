<script setup lang="ts">
// All that hangs on one table, told in one place: its views in their order, forms, automations, pages, how its records look, and who
// reaches them; and anything of it begun from there, from the table, a field or an option, filled in.
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { Query, ShapeOffer, View } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { isKept, options } from '@/features/cell/kinds'
import { useDocuments } from '@/features/document/documents'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { useSession } from '@/features/session/session'
import DoneLine from '@/features/tracker/DoneLine.vue'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import { plainQuery } from '@/features/view/draft'
import ShapeSketch from '@/features/view/ShapeSketch.vue'
import { useSketches } from '@/features/view/sketching'
import { useViews } from '@/features/view/views'
import { figure } from '@/theme/own'
import RoundsRule from '@/features/rounds/RoundsRule.vue'
import { type Beginning, viewsOf, viewWith } from './beginning'

const { tracker: currentTracker, read: readTracker } = useTracker()
const route = useRoute()
const router = useRouter()
const edits = useEdits()
const { me } = useSession()
const tracker = computed(() => Number(route.params.tracker))
const tableId = computed(() => Number(route.params.table))
const table = computed(() => currentTracker.value?.tables.find((one) => one.id === tableId.value))
const at = computed(() => ({ tracker: tracker.value, table: tableId.value }))
const standing = computed(() => !!me.value?.stands_in)
const builds = computed(() => !!currentTracker.value?.builds && !standing.value)
const doing = useDoing()
const parts = useParts(() => tracker.value)
const making = useViews(() => tracker.value)

const plan = useAsked(
  () => ['groundplan', tracker.value],
  () => told(api.GET('/api/trackers/{tracker}/groundplan', { params: { path: { tracker: tracker.value } } })),
  () => true,
)
const plate = computed(() => plan.told.value?.tables.find((one) => one.id === tableId.value))
const forms = computed(() => (plan.told.value?.forms ?? []).filter((one) => one.table === tableId.value))
const automations = computed(() => (plan.told.value?.automations ?? []).filter((one) => one.table === tableId.value))
const pages = computed(() => (plan.told.value?.pages ?? []).filter((one) => one.tables.includes(tableId.value)))
const { documents } = useDocuments(
  () => tracker.value,
  () => tableId.value,
)
const links = computed(() => (plan.told.value?.links ?? []).filter((one) => one.from === tableId.value || one.to === tableId.value))
const nameOf = (id: number) => currentTracker.value?.tables.find((one) => one.id === id)?.name ?? ''
const looks = useAsked(
  () => ['highlights', tracker.value, tableId.value],
  () => told(api.GET('/api/trackers/{tracker}/tables/{table}/highlights', { params: { path: at.value } })),
  (heard) => heard.structure || tableId.value in heard.records,
)
const lines = useAsked(
  () => ['view lines', tracker.value, tableId.value],
  () => told(api.GET('/api/trackers/{tracker}/tables/{table}/views', { params: { path: at.value } })),
  () => true,
)
const sentenceOf = (view: View) => lines.told.value?.find((line) => line.view === view.id)?.sentence
const trouble = computed(() => doing.trouble.value || making.trouble.value || plan.trouble.value)

/** The team’s views, and one’s own, each in an order of its own. */
const lists = computed(() => {
  const all = table.value?.views ?? []
  return [
    { name: 'Views of the team', views: all.filter((view) => view.owner == null), moves: builds.value },
    { name: 'Views of your own', views: all.filter((view) => view.owner != null), moves: !standing.value },
  ].filter((list) => list.views.length)
})
async function move(view: View, among: View[], by: number) {
  const to = among.indexOf(view) + by
  if (to < 0 || to >= among.length) return
  await place(view, to)
  await nextTick()
  document.getElementById(`view-${view.id}`)?.focus()
}
const place = (view: View, to: number) =>
  doing.attempt(async () => {
    const params = { path: { tracker: tracker.value, view: view.id } }
    edits.remember(tracker.value, await told(api.POST('/api/trackers/{tracker}/views/{view}/move', { params, body: { to } })))
    await readTracker()
    await lines.again()
  })
const carried = ref<View>()
async function drop(onto: View, among: View[]) {
  const now = carried.value
  carried.value = undefined
  if (now && now !== onto && among.includes(now)) await place(now, among.indexOf(onto))
}
function keys(event: KeyboardEvent, view: View, among: View[]) {
  const by = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (!event.altKey || !by) return
  event.preventDefault()
  void move(view, among, by)
}

// What can be begun: asked of the table as it is, with the shapes that it can have.
const query = computed<Query>(() => table.value?.views[0]?.query ?? (table.value ? plainQuery(table.value) : { fields: [] }))
const shaped = useAsked(
  () => ['shapes', tracker.value, tableId.value],
  () =>
    told(
      api.POST('/api/trackers/{tracker}/tables/{table}/query', {
        params: { path: at.value },
        body: { query: { ...query.value, condition: { all: [] }, groups: [], shape: { as: 'rows' } } },
      }),
    ),
  (heard) => heard.structure,
)
const offers = computed<ShapeOffer[]>(() => shaped.told.value?.shapes ?? [])
const { sketch } = useSketches({
  tracker: () => tracker.value,
  table: () => table.value,
  query: () => query.value,
  offers: () => offers.value,
  on: () => !standing.value,
})
const beginShape = (offer: ShapeOffer) =>
  offer.begins &&
  begin({
    key: offer.name,
    says: offer.name,
    name: `${table.value!.name} as ${offer.name}`,
    query: { condition: { all: [] }, groups: [], sorts: [], tallies: [], fields: query.value.fields, shape: offer.begins },
  })
async function begin(one: Beginning) {
  if (!table.value) return
  const made = await making.make(table.value, { name: one.name, about: '', personal: !builds.value }, one.query)
  if (made !== undefined) await router.push({ name: 'view', params: { ...at.value, view: made } })
}

const fieldId = ref<number | null>(null)
const optionId = ref<number | null>(null)
watch(
  () => route.query,
  (now) => {
    fieldId.value = Number(now.field) || null
    optionId.value = Number(now.option) || null
  },
  { immediate: true },
)
const fields = computed(() => (table.value?.fields ?? []).filter((field) => !isKept(field)))
const field = computed(() => fields.value.find((one) => one.id === fieldId.value))
const option = computed(() => (field.value ? options(field.value).find((one) => one.id === optionId.value) : undefined))
const beginnings = computed<Beginning[]>(() => {
  if (!table.value || !field.value) return []
  const views = viewsOf(table.value, field.value, query.value, offers.value)
  return option.value ? [viewWith(table.value, field.value, option.value, query.value), ...views] : views
})

const newForm = () =>
  doing.attempt(async () => {
    const done = await parts.make({ form: { table: tableId.value, title: `New ${table.value?.one ?? 'record'}` } })
    await readTracker()
    await router.push({ name: 'form', params: { tracker: tracker.value, form: done.made! } })
  })
</script>

<template>
  <main v-if="table && currentTracker" class="page" data-test="hangs">
    <p class="over"
      ><router-link :to="{ name: 'view', params: at }">{{ table.name }}</router-link
      >, {{ figure(table.count) }} {{ table.count === 1 ? table.one : table.many }}</p
    >
    <h1>What hangs on {{ table.many }}</h1>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <!-- All at once: what is read would jump otherwise. -->
    <template v-if="lines.told.value && plan.told.value">
      <section v-for="list in lists" :key="list.name" :aria-label="list.name">
        <h2>{{ list.name }}</h2>
        <ol class="views">
          <li
            v-for="(view, n) in list.views"
            :key="view.id"
            :data-view="view.name"
            @dragover.prevent
            @drop.prevent="drop(view, list.views)"
          >
            <button
              v-if="list.moves && list.views.length > 1"
              :id="`view-${view.id}`"
              type="button"
              class="number"
              draggable="true"
              :aria-label="`${view.name}, place ${n + 1} of ${list.views.length}`"
              aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown"
              title="Drag it, or Alt with ↑ and ↓"
              @dragstart="carried = view"
              @dragend="carried = undefined"
              @keydown="keys($event, view, list.views)"
              >{{ n + 1 }}</button
            >
            <span v-else class="number">{{ n + 1 }}</span>
            <div>
              <router-link :to="{ name: 'view', params: { ...at, view: view.id } }">{{ view.name }}</router-link><span
                v-if="view.locked"
                class="quiet"
                >, locked</span
              >
              <p v-if="sentenceOf(view)" class="says">{{ sentenceOf(view) }}</p>
            </div>
            <button
              v-if="list.moves && n"
              type="button"
              class="link"
              :aria-label="`${view.name} higher`"
              @click="move(view, list.views, -1)"
              >higher</button
            >
          </li>
        </ol>
      </section>
      <section v-if="!standing" aria-label="Begin a view">
        <h2>Begin a view as</h2>
        <div class="shapes">
          <div v-for="offer in offers" :key="offer.name">
            <button type="button" :disabled="!offer.begins" :data-begin="offer.name" @click="beginShape(offer)"
              ><ShapeSketch :name="offer.name" :sketch="sketch" /><b>{{ offer.name }}</b></button
            >
            <p v-if="offer.missing" class="quiet"
              >{{ offer.missing }}
              <router-link v-if="offer.makes && builds" :to="{ name: 'design', params: at, query: { field: 'new' } }"
                >Make one</router-link
              ></p
            >
          </div>
        </div>
        <p class="from">
          or from
          <PickOne
            v-model="fieldId"
            said
            aria-label="The field to begin from"
            data-test="begin-field"
            :items="[{ value: null, title: 'a field …' }, ...named(fields)]"
          />
          <template v-if="field && options(field).length">
            and
            <PickOne
              v-model="optionId"
              said
              aria-label="The option to begin from"
              data-test="begin-option"
              :items="[{ value: null, title: 'any of its options' }, ...options(field).map((one) => ({ value: one.id, title: one.name }))]"
            />
          </template>
          <template v-if="field">
            <span v-if="!beginnings.length" class="quiet">: no shape stands by it, and it makes no groups.</span>
            <span v-for="one in beginnings" :key="one.key" class="way"
              ><button type="button" class="link" :data-begin="one.key" @click="begin(one)">{{ one.says }}</button></span
            >
            <span v-if="builds" class="way"
              ><router-link
                data-begin="highlight"
                :to="{ name: 'highlights', params: at, query: { field: field.id, ...(option ? { option: option.id } : {}) } }"
                >a highlight of it</router-link
              ></span
            >
          </template>
        </p>
      </section>
      <section aria-label="Forms">
        <h2>Forms that put {{ table.many }} in</h2>
        <p v-for="one in forms" :key="one.form"
          ><router-link :to="{ name: 'form', params: { tracker, form: one.form } }">{{ one.title }}</router-link
          >, {{ one.open ? 'open' : 'closed' }}, {{ one.week }} this week</p
        >
        <p v-if="!forms.length" class="quiet">None.</p>
        <p v-if="builds"><button type="button" class="link" data-begin="form" @click="newForm">begin a form</button></p>
      </section>
      <section aria-label="Automations">
        <h2>What happens by itself</h2>
        <p v-for="one in automations" :key="one.automation"
          ><router-link :to="{ name: 'automations', params: { tracker } }">{{ one.name }}</router-link
          >: {{ one.to }}{{ one.on ? '' : ', off' }}</p
        >
        <p v-if="!automations.length" class="quiet">Nothing.</p>
        <p v-if="builds"
          ><router-link
            :to="{ name: 'automations', params: { tracker }, query: { table: tableId, field: route.query.field } }"
            data-begin="automation"
            >begin an automation</router-link
          ></p
        >
      </section>
      <section v-if="documents.length || builds" aria-label="Documents">
        <h2>Printed as</h2>
        <p v-for="one in documents" :key="one.id"
          ><router-link v-if="builds" :to="{ name: 'document', params: { tracker, document: one.id } }">{{ one.title }}</router-link
          ><template v-else>{{ one.title }}</template
          >, {{ one.of === 'each' ? `a sheet for each ${table.one}` : `one sheet for all ${table.many} together` }}</p
        >
        <p v-if="!documents.length" class="quiet">Nothing.</p>
        <p v-if="builds"
          ><router-link :to="{ name: 'documents', params: { tracker }, query: { table: tableId } }" data-begin="document"
            >begin a document</router-link
          ></p
        >
      </section>
      <RoundsRule v-if="builds" :tracker="currentTracker" :table="table" />
      <section v-if="pages.length || currentTracker.steward" aria-label="Shared pages">
        <h2>Shown outside</h2>
        <p v-for="one in pages" :key="one.page"
          ><router-link :to="{ name: 'page', params: { tracker, page: one.page } }">{{ one.title }}</router-link
          >, {{ one.open ? 'open' : 'closed' }}, for {{ one.to }}</p
        >
        <p v-if="!pages.length" class="quiet">Nothing. A view is shared from its own menu.</p>
      </section>
      <section aria-label="How they look">
        <h2>How they look</h2>
        <p v-for="one in looks.told.value ?? []" :key="one.number" class="says"
          >{{ one.number }}.
          {{
            one.words.sentence
              .filter((phrase) => phrase.tone !== 'offer')
              .map((phrase) => phrase.text)
              .join('')
          }}</p
        >
        <p v-if="!looks.told.value?.length" class="quiet">As everything does.</p>
        <p
          ><router-link :to="{ name: 'highlights', params: at }">{{ builds ? 'highlights' : 'see the highlights' }}</router-link></p
        >
      </section>
      <section aria-label="Who reaches them">
        <h2>Who reaches them</h2>
        <p>{{ plate?.seen_by.length ? plate.seen_by.join(', ') : 'Whoever may open this tracker’s table.' }}</p>
        <p v-if="currentTracker.steward"><router-link :to="{ name: 'access', params: { tracker } }">roles and reach</router-link></p>
      </section>
      <section v-if="links.length" aria-label="Links">
        <h2>Linked with</h2>
        <p v-for="one in links" :key="`${one.from}${one.to}${one.name}`"
          ><router-link :to="{ name: 'hangs', params: { tracker, table: one.from === tableId ? one.to : one.from } }">{{
            nameOf(one.from === tableId ? one.to : one.from)
          }}</router-link
          >, by {{ one.name.toLowerCase() }}</p
        >
      </section>
      <p v-if="builds"
        ><router-link :to="{ name: 'design', params: at }">fields of {{ table.many }}</router-link></p
      >
    </template>
    <DoneLine />
  </main>
  <main v-else class="page">
    <h1>There is no such table here</h1>
    <p class="quiet">It may have been taken away, or it is not open to you.</p>
  </main>
</template>

<style scoped>
.page {
  padding: var(--gap-4) var(--gap-5) 60px;
  max-width: 860px;
  margin: 0 auto;
}
.over {
  margin: 0;
  font-size: 13px;
  color: var(--quiet);
}
h1 {
  font-size: 27px;
  margin: 0 0 var(--gap-3);
}
section {
  border-top: 1px solid var(--line);
  padding: var(--gap-2) 0 var(--gap-3);
}
h2 {
  font: 600 17px/1.4 var(--serif);
  margin: 0 0 2px;
}
p {
  margin: 2px 0;
}
.views {
  list-style: none;
  margin: 0;
  padding: 0;
}
.views li {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr) auto;
  gap: 0 var(--gap-2);
  align-items: start;
  padding: 3px 0;
}
.number {
  border: 1px solid transparent;
  background: none;
  color: var(--quiet);
  font: italic 15px/1.5 var(--serif);
  min-height: 28px;
  text-align: center;
}
button.number {
  cursor: grab;
  color: var(--ink);
}
button.number:hover {
  border-color: var(--line-strong);
}
.says {
  font: 14px/1.45 var(--serif);
  color: var(--quiet);
}
.shapes {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-5);
}
.shapes > div {
  max-width: 190px;
}
.shapes button {
  display: grid;
  gap: 2px;
  justify-items: start;
  border: 0;
  border-top: 2px solid var(--line);
  background: none;
  color: inherit;
  padding: var(--gap-2) 0;
  cursor: pointer;
}
.shapes button:hover:not(:disabled) {
  border-top-color: var(--moss);
}
.from {
  font: 16px/1.8 var(--serif);
  margin-top: var(--gap-2);
}
.way::before {
  content: ', ';
}
.way:first-of-type::before {
  content: ': ';
}
@media (max-width: 700px) {
  .views li {
    padding: 8px 0;
  }
  button.number,
  .page .link {
    min-height: 40px;
  }
}
</style>
