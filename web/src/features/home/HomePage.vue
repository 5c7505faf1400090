<script setup lang="ts">
// Home is a short report: what others did in each tracker since one last looked, and what hangs loose.
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { HomeLine, HomeOrder, Since } from '@/api/types'
import { useAsked } from '@/app/asking'
import LastDone from '@/app/LastDone.vue'
import PickOne from '@/features/menu/PickOne.vue'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import { useTeamSteps } from '@/features/people/steps'
import { useSession } from '@/features/session/session'
import SentenceLine from '@/features/view/SentenceLine.vue'
import AreaPanel from './AreaPanel.vue'
import HomeBoards from './HomeBoards.vue'
import HomeEntry from './HomeEntry.vue'
import OnYou from './OnYou.vue'
import OtherTrackers from './OtherTrackers.vue'
import { groupsOf, narrowed, ORDERS, SINCE, STARTS } from './home'

const { me } = useSession()
/** How one wants it told stays as it is on this device. */
const since = useLocalStorage<Since>('home-since', 'looked')
const order = useLocalStorage<HomeOrder>('home-order', 'area')
const home = useAsked(
  () => ['home', since.value, order.value],
  () => told(api.GET('/api/home', { params: { query: { since: since.value, order: order.value } } })),
)
const readonly = computed(() => !!me.value?.stands_in)
const owns = computed(() => !!me.value?.owns && !readonly.value)
const areas = useAsked(
  () => ['areas', owns.value],
  () => (owns.value ? told(api.GET('/api/team/areas')) : Promise.resolve([])),
)
const team = useAsked(
  () => ['home-groups', owns.value],
  () => (owns.value ? told(api.GET('/api/team')) : Promise.resolve(null)),
)
const steps = useTeamSteps(() => Promise.all([home.again(), areas.again(), team.again()]))
const { words, canUndo, trouble, undo, close: forget } = steps

const search = ref('')
const sections = computed(() => narrowed(home.told.value?.sections ?? [], search.value))
const lines = computed(() => home.told.value?.sections.flatMap((section) => section.lines) ?? [])
const empty = computed(() => areas.told.value?.filter((area) => !area.trackers.length) ?? [])
/** Areas of which nothing stands under their own name: all that lies in them is kept on top, or out of the way. */
const elsewhere = computed(() => {
  const shown = new Set(home.told.value?.sections.map((section) => section.area))
  return areas.told.value?.filter((one) => one.trackers.length && !shown.has(one.id)) ?? []
})

const area = ref<number | 'new'>()
const opened = computed(() => areas.told.value?.find((one) => one.id === area.value))
async function kept(done: Parameters<typeof steps.done>[0]) {
  area.value = undefined
  await steps.done(done)
}

const menu = ref<{ at: { x: number; y: number }; line: HomeLine }>()
const groups = computed(() => groupsOf(team.told.value?.groups ?? [], menu.value?.line.id))
async function keepOnTop(line: HomeLine, on: boolean, group: number | null = null) {
  menu.value = undefined
  const path = { tracker: line.id }
  await steps.attempt(() => told(api.PUT('/api/trackers/{tracker}/top', { params: { path }, body: { on, group } })))
  await steps.done(undefined)
}
</script>

<template>
  <section v-if="home.told.value" class="home">
    <p class="over">{{ me?.team }}, {{ home.told.value.now }}</p>
    <div class="head">
      <h1>{{ home.told.value.title }}</h1>
      <v-btn variant="text" :to="{ name: 'people' }" data-test="people">People</v-btn>
      <v-btn v-if="!readonly" color="primary" :to="{ name: 'start' }" data-test="start">Start a tracker</v-btn>
    </div>
    <p v-if="!lines.length" class="quiet">
      No tracker is open to you yet. Start one, or ask the person who runs one to give you a role in it.
    </p>
    <template v-else>
      <SentenceLine :phrases="home.told.value.says" data-test="home-sentence">
        <template #editor="{ at, close }">
          <PickOne
            v-if="at === '/since'"
            v-model="since"
            aria-label="From when on"
            data-test="home-since"
            :items="SINCE"
            @update:model-value="close"
          />
          <PickOne v-else v-model="order" aria-label="In which order" data-test="home-order" :items="ORDERS" @update:model-value="close" />
        </template>
      </SentenceLine>
      <input
        v-if="lines.length > 3"
        v-model="search"
        class="find"
        aria-label="Find a tracker"
        placeholder="Find a tracker"
        data-test="find-tracker"
      />
      <div class="heads" aria-hidden="true"><span /><span>What happened</span><span>On you</span><span>Loose</span></div>
      <p v-if="!sections.length" class="quiet none">No tracker is called like that.</p>
      <section v-for="section in sections" :key="`${section.area}${section.name}`" class="part" :aria-label="section.name || 'Trackers'">
        <div class="beside">
          <h2 v-if="section.name">
            <button v-if="section.area && owns" class="phrase" data-test="area" @click="area = section.area">{{ section.name }}</button>
            <template v-else>{{ section.name }}</template>
          </h2>
          <p v-if="section.about" class="quiet">{{ section.about }}</p>
        </div>
        <div>
          <HomeEntry v-for="line in section.lines" :key="line.id" :line="line" :readonly="readonly" @menu="menu = { at: $event, line }" />
        </div>
      </section>
    </template>
    <section v-if="home.told.value.on_you.duties.length" class="part" aria-label="In no tracker">
      <div class="beside"><h2>In no tracker</h2></div>
      <OnYou :on="home.told.value.on_you" class="alone" />
    </section>
    <HomeBoards :readonly="readonly" />
    <p v-if="!readonly" class="areas">
      Start a tracker from
      <template v-for="(one, place) in STARTS" :key="one.have"
        >{{ place === 0 ? '' : place === STARTS.length - 1 ? ' or ' : ', '
        }}<router-link :to="{ name: 'start', query: { have: one.have } }">{{ one.words }}</router-link></template
      >.
    </p>
    <p v-if="owns" class="areas">
      <template v-if="empty.length">
        Nothing lies in
        <template v-for="(one, place) in empty" :key="one.id"
          >{{ place ? ', ' : '' }}<button class="phrase" data-test="area" @click="area = one.id">{{ one.name }}</button></template
        >.
      </template>
      <template v-if="elsewhere.length">
        Other areas:
        <template v-for="(one, place) in elsewhere" :key="one.id"
          >{{ place ? ', ' : '' }}<button class="phrase" data-test="area" @click="area = one.id">{{ one.name }}</button></template
        >.
      </template>
      <button class="link" data-test="new-area" @click="area = 'new'">Make an area</button>
    </p>
    <details
      v-for="one in narrowed([{ name: 'Out of the way', about: '', lines: home.told.value.out }], search)"
      :key="one.name"
      class="out"
      data-test="out"
    >
      <summary>{{ one.name }}: {{ one.lines.length }}</summary>
      <p v-for="line in one.lines" :key="line.id"
        ><router-link :to="{ name: 'tracker', params: { tracker: line.id } }">{{ line.name }}</router-link>
        <span class="quiet">{{ line.stage_word }}; {{ line.holds }}</span></p
      >
    </details>
    <OtherTrackers v-if="owns" />
    <PopupMenu :at="menu?.at" label="More of this tracker" @close="menu = undefined">
      <template v-if="menu">
        <button data-test="keep-on-top" @click="keepOnTop(menu.line, !menu.line.kept)">{{
          menu.line.kept ? 'No more on top for me' : 'Keep it on top for me'
        }}</button>
        <button v-for="one in groups" :key="one.id" @click="keepOnTop(menu.line, !one.on, one.id)">{{
          one.on ? `No more on top for ${one.name}` : `Keep it on top for ${one.name}`
        }}</button>
      </template>
    </PopupMenu>
    <LastDone v-if="!area" :words="words" :undo="canUndo" :trouble="trouble" @undo="undo" @close="forget" />
    <div v-if="area && (area === 'new' || opened)" class="foot">
      <AreaPanel
        :key="area"
        :area="opened"
        :areas="areas.told.value ?? []"
        :groups="team.told.value?.groups ?? []"
        @done="kept"
        @leave="area = undefined"
      />
    </div>
  </section>
  <p v-else-if="home.trouble.value" class="fault-text lone" role="alert">{{ home.trouble.value }}</p>
</template>

<style scoped>
.home {
  max-width: 1240px;
  margin: 0 auto;
  padding: var(--gap-5) var(--gap-5) 120px;
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-3);
  align-items: center;
}
h1 {
  font-size: 32px;
  margin-right: auto;
}
.find {
  width: min(420px, 100%);
  margin-top: var(--gap-3);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 6px 10px;
}
.heads,
.part {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
}
.heads {
  grid-template-columns: 150px minmax(0, 1fr) 264px 224px;
  border-top: 2px solid var(--ink);
  border-bottom: 1px solid var(--line);
  margin-top: var(--gap-4);
  padding: 5px 0;
  font-size: 12.5px;
  font-weight: 600;
  color: var(--quiet);
}
.heads span:nth-child(n + 3) {
  padding-left: var(--gap-4);
}
.part {
  border-bottom: 1px solid var(--line-strong);
}
.beside {
  padding: var(--gap-4) var(--gap-3) var(--gap-3) 0;
  font-size: 13px;
}
.beside p {
  margin: 2px 0 0;
}
h2 {
  font: 600 16px/1.4 var(--serif);
  color: var(--quiet);
}
.phrase {
  border: 0;
  border-bottom: 1px dashed currentColor;
  background: none;
  padding: 0;
  font: inherit;
  line-height: 1.15;
  color: var(--moss);
  cursor: pointer;
}
.part :deep(.entry:last-child) {
  border-bottom: 0;
}
.alone {
  margin: 0;
  padding: var(--gap-4) 0 var(--gap-3);
  font-size: 13px;
}
.none {
  margin: var(--gap-3) 0;
}
.areas {
  margin: var(--gap-4) 0 0;
  font: 16px var(--serif);
  color: var(--quiet);
}
.out {
  margin-top: var(--gap-4);
}
.out summary,
.home :deep(summary) {
  cursor: pointer;
  color: var(--quiet);
  font: 600 15px var(--serif);
}
.out p {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  margin: 8px 0;
}
.foot {
  position: fixed;
  left: 0;
  right: 0;
  bottom: 0;
  z-index: 7;
  max-height: 80dvh;
  overflow-y: auto;
}
.lone {
  padding: var(--gap-5);
}
@media (max-width: 800px) {
  .heads {
    grid-template-columns: 1fr;
  }
  .heads span:not(:nth-child(2)) {
    display: none;
  }
  .part {
    grid-template-columns: minmax(0, 1fr);
  }
  .beside {
    padding-bottom: 0;
  }
  .phrase,
  .out a,
  .home :deep(summary) {
    min-height: 40px;
  }
}
</style>
