<script setup lang="ts">
// The team's people: what each reaches, drawn so that one compares; who is on the way, and where they got stuck.
import { computed, nextTick, ref } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { GroupLine, LetIn as LetInDone, PersonLine, TeamDone } from '@/api/types'
import { useAsked } from '@/app/asking'
import LastDone from '@/app/LastDone.vue'
import { useSession } from '@/features/session/session'
import FaceMark from './FaceMark.vue'
import GroupSheet from './GroupSheet.vue'
import LookSheet from './LookSheet.vue'
import LetIn from './LetIn.vue'
import OptOuts from './OptOuts.vue'
import PersonFacts from './PersonFacts.vue'
import ShareBars from './ShareBars.vue'
import SendingSheet from './SendingSheet.vue'
import StationsLine from './StationsLine.vue'
import { useTeamSteps } from './steps'

const { me } = useSession()
const { told: team, trouble: unread, again } = useAsked(['team'], () => told(api.GET('/api/team')))
const { told: log, again: logAgain } = useAsked(
  () => ['team-log', team.value?.lets_in],
  () => (team.value?.lets_in ? told(api.GET('/api/team/log')) : Promise.resolve([])),
)
const optOuts = ref<InstanceType<typeof OptOuts>>()
const steps = useTeamSteps(() => Promise.all([again(), logAgain(), optOuts.value?.again()]))
const { last, words, canUndo, trouble, attempt, undo, close } = steps
const readonly = computed(() => !!me.value?.stands_in)

type Sheet = { of: 'in' } | { of: 'look' } | { of: 'sending' } | { of: 'group'; group?: GroupLine }
const sheet = ref<Sheet>()
let opener: Element | null = null

function begin(what: Sheet) {
  opener = document.activeElement
  sheet.value = what
}

/** Whoever leaves a sheet goes on where they opened it. */
function leave() {
  sheet.value = undefined
  if (opener instanceof HTMLElement) opener.focus()
}
const open = ref<number>()
const link = ref<{ person: number; address: string }>()
const copied = ref(false)

const narrow = useMediaQuery('(max-width: 1100px)')
/** As many trackers as can be compared at one scale. */
const MOST = 3
const first = ref(0)
const trackers = computed(() =>
  narrow.value ? (team.value?.trackers ?? []) : (team.value?.trackers ?? []).slice(first.value, first.value + MOST),
)
const more = computed(() => (team.value?.trackers.length ?? 0) > MOST && !narrow.value)

/** Everybody once: under the first of their groups. */
const parts = computed(() => {
  const rest = new Map((team.value?.people ?? []).map((one) => [one.person.id, one]))
  const taken = (ids: readonly number[]) =>
    ids.flatMap((id) => {
      const one = rest.get(id)
      rest.delete(id)
      return one && !one.person.left ? [one] : one ? (rest.set(id, one), []) : []
    })
  const grouped = (team.value?.groups ?? []).map((group) => ({ group, name: group.name, people: taken(group.members) }))
  const left = [...rest.values()].filter((one) => one.person.left)
  const others = [...rest.values()].filter((one) => !one.person.left)
  return [
    ...grouped,
    ...(others.length ? [{ group: undefined, name: grouped.length ? 'In no group' : '', people: others }] : []),
    ...(left.length ? [{ group: undefined, name: 'Have left', people: left }] : []),
  ]
})
const reachesIn = (one: PersonLine, tracker: number) => one.reaches.find((reach) => reach.tracker === tracker)
const knows = (one: PersonLine) => team.value?.lets_in || team.value?.owns || one.person.id === me.value?.person.id

/** Who may be in a group: whoever has left is there only to be taken out. */
/** Addresses that are in the team already. */
const addresses = computed(() => (team.value?.people ?? []).flatMap((one) => (one.mail ? [one.mail] : [])))
const choosable = (group: GroupLine | undefined) =>
  (team.value?.people ?? []).filter((one) => !one.person.left || group?.members.includes(one.person.id))

async function done(what: TeamDone | null | undefined) {
  if (sheet.value) leave()
  await steps.done(what)
}

async function letIn(what: LetInDone) {
  await done(what.done)
}

async function invite(person: number, mail: boolean) {
  const sent = await attempt(async () => ({
    link: await told(api.POST('/api/team/people/{person}/invitation', { params: { path: { person } }, body: { mail } })),
  }))
  if (!sent) return
  copied.value = false
  link.value = sent.link ? { person, address: sent.link.link } : undefined
  last.value = mail ? { seq: null, did: 'mailed the invitation' } : undefined
  await again()
}

async function takeBack(person: number) {
  await attempt(() => told(api.DELETE('/api/team/people/{person}/invitation', { params: { path: { person } } })))
  link.value = undefined
  await again()
}

async function copy() {
  await navigator.clipboard.writeText(link.value?.address ?? '')
  copied.value = true
}

async function show(person: number) {
  open.value = open.value === person ? undefined : person
  await nextTick()
  document.querySelector<HTMLElement>(`[data-facts="${person}"] input`)?.focus()
}
</script>

<template>
  <section v-if="team" class="people" :style="{ '--trackers': trackers.length }">
    <header class="head">
      <div>
        <p class="over">{{ team.name }}</p>
        <h1>People</h1>
      </div>
      <div v-if="!readonly" class="acts">
        <v-btn v-if="team.owns" variant="text" data-test="team-look" @click="begin({ of: 'look' })">How the team looks</v-btn>
        <v-btn v-if="team.owns" variant="text" data-test="team-sending" @click="begin({ of: 'sending' })">When messages go out</v-btn>
        <v-btn v-if="team.owns" variant="outlined" data-test="add-group" @click="begin({ of: 'group' })">Add a group</v-btn>
        <v-btn v-if="team.lets_in" color="primary" data-test="let-in" @click="begin({ of: 'in' })">Let people in</v-btn>
      </div>
    </header>
    <p class="says">
      {{ team.says }} <template v-if="trackers.length">A bar is as full as the share of records the verb reaches.</template>
    </p>
    <p v-if="more" class="turn">
      <button class="link" :disabled="!first" @click="first -= MOST">Earlier trackers</button>
      <button class="link" :disabled="first + MOST >= team.trackers.length" @click="first += MOST">further trackers</button>
    </p>
    <div class="row heads" aria-hidden="true">
      <span v-for="tracker in trackers" :key="tracker.id" class="tracker">
        <b>{{ tracker.name }}</b>
        <span class="verbs"><i>look</i><i>add</i><i>change</i><i>remove</i><i>build</i></span>
      </span>
      <span class="last">last here</span>
    </div>
    <section v-for="part in parts" :key="part.name" class="part" :aria-label="part.name || 'People'">
      <h2>
        <button v-if="part.group && team.owns && !readonly" class="phrase" @click="begin({ of: 'group', group: part.group })">{{
          part.name
        }}</button>
        <template v-else>{{ part.name }}</template>
      </h2>
      <div class="lines">
        <div v-for="one in part.people" :key="one.person.id" class="one" :class="{ gone: one.person.left }" :data-person="one.person.name">
          <div class="row">
            <div class="who">
              <FaceMark :person="one.person" :size="26" />
              <button class="name" :aria-expanded="open === one.person.id" @click="show(one.person.id)">{{ one.person.name }}</button>
              <span class="quiet">{{ [one.owner ? 'owns the team' : '', one.about].filter(Boolean).join('; ') }}</span>
            </div>
            <template v-if="one.stations.length">
              <div class="way">
                <StationsLine :stations="one.stations" />
                <p v-if="!readonly" class="ways">
                  <button v-if="one.mail" class="link" @click="invite(one.person.id, true)"
                    >Mail it{{ one.stations.length > 3 ? ' again' : '' }}</button
                  >
                  <button class="link" data-test="make-link" @click="invite(one.person.id, false)">make a link to hand over</button>
                  <button v-if="one.stations.length > 3" class="link" @click="takeBack(one.person.id)">take it back</button>
                </p>
                <p v-if="link?.person === one.person.id" class="link-line" data-test="invitation-link">
                  <code>{{ link.address }}</code>
                  <button class="link" @click="copy">{{ copied ? 'copied' : 'copy' }}</button>
                  <span class="quiet">It is shown this once, works once, and for 14 days.</span>
                </p>
              </div>
            </template>
            <template v-else-if="knows(one)">
              <div
                v-for="tracker in trackers"
                v-show="!narrow || reachesIn(one, tracker.id)"
                :key="tracker.id"
                class="reaches"
                :data-of="tracker.name"
              >
                <ShareBars :reaches="reachesIn(one, tracker.id)" />
              </div>
            </template>
            <span class="last quiet">{{ one.person.left ? '' : one.last }}</span>
          </div>
          <PersonFacts
            v-if="open === one.person.id"
            :data-facts="one.person.id"
            :one="one"
            :team="team"
            :readonly="readonly"
            @done="done"
            @trouble="trouble = $event"
          />
        </div>
      </div>
    </section>
    <OptOuts v-if="team.lets_in || team.owns" ref="optOuts" :owns="team.owns" :readonly="readonly" @done="done" />
    <details v-if="log?.length" class="log" data-test="team-log">
      <summary>What happened to the team</summary>
      <p v-for="line in log" :key="line.seq"
        ><span class="quiet">{{ line.at }}</span> {{ line.who }} {{ line.did }}.</p
      >
    </details>
    <LastDone v-if="!sheet" :words="words" :undo="canUndo" :trouble="trouble" @undo="undo" @close="close" />
    <div v-if="sheet" class="foot">
      <LetIn v-if="sheet.of === 'in'" :known="addresses" @done="letIn" @leave="leave" />
      <LookSheet v-else-if="sheet.of === 'look'" :name="team.name" :look="team.look" @done="done" @leave="leave" />
      <SendingSheet v-else-if="sheet.of === 'sending'" :sending="team.sending" @done="done" @leave="leave" />
      <GroupSheet v-else :key="sheet.group?.id" :group="sheet.group" :people="choosable(sheet.group)" @done="done" @leave="leave" />
    </div>
  </section>
  <p v-else-if="unread" class="fault-text lone" role="alert">{{ unread }}</p>
</template>

<style scoped>
.people {
  max-width: 1320px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-5) 120px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: var(--gap-2) var(--gap-4);
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
h1 {
  font-size: 27px;
}
.acts {
  margin-left: auto;
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: var(--gap-2);
}
.says {
  font: 17px/1.6 var(--serif);
  color: var(--quiet);
  margin: 2px 0 var(--gap-3);
}
/* It stays in sight however far down one is. */
.turn {
  display: flex;
  gap: var(--gap-3);
  justify-content: flex-end;
  margin: 0;
}
.part {
  display: grid;
  grid-template-columns: 110px minmax(0, 1fr);
  border-top: 1px solid var(--line-strong);
}
h2 {
  font-size: 15px;
  color: var(--quiet);
  padding-top: 8px;
}
h2 .phrase {
  border: 0;
  border-bottom: 1px dashed currentColor;
  background: none;
  padding: 0;
  color: var(--moss);
  font: inherit;
  cursor: pointer;
}
.row {
  display: grid;
  grid-template-columns: minmax(150px, 1fr) repeat(var(--trackers), minmax(150px, 1.1fr)) 84px;
  gap: 0 24px;
  align-items: start;
  padding: 6px 0;
}
.heads {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--stone);
  padding-left: 110px;
  color: var(--quiet);
  font-size: 12.5px;
  padding-bottom: 2px;
}
.tracker:first-child {
  grid-column: 2;
}
.tracker b {
  display: block;
  color: var(--ink);
  font: 600 16px/1.3 var(--serif);
}
.verbs {
  display: grid;
  grid-template-columns: repeat(5, 1fr);
  gap: 0 8px;
}
.verbs i {
  font-style: normal;
}
.last {
  grid-column: -2;
  font-size: 12.5px;
}
.heads .last {
  align-self: end;
}
.one + .one {
  border-top: 1px solid var(--line);
}
.gone {
  color: var(--quiet);
}
/* What is rehearsed comes up from the foot, and the people stay in sight above it. */
.foot {
  position: sticky;
  bottom: 0;
  z-index: 7;
  max-height: 82dvh;
  overflow-y: auto;
  margin: var(--gap-4) calc(-1 * var(--gap-5)) -120px;
}
.who {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  justify-items: start;
  column-gap: var(--gap-2);
}
.who .face {
  grid-row: span 2;
  align-self: center;
}
.who .quiet {
  font-size: 12.5px;
}
.name {
  border: 0;
  background: none;
  padding: 0;
  color: inherit;
  font: inherit;
  font-weight: 600;
  text-align: left;
  cursor: pointer;
}
.name {
  min-height: 24px;
}
summary {
  min-height: 28px;
  cursor: pointer;
}
.name:hover {
  color: var(--moss);
  text-decoration: underline;
}
.way {
  grid-column: 2 / -2;
}
.ways,
.link-line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
  margin: 4px 0 0;
}
.link-line code {
  overflow-wrap: anywhere;
}
.log {
  margin-top: var(--gap-6);
  color: var(--quiet);
}
.log p {
  margin: 6px 0;
  color: var(--ink);
}
.lone {
  padding: var(--gap-5);
}
@media (max-width: 1100px) {
  .heads {
    display: none;
  }
  .part {
    grid-template-columns: minmax(0, 1fr);
  }
  .row {
    grid-template-columns: minmax(0, 1fr);
    gap: 4px;
    padding: 10px 0;
  }
  .way,
  .last {
    grid-column: 1;
  }
  .last:not(:empty)::before {
    content: 'last here ';
  }
  .reaches::before {
    content: attr(data-of);
    display: block;
    font: 600 14px/1.6 var(--serif);
  }
}
@media (max-width: 700px) {
  .name,
  .phrase,
  .ways .link,
  summary {
    min-height: 44px;
  }
  .acts {
    margin-left: 0;
  }
}
</style>
