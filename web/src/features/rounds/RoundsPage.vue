<script setup lang="ts">
// Rounds: what is on somebody across all trackers, as a diary. What is late hangs out over today's edge; what is done is done in place.
import { useIntervalFn, useWindowFocus } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { Duty } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import PickOne from '@/features/menu/PickOne.vue'
import { useSession } from '@/features/session/session'
import SentenceLine from '@/features/view/SentenceLine.vue'
import DutyLine from './DutyLine.vue'
import GiveTask from './GiveTask.vue'
import MovePanel from './MovePanel.vue'
import { finish, give, keyOf, move, unfinish } from './rounds'

/** How often it is looked again, in milliseconds: rounds run across trackers, each of which changes by itself. */
const AGAIN = 15_000

const route = useRoute()
const router = useRouter()
const { me } = useSession()
const edits = useEdits()
const { trouble, busy, attempt } = useDoing()
const readonly = computed(() => !!me.value?.stands_in)
const asked = computed(() => ({
  person: Number(route.query.person) || undefined,
  tracker: Number(route.query.tracker) || undefined,
}))
const rounds = useAsked(
  () => ['rounds', asked.value.person, asked.value.tracker],
  () => told(api.GET('/api/rounds', { params: { query: asked.value } })),
)
const view = rounds.told
useIntervalFn(() => void rounds.again(), AGAIN)
const focused = useWindowFocus()
watch(focused, (now) => now && void rounds.again())

const title = computed(() =>
  view.value?.own === false ? `${view.value.people.find((one) => one.id === view.value?.person)?.name}: rounds` : 'Your rounds',
)
const people = computed(() =>
  (view.value?.people ?? []).map((one) => ({ value: one.id, title: one.id === me.value?.person.id ? 'you' : one.name })),
)
const trackers = computed(() => [
  { value: undefined as number | undefined, title: 'all trackers' },
  ...(view.value?.diary.trackers ?? []).map((one) => ({ value: one.id as number | undefined, title: `${one.name}, ${one.count}` })),
])
const narrow = (query: { person?: number; tracker?: number }) => router.replace({ query: { ...route.query, ...query } })

const held = ref<Duty>()
/** The record that was done last, while nothing else was done after it: only that can be taken back at once. Tasks always can. */
const last = ref<string>()
const said = ref('')
const undoes = (duty: Duty) => (duty.task != null ? !!duty.done : last.value === keyOf(duty))

async function act(words: string, does: () => Promise<unknown>) {
  const went = await attempt(async () => {
    await does()
    return true
  })
  if (!went) return false
  said.value = words
  held.value = undefined
  await rounds.again()
  return true
}
/** Moved, or handed on: what was done before it is not the last step any more. */
async function changed(words: string, does: () => Promise<unknown>) {
  if (held.value?.task == null) last.value = undefined
  await act(words, does)
}
/** Whoever works by keys goes on where they were, wherever that stands now. */
async function stay(duty: Duty) {
  await nextTick()
  document.querySelector<HTMLElement>(`[data-key="${keyOf(duty)}"] button`)?.focus()
}
async function done(duty: Duty) {
  if (!(await act(`${duty.name}: ${duty.verb}.`, () => finish(duty, edits)))) return
  if (duty.task == null) last.value = keyOf(duty)
  await stay(duty)
}
async function undone(duty: Duty) {
  await act(`${duty.name} is not done after all.`, () => unfinish(duty, edits))
  if (duty.task == null) last.value = undefined
  await stay(duty)
}
async function askNoMore(task: number) {
  await act('It is asked no more.', () => told(api.POST('/api/tasks/{task}', { params: { path: { task } }, body: 'drop' })))
}
</script>

<template>
  <div v-if="view" class="rounds">
    <div class="diary">
      <p class="over">{{ view.diary.now }}</p>
      <h1>{{ title }}</h1>
      <SentenceLine :phrases="view.diary.says" data-test="rounds-says">
        <template #editor="{ at, close }">
          <PickOne
            v-if="at === '/person'"
            :model-value="view.person"
            aria-label="Whose rounds"
            data-test="rounds-person"
            :items="people"
            @update:model-value="(close(), narrow({ person: $event }))"
          />
          <PickOne
            v-else
            :model-value="asked.tracker"
            aria-label="Of which tracker"
            data-test="rounds-tracker"
            :items="trackers"
            @update:model-value="(close(), narrow({ tracker: $event }))"
          />
        </template>
      </SentenceLine>
      <p v-if="asked.tracker || asked.person" class="quiet">
        <router-link :to="{ name: 'rounds' }" data-test="all-mine">All of your own</router-link>
      </p>
      <p v-if="trouble && !held" class="fault-text" role="alert">{{ trouble }}</p>
      <p class="unseen" role="status">{{ said }}</p>
      <section
        v-for="section in view.diary.sections"
        :key="`${section.sort} ${section.day}`"
        class="part"
        :class="[section.sort, { free: !section.duties.length }]"
        :aria-label="`${section.title}${section.about ? `, ${section.about}` : ''}`"
      >
        <header
          ><h2>{{ section.title }}</h2> <span>{{ section.about }}</span></header
        >
        <ul v-if="section.duties.length">
          <DutyLine
            v-for="duty in section.duties"
            :key="keyOf(duty)"
            :data-key="keyOf(duty)"
            :duty="duty"
            :readonly="readonly"
            :busy="busy"
            :held="!!held && keyOf(held) === keyOf(duty)"
            :undoes="undoes(duty)"
            @finish="done(duty)"
            @unfinish="undone(duty)"
            @hold="held = duty"
          />
        </ul>
        <p v-else class="nothing">nothing yet</p>
      </section>
      <GiveTask
        v-if="!readonly && me && !held"
        class="asks"
        :people="view.people"
        :me="me.person.id"
        @given="(name) => ((said = `${name} has it on their rounds.`), rounds.again())"
      />
    </div>
    <aside v-if="view.own" class="beside">
      <h2>You asked</h2>
      <p v-if="!view.asked.length" class="quiet">Nothing of anybody. What you ask of others stands here until it is done.</p>
      <ul class="asked">
        <li v-for="one in view.asked" :key="one.task">
          <b>{{ one.who }}</b>
          <span>{{ one.what }}</span>
          <span :class="{ late: one.late }">{{ one.stands }}</span>
          <button
            v-if="!one.done && !readonly"
            type="button"
            class="link"
            :aria-label="`Ask no more: ${one.what}`"
            @click="askNoMore(one.task)"
            >no more</button
          >
        </li>
      </ul>
    </aside>
    <MovePanel
      v-if="held"
      :key="keyOf(held)"
      :duty="held"
      :view="view"
      :busy="busy"
      :trouble="trouble"
      @move="(day) => changed(`${held!.name} is moved.`, () => move(held!, day, edits))"
      @give="(person) => changed(`${held!.name} is handed on.`, () => give(held!, person, edits))"
      @leave="held = undefined"
    />
  </div>
  <p v-else-if="rounds.trouble.value" class="fault-text alone" role="alert">{{ rounds.trouble.value }}</p>
</template>

<style scoped>
.rounds {
  --margin: 158px;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  min-height: calc(100dvh - var(--band));
}
.diary {
  padding: var(--gap-4) var(--gap-5) 80px;
  min-width: 0;
}
.over,
.quiet {
  margin: 0;
  color: var(--quiet);
  font-size: 13.5px;
}
h1 {
  margin: 2px 0 0;
  font-size: 27px;
}
.part {
  position: relative;
  display: grid;
  border-top: 1px solid var(--line-strong);
}
/* Today's edge: what is late hangs out over it, what comes stands beside it. */
.part::before {
  content: '';
  position: absolute;
  top: 0;
  bottom: 0;
  left: calc(var(--margin) - 1px);
  border-left: 1px solid var(--line-strong);
}
.part > header {
  grid-area: 1 / 1;
  width: var(--margin);
  padding: 6px 14px 5px 0;
  text-align: right;
  color: var(--quiet);
  font-size: 13px;
  line-height: 1.3;
}
.part > ul {
  grid-area: 1 / 1;
  margin: 0;
  padding: 0;
  list-style: none;
}
.part.late > header {
  grid-area: 1 / 1;
  display: block;
  width: auto;
  padding-left: calc(var(--margin) + var(--gap-4));
  text-align: left;
}
.part.late > ul {
  grid-area: 2 / 1;
}
.part > header h2 {
  margin: 0;
  font-size: 17px;
  color: var(--ink);
}
.late > header h2 {
  display: inline;
  color: var(--fault);
}
.today > header h2 {
  color: var(--moss);
}
.free > header h2 {
  display: inline;
  font: 13.5px var(--sans);
  color: var(--quiet);
}
.nothing {
  grid-area: 1 / 1;
  margin: 0;
  padding: 6px 0 5px calc(var(--margin) + var(--gap-4) + 12px);
  color: var(--quiet);
  font-size: 13.5px;
}
.asks {
  position: sticky;
  z-index: 2;
  bottom: 0;
  border-top: 1px solid var(--line-strong);
  background: var(--stone);
}
.beside {
  padding: var(--gap-4) var(--gap-5);
  border-left: 1px solid var(--line);
  background: var(--sheet);
}
.beside h2 {
  margin: 0 0 var(--gap-2);
  font-size: 19px;
}
.asked {
  margin: 0;
  padding: 0;
  list-style: none;
}
.asked li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 var(--gap-3);
  padding: 7px 0;
  border-top: 1px solid var(--line);
  font-size: 14px;
}
.asked li > span:nth-of-type(2) {
  grid-area: 1 / 2;
  color: var(--quiet);
}
.asked li > span:nth-of-type(2).late {
  color: var(--fault);
  font-weight: 600;
}
.asked .link {
  justify-self: end;
  font-size: 13px;
}
.alone {
  padding: var(--gap-5);
}
@media (max-width: 1000px) {
  .rounds {
    display: block;
  }
  .beside {
    border-top: 1px solid var(--line);
    border-left: 0;
  }
}
@media (max-width: 760px) {
  .diary {
    padding: var(--gap-3) var(--gap-4) 40px;
  }
  .part {
    display: block;
  }
  .part::before {
    display: none;
  }
  .part > header,
  .part.late > header {
    display: flex;
    gap: var(--gap-2);
    align-items: baseline;
    width: auto;
    padding: 7px 0;
    text-align: left;
  }
  .free {
    display: flex;
    gap: var(--gap-3);
  }
  .nothing {
    padding: 7px 0;
  }
  .asks {
    position: static;
  }
}
</style>
