<script setup lang="ts">
// The title of a view, and beneath it the table's views, each with its sentence; beginning, naming, duplicating, locking.
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { Query, ShapeOffer, Table, View, ViewLine } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useSession } from '@/features/session/session'
import { useTracker } from '@/features/tracker/tracker'
import ShapeSketch from './ShapeSketch.vue'
import ViewWords from './ViewWords.vue'
import { useSketches } from './sketching'
import { useViews } from './views'

const { tracker: currentTracker } = useTracker()
const GiveView = defineAsyncComponent(() => import('@/features/access/GiveView.vue'))

const props = defineProps<{
  tracker: number
  table: Table
  view: View | undefined
  query: Query
  changed: boolean
  /** The shapes that a view of the table can have. */
  shapes?: ShapeOffer[]
}>()
const emit = defineEmits<{ saved: []; drop: []; save: []; trouble: [words: string] }>()

const router = useRouter()
const views = useViews(() => props.tracker)
const { me } = useSession()
watch(views.trouble, (words) => words && emit('trouble', words))
const giving = ref(false)
const builds = computed(() => !!currentTracker.value?.builds)
const standing = computed(() => !!me.value?.stands_in)
const mayGive = computed(() => !!currentTracker.value?.steward && !standing.value && !!props.view && props.view.owner == null)
const mayShare = computed(() => !!currentTracker.value?.steward && !standing.value && !!props.view)
const maySave = computed(() => !!props.view && !standing.value && (props.view.owner != null || builds.value))

// What each view shows is asked when one looks at the list.
const open = ref(false)
const lines = ref<ViewLine[]>([])
const { newest } = useDoing()
watch(open, async (now) => {
  if (!now) return
  const path = { tracker: props.tracker, table: props.table.id }
  lines.value = (await newest(() => told(api.GET('/api/trackers/{tracker}/tables/{table}/views', { params: { path } })))) ?? []
})
const { sketch } = useSketches({
  tracker: () => props.tracker,
  table: () => props.table,
  query: () => props.query,
  offers: () => props.shapes ?? [],
  on: () => open.value,
})
const lineOf = (view: View) => lines.value.find((line) => line.view === view.id)

/** What is being named: a view that is there, or one that is kept of what is shown, perhaps in another shape. */
const naming = ref<{ title: string; does: string; name: string; about: string; query: Query; view?: View; shown?: boolean }>()

function rename() {
  const { view } = props
  if (!view) return
  naming.value = { title: 'Rename this view', does: 'Rename view', name: view.name, about: view.about, query: view.query, view }
}

function duplicate() {
  const name = `${props.view?.name ?? props.table.name}, mine`
  naming.value = { title: 'Keep this as a view', does: 'Keep view', name, about: props.view?.about ?? '', query: props.query, shown: true }
}

/** A new view of all records, in a shape. */
function begin(offer: ShapeOffer) {
  if (!offer.begins) return
  const { fields } = props.query
  const query: Query = { condition: { all: [] }, groups: [], sorts: [], fields, tallies: [], shape: offer.begins }
  naming.value = {
    title: `A new view as ${offer.name}`,
    does: 'Begin view',
    name: `${props.table.name} as ${offer.name}`,
    about: '',
    query,
  }
}

async function keep(words: { name: string; about: string; personal: boolean }) {
  const now = naming.value
  naming.value = undefined
  if (!now) return
  if (now.view) return void (await views.save(props.table, now.view, { name: words.name, about: words.about }))
  const made = await views.make(props.table, words, now.query)
  if (made === undefined) return
  // What one had changed is in the new view now.
  if (now.shown) emit('saved')
  await router.push({ name: 'view', params: { tracker: props.tracker, table: props.table.id, view: made } })
}

async function share() {
  const page = props.view && (await views.share(props.view))
  if (page !== undefined) await router.push({ name: 'page', params: { tracker: props.tracker, page } })
}

async function takeAway() {
  const gone = props.view && (await views.drop(props.view))
  if (gone) await router.push({ name: 'view', params: { tracker: props.tracker, table: props.table.id } })
}
</script>

<template>
  <div class="title">
    <v-menu v-model="open" location="bottom start" offset="4">
      <template #activator="{ props: activator }">
        <h1>
          <button v-bind="activator" data-test="view-menu"
            >{{ view?.name ?? `All ${table.many}` }} <span aria-hidden="true" class="down">▾</span></button
          >
        </h1>
      </template>
      <div class="menu">
        <router-link
          v-for="one in table.views"
          :key="one.id"
          :to="{ name: 'view', params: { tracker, table: table.id, view: one.id } }"
          :class="{ here: one.id === view?.id }"
        >
          {{ one.name }}<span v-if="one.owner" class="quiet">, yours</span
          ><span v-else-if="one.given?.length" class="quiet">, given to {{ one.given.length }}</span
          ><span v-if="one.locked" class="quiet">, locked</span>
          <small v-if="lineOf(one)">{{ lineOf(one)!.sentence }}</small>
        </router-link>
        <template v-if="!standing">
          <hr />
          <div v-if="shapes?.length" class="begin" role="group" aria-label="A new view">
            <span class="quiet">A new view as</span>
            <template v-for="offer in shapes" :key="offer.name">
              <button v-if="offer.begins" :data-begin="offer.name" @click="begin(offer)"
                ><ShapeSketch :name="offer.name" :sketch="sketch" />{{ offer.name }}</button
              >
            </template>
          </div>
          <router-link :to="{ name: 'hangs', params: { tracker, table: table.id } }" data-test="to-hangs"
            >What hangs on {{ table.many }}, and the order of its views</router-link
          >
          <button v-if="maySave && !view?.locked" @click="rename">Rename this view</button>
          <button data-test="duplicate-view" @click="duplicate">Duplicate this view</button>
          <button v-if="maySave" data-test="lock-view" @click="views.save(table, view!, { locked: !view!.locked })">{{
            view?.locked ? 'Unlock this view' : 'Lock this view'
          }}</button>
          <button v-if="view?.owner && builds" data-test="to-team" @click="views.save(table, view, { personal: false })"
            >Hand it to the team</button
          >
          <button v-if="mayGive" data-test="give-this-view" @click="giving = true">Give it to somebody</button>
          <button v-if="mayShare" data-test="share-outside" @click="share">Share it outside</button>
          <button v-if="maySave && !view?.locked && table.views.length > 1" @click="takeAway">Take this view away</button>
        </template>
      </div>
    </v-menu>
    <span v-if="changed" class="unsaved" data-test="unsaved">
      changed by you
      <button v-if="maySave && !view?.locked" data-test="save-view" @click="emit('save')">Save</button>
      <button v-if="!standing" data-test="save-view-as" @click="duplicate">Save as a new view</button>
      <button @click="emit('drop')">Drop changes</button>
    </span>
    <p v-if="view?.about" class="about">{{ view.about }}</p>
    <v-dialog v-model="giving" max-width="560" aria-label="Give this view to somebody">
      <GiveView v-if="view" :table="table" :view="view" @done="giving = false" @leave="giving = false" />
    </v-dialog>
    <v-dialog :model-value="!!naming" max-width="460" :aria-label="naming?.title" @update:model-value="naming = undefined">
      <ViewWords
        v-if="naming"
        :title="naming.title"
        :does="naming.does"
        :name="naming.name"
        :about="naming.about"
        :chooses="naming.view ? undefined : builds"
        @keep="keep"
        @leave="naming = undefined"
      />
    </v-dialog>
  </div>
</template>

<style scoped>
.title {
  display: flex;
  align-items: baseline;
  gap: var(--gap-4);
  flex-wrap: wrap;
}
h1 {
  font-size: 27px;
}
h1 button {
  font: inherit;
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  text-align: left;
}
.down {
  color: var(--quiet);
  font-size: 15px;
}
.menu {
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: var(--gap-3);
  color: var(--ink);
}
.about {
  flex-basis: 100%;
  margin: 0;
  color: var(--quiet);
  max-width: 74ch;
}
.menu {
  display: grid;
  min-width: 230px;
  max-width: min(620px, 94vw);
  max-height: 78vh;
  overflow: auto;
}
.menu small {
  display: block;
  font: 13.5px/1.4 var(--serif);
  color: var(--quiet);
}
.menu .here small {
  font-weight: 400;
}
.begin {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
  align-items: end;
  padding-bottom: var(--gap-2);
}
.begin button {
  display: grid;
  justify-items: start;
}
.menu a,
.menu button {
  padding: 5px 4px;
  text-align: left;
  border: 0;
  background: none;
  color: inherit;
  text-decoration: none;
  cursor: pointer;
}
.menu :is(a, button):hover {
  color: var(--moss);
}
.menu .here {
  font-weight: 600;
}
hr {
  border: 0;
  border-top: 1px solid var(--line);
  width: 100%;
}
.unsaved {
  color: var(--copper);
  font-size: 13px;
  display: inline-flex;
  gap: var(--gap-3);
}
.unsaved button {
  border: 0;
  background: none;
  color: var(--copper);
  text-decoration: underline;
  cursor: pointer;
  padding: 0;
}
</style>
