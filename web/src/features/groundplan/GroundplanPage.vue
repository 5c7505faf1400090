<script setup lang="ts">
// The tracker's front page: its tables in the direction in which work flows, what feeds them, what goes out, what hangs loose.
import { figure } from '@/theme/own'
import { computed, nextTick, ref, watch, useTemplateRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useMediaQuery, useWindowSize } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { Stage } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { iconOf } from '@/app/icons'
import { useEdits } from '@/features/cell/edits'
import { useParts } from '@/features/tracker/parts'
import { useSession } from '@/features/session/session'
import { useTracker } from '@/features/tracker/tracker'
import { pictureOf, namesIn } from './layout'
import PlanList from './PlanList.vue'
import PublishSheet from './PublishSheet.vue'
import StageSheet from './StageSheet.vue'
import TrackerSheet from './TrackerSheet.vue'

const { tracker: currentTracker, read: readTracker } = useTracker()

const route = useRoute()
const router = useRouter()
const edits = useEdits()
const parts = useParts(() => tracker.value)
const { me } = useSession()
const tracker = computed(() => Number(route.params.tracker))
const doing = useDoing()
const trouble = computed(() => doing.trouble.value || asked.trouble.value || bin.trouble.value)
const list = ref(false)
const narrow = useMediaQuery('(max-width: 800px)')
const open = ref<'publish' | 'tracker'>()
/** The stage of its life that is rehearsed. */
const stage = ref<Stage>()
const standing = computed(() => !!me.value?.stands_in)
const adding = ref(false)
const naming = useTemplateRef('naming')
watch(naming, (box) => box?.focus())
const name = ref('')
const ends = ref(false)
const builds = computed(() => !!currentTracker.value?.builds && !me.value?.stands_in)

const params = () => ({ params: { path: { tracker: tracker.value } } })
const asked = useAsked(
  () => ['groundplan', tracker.value],
  () => told(api.GET('/api/trackers/{tracker}/groundplan', params())),
  () => true,
)
const plan = asked.told
/** Tables that were removed. */
const bin = useAsked(
  () => ['bin', tracker.value, builds.value],
  () => (builds.value ? told(api.GET('/api/trackers/{tracker}/bin', params())) : Promise.resolve([])),
  () => true,
)
const binned = computed(() => bin.told.value ?? [])
// Whoever comes for the bin is led to it, once it is there.
watch([() => route.hash, bin.told], async ([hash, told]) => {
  if (hash !== '#bin' || !told) return
  await nextTick()
  document.querySelector<HTMLElement>('#bin')?.focus()
})

const { width: room } = useWindowSize()
const picture = computed(() => plan.value && pictureOf(plan.value, room.value - 56))
const came = computed(() => (plan.value?.tables ?? []).filter((t) => t.came).slice(0, 3))
const endsOf = (table: number) => (plan.value?.ends ?? []).filter((e) => e.at?.table === table)
const px = (spot: { x: number; y: number } | undefined) => ({ left: `${spot?.x ?? 0}px`, top: `${spot?.y ?? 0}px` })
const at = (table: number) => ({ tracker: tracker.value, table })
const views = (table: number) => currentTracker.value?.tables.find((t) => t.id === table)?.views ?? []

const addTable = () =>
  doing.attempt(async () => {
    const names = namesIn(name.value)
    let made: number | undefined
    for (const one of names) {
      const done = await told(api.POST('/api/trackers/{tracker}/tables', { ...params(), body: { name: one } }))
      edits.remember(tracker.value, done)
      made = done.made!
    }
    await readTracker()
    adding.value = false
    name.value = ''
    if (names.length === 1) await router.push({ name: 'view', params: at(made!) })
  })

const restore = (table: number) =>
  doing.attempt(async () => {
    const done = await told(
      api.POST('/api/trackers/{tracker}/tables/{table}/restore', { params: { path: { tracker: tracker.value, table } } }),
    )
    edits.remember(tracker.value, done)
    await readTracker()
    await Promise.all([asked.again(), bin.again()])
  })

const newForm = (table: number) =>
  doing.attempt(async () => {
    const home = currentTracker.value?.tables.find((t) => t.id === table)
    const done = await parts.make({ form: { table, title: `New ${home?.one ?? 'record'}` } })
    await readTracker()
    await router.push({ name: 'form', params: { tracker: tracker.value, form: done.made! } })
  })
</script>

<template>
  <main v-if="plan && currentTracker" class="plan" data-test="groundplan">
    <div class="head">
      <div>
        <p class="over">{{ currentTracker.area_name || 'In no area' }}</p>
        <h1
          ><v-icon
            :icon="iconOf(currentTracker.icon)"
            size="24"
            :style="{ color: currentTracker.hue ? `var(--${currentTracker.hue})` : undefined }"
          />
          {{ currentTracker.name }}</h1
        >
      </div>
      <div class="acts">
        <v-btn v-if="!narrow" variant="text" @click="list = !list">{{ list ? 'As a picture' : 'As a list' }}</v-btn>
        <v-menu v-if="builds" location="bottom end">
          <template #activator="{ props }"><v-btn v-bind="props" variant="text" data-test="more">More ▾</v-btn></template>
          <div class="popup">
            <button data-test="publish" @click="open = 'publish'">Publish as a template</button>
            <a v-if="currentTracker.steward" :href="`/api/trackers/${tracker}/package`" data-test="package"
              >Save the whole tracker as a file</a
            >
            <button v-if="currentTracker.steward" @click="open = 'tracker'">Name, area and looks</button>
            <router-link :to="{ name: 'access', params: { tracker } }">Who may do what</router-link>
            <template v-if="currentTracker.steward">
              <button data-stage="closed" @click="stage = 'closed'">Close it …</button>
              <button data-stage="away" @click="stage = 'away'">Put it away …</button>
              <button data-stage="removed" @click="stage = 'removed'">Remove it …</button>
            </template>
          </div>
        </v-menu>
        <v-btn v-if="builds" variant="outlined" :to="{ name: 'import', params: { tracker } }">Import a file</v-btn>
        <v-btn v-if="builds" color="primary" data-test="add-table" @click="adding = true">Add table</v-btn>
      </div>
    </div>
    <p v-if="currentTracker.stage_says" class="stage" data-test="stage">
      {{ currentTracker.stage_says }}
      <template v-if="currentTracker.steward && !standing"
        ><button type="button" class="link" data-stage="open" @click="stage = 'open'">Open it again</button
        ><button v-if="currentTracker.stage === 'closed'" type="button" class="link" data-stage="away" @click="stage = 'away'"
          >Put it away</button
        ><button v-if="currentTracker.stage !== 'removed'" type="button" class="link" data-stage="removed" @click="stage = 'removed'"
          >Remove it</button
        ></template
      >
    </p>
    <StageSheet v-if="stage" :key="stage" :tracker="tracker" :to="stage" class="rehearsed" @close="stage = undefined" />
    <p class="sentence">
      {{ plan.says }}
      <template v-if="came.length"
        >This week came in
        <template v-for="(one, n) in came" :key="one.id"
          >{{ n ? ', ' : '' }}<router-link :to="{ name: 'view', params: at(one.id) }">{{ one.came }}</router-link></template
        >.</template
      >
      <template v-if="plan.ends_say"
        >{{ ' ' }}<button class="loose" data-test="loose-ends" @click="ends = !ends">{{ plan.ends_say }}</button
        >.</template
      >
    </p>
    <p v-if="currentTracker.description" class="quiet about">{{ currentTracker.description }}</p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <form v-if="adding" class="adding" @submit.prevent="addTable">
      <label>The new table is called (or several, parted by commas) <input ref="naming" v-model="name" data-test="new-table-name" /></label>
      <v-btn type="submit" color="primary" size="small" :disabled="!name.trim()" data-test="add-table-yes">Add it</v-btn>
      <v-btn variant="text" size="small" @click="adding = false">Leave it</v-btn>
    </form>
    <PublishSheet v-if="open === 'publish'" :tracker="currentTracker" @close="open = undefined" />
    <TrackerSheet v-if="open === 'tracker'" :tracker="currentTracker" @close="open = undefined" />
    <ul v-if="ends" class="ends" data-test="ends">
      <li v-for="(end, n) in plan.ends" :key="n">
        <router-link v-if="end.at" :to="{ name: 'record', params: { ...at(end.at.table), record: end.at.record } }">{{
          end.words
        }}</router-link>
        <router-link v-else-if="end.sort === 'lost'" :to="{ name: 'automations', params: { tracker }, query: { state: 'failed' } }">{{
          end.words
        }}</router-link>
        <template v-else>{{ end.words }}</template>
      </li>
    </ul>
    <p v-if="!plan.tables.length" class="quiet"> There is no table yet. Add one, or import a file: its columns become the fields. </p>
    <PlanList v-else-if="list || narrow" :plan="plan" :tracker="tracker" />
    <div v-else-if="picture" class="scroll">
      <div class="picture" :style="{ width: `${picture.width}px`, height: `${picture.height}px`, '--plate': `${picture.plate}px` }">
        <svg :width="picture.width" :height="picture.height" aria-hidden="true">
          <path v-for="line in picture.lines" :key="line.key" :d="line.path" />
        </svg>
        <span
          v-for="line in picture.lines.filter((l) => l.name)"
          :key="`n${line.key}`"
          class="name"
          :style="{ ...px(line.at), maxWidth: `${picture.gap}px` }"
          >{{ line.name!.toLowerCase() }}</span
        >
        <p v-if="plan.forms.length" class="side" style="left: 0">Comes in</p>
        <p v-if="plan.automations.length || plan.pages.length" class="side" :style="{ left: `${picture.width - 170}px` }">Goes out</p>
        <router-link
          v-for="form in plan.forms"
          :key="`f${form.form}`"
          class="edge in"
          :style="px(picture.forms.get(form.form))"
          :to="{ name: 'form', params: { tracker, form: form.form } }"
        >
          <b>{{ form.title }}</b><span class="quiet">{{ form.open ? 'open form' : 'closed form' }}, {{ form.week }} this week</span>
        </router-link>
        <div v-for="table in plan.tables" :key="table.id" class="plate" :style="px(picture.tables.get(table.id))" :data-plate="table.name">
          <p v-if="table.heading" class="heading">{{ table.heading }}</p>
          <h2
            ><router-link :to="{ name: 'view', params: at(table.id) }">{{ table.name }}</router-link></h2
          >
          <p
            >{{ figure(table.count) }}<span v-if="table.week" class="quiet">, {{ table.week }} this week</span></p
          >
          <router-link
            v-for="end in endsOf(table.id).slice(0, 1)"
            :key="end.words"
            class="end"
            :title="end.words"
            :to="{ name: 'record', params: { ...at(table.id), record: end.at!.record } }"
            >▲ {{ end.words }}</router-link
          >
          <v-menu v-if="builds" location="bottom end" max-height="420">
            <template #activator="{ props }"
              ><button v-bind="props" class="dots" :aria-label="`What hangs on ${table.name}`" :data-menu="table.name">⋯</button></template
            >
            <div class="popup">
              <p class="quiet">{{ table.seen_by.length ? `Seen by ${table.seen_by.join(', ')}` : 'What hangs on it' }}</p>
              <router-link
                v-for="view in views(table.id)"
                :key="view.id"
                :to="{ name: 'view', params: { ...at(table.id), view: view.id } }"
                >{{ view.name }}</router-link
              >
              <router-link :to="{ name: 'hangs', params: at(table.id) }" :data-hangs="table.name"
                >What hangs on it, and what to begin</router-link
              >
              <router-link :to="{ name: 'design', params: at(table.id) }" :data-design="table.name">Its fields</router-link>
              <router-link :to="{ name: 'design', params: at(table.id), query: { field: 'new' } }">New field</router-link>
              <button @click="newForm(table.id)">New form</button>
              <router-link :to="{ name: 'import', params: { tracker }, query: { into: table.id } }">Records from a file</router-link>
            </div>
          </v-menu>
        </div>
        <router-link
          v-for="one in plan.automations"
          :key="`a${one.automation}`"
          class="edge out"
          :style="px(picture.automations.get(one.automation))"
          :to="{ name: 'automations', params: { tracker } }"
        >
          <b>{{ one.name }}</b><span class="quiet">{{ one.to }}{{ one.on ? '' : ', off' }}</span>
        </router-link>
        <router-link
          v-for="one in plan.pages"
          :key="`p${one.page}`"
          class="edge out"
          :style="px(picture.pages.get(one.page))"
          :to="{ name: 'page', params: { tracker, page: one.page } }"
        >
          <b>{{ one.title }}</b><span class="quiet">{{ one.open ? 'a page for' : 'a closed page for' }} {{ one.to }}</span>
        </router-link>
      </div>
    </div>
    <section v-if="builds" id="bin" class="bin" tabindex="-1" aria-label="The bin">
      <h2>The bin</h2>
      <p v-for="one in binned" :key="one.table" class="quiet" data-test="binned">
        {{ one.name }} was removed {{ one.at }}. <button class="loose back" @click="restore(one.table)">Bring it back</button>
      </p>
      <p v-if="!binned.length" class="quiet">No table is in it.</p>
      <p class="quiet">Fields that were removed wait at the foot of their table’s fields.</p>
    </section>
  </main>
  <p v-else-if="trouble" class="fault-text plan" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.stage {
  margin: 0 0 var(--gap-3);
  padding: 8px 12px;
  border-left: 3px solid var(--copper);
  background: var(--copper-soft);
}
.stage button {
  margin-left: 12px;
}
.rehearsed {
  margin-bottom: var(--gap-4);
}
.plan {
  padding: var(--gap-4) var(--gap-5) 40px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: var(--gap-3);
}
.over {
  margin: 0;
  color: var(--quiet);
  font-size: 13px;
}
h1 {
  font-size: 28px;
}
.acts {
  margin-left: auto;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.sentence {
  font: 19px/1.6 var(--serif);
  margin: 6px 0 0;
}
.about {
  font: 15px/1.5 var(--serif);
  margin: 0;
}
.loose {
  border: 0;
  border-bottom: 1px dashed var(--fault);
  background: none;
  color: var(--fault);
  padding: 0;
  font: inherit;
  cursor: pointer;
}
.back {
  color: var(--moss);
  border-color: var(--moss);
}
.ends {
  margin: 6px 0;
}
.adding {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: var(--gap-3) 0;
}
.adding input {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 5px 8px;
  margin-left: 6px;
}
.scroll {
  overflow-x: auto;
  margin-top: var(--gap-4);
}
.picture {
  position: relative;
}
svg {
  position: absolute;
  inset: 0;
}
path {
  fill: none;
  stroke: var(--line-strong);
  stroke-width: 1.5;
}
.name {
  position: absolute;
  transform: translate(-50%, -60%);
  background: var(--stone);
  color: var(--quiet);
  /* The longest word of the demo still stands between two plates. */
  font-size: 11px;
  line-height: 1.1;
  padding: 0 1px;
  text-align: center;
  hyphens: auto;
}
.side {
  position: absolute;
  top: 0;
  margin: 0;
  font-weight: 600;
  font-size: 12.5px;
  color: var(--quiet);
}
.plate {
  position: absolute;
  width: var(--plate);
  min-height: 62px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: 9px 6px 9px 10px;
}
.plate h2 {
  font-size: 15px;
  padding-right: 14px;
}
.plate h2 a {
  color: var(--ink);
  text-decoration: none;
}
.plate h2 a:hover {
  text-decoration: underline;
}
.plate .heading {
  font-size: 11.5px;
}
.plate p {
  margin: 0;
  color: var(--quiet);
  font-size: 13px;
}
.end {
  /* Two lines: the plates below stand where they stand; the whole is in the list of loose ends. */
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
  color: var(--fault);
  font-size: 12.5px;
  text-decoration: none;
}
.dots {
  position: absolute;
  top: 6px;
  right: 4px;
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--quiet);
}
.popup p {
  margin: 0;
  padding: 5px 10px;
  white-space: nowrap;
}
.edge {
  position: absolute;
  width: 172px;
  display: grid;
  color: var(--ink);
  text-decoration: none;
  font-size: 13px;
}
.edge b {
  font-weight: 500;
}
.in {
  text-align: right;
  padding-right: 10px;
  border-right: 3px solid var(--copper);
}
.out {
  padding-left: 10px;
  border-left: 3px solid var(--moss);
}
.bin {
  margin-top: var(--gap-5);
  outline: 0;
}
.bin h2 {
  font: 600 17px/1.4 var(--serif);
  margin: 0 0 4px;
}
.bin p {
  margin: 0;
}
</style>
