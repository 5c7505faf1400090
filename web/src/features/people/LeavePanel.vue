<script setup lang="ts">
// Somebody leaves: what hangs on them, sort by sort, to whom each goes, and what goes to nobody.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { Holding, HoldingsIn, PersonLine, TeamDone } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { useSession } from '@/features/session/session'

const props = defineProps<{ one: PersonLine; people: PersonLine[] }>()
const emit = defineEmits<{ done: [done: TeamDone]; leave: [] }>()
const { me } = useSession()
const path = { params: { path: { person: props.one.person.id } } }
const owns = computed(() => !!me.value?.owns)
const { told: all, trouble: unread } = useAsked(['holdings', props.one.person.id], () =>
  owns.value ? told(api.GET('/api/team/people/{person}/holdings', path)) : Promise.resolve({ trackers: [], team: [] }),
)
const { trouble, busy, attempt } = useDoing()

const NOBODY = 0
/** To whom each goes, by its place. */
const to = ref<Record<string, number>>({})
/** Something that hangs on them: in a tracker, or in the team itself. */
interface Line {
  key: string
  where: string
  words: string
  count: number
  at?: { tracker: HoldingsIn; holding: Holding }
}
const choices = computed(() => [
  { value: NOBODY, title: 'nobody: it stays under their name' },
  ...props.people
    .filter((one) => !one.person.left && one.person.id !== props.one.person.id)
    .map((one) => ({ value: one.person.id, title: one.person.name })),
])
const lines = computed<Line[]>(() => [
  ...(all.value?.trackers ?? []).flatMap((tracker) =>
    tracker.holdings.map((holding) => ({
      key: `${tracker.tracker} ${JSON.stringify(holding.held)}`,
      where: tracker.name,
      words: holding.words,
      count: holding.count,
      at: { tracker, holding },
    })),
  ),
  ...(all.value?.team ?? []).map(({ held, words, count }) => ({ key: held, where: 'the team', words, count })),
])
const left = computed(() => lines.value.filter((line) => !to.value[line.key]).length)
const says = computed(() => {
  const count = lines.value.reduce((sum, line) => sum + line.count, 0)
  if (!count) return 'Nothing hangs on them.'
  return `${count} ${count === 1 ? 'thing hangs' : 'things hang'} on them; ${left.value ? `${left.value} of ${lines.value.length} sorts go to nobody` : 'each goes to somebody'}.`
})
/** Where nobody would own a tracker any more. */
const stuck = computed(() =>
  (all.value?.trackers ?? []).filter(
    (one) => one.only_steward && !lines.value.some(({ at, key }) => at?.tracker === one && isRole(at.holding) && to.value[key]),
  ),
)
const isRole = ({ held }: Holding) => held.of === 'parts' && held.sort === 'role'

/** All of it to one person. */
const everything = ref(NOBODY)
function giveAll(person: number) {
  everything.value = person
  to.value = Object.fromEntries(lines.value.map((line) => [line.key, person]))
}

async function letGo() {
  const hand_over = lines.value.flatMap(({ at, key }) =>
    at && to.value[key] ? [{ tracker: at.tracker.tracker, held: at.holding.held, to: to.value[key] }] : [],
  )
  // What they have in the team goes by its sort.
  const [tasks_to, dashboards_to] = (['tasks', 'dashboards'] as const).map((held) => to.value[held] || null)
  const done = await attempt(() =>
    told(api.PUT('/api/team/people/{person}/standing', { ...path, body: { here: false, hand_over, tasks_to, dashboards_to } })),
  )
  if (done) emit('done', done)
}
</script>

<template>
  <RehearsalPanel
    :title="one.standing === 'invited' ? `${one.person.name} does not come` : `${one.person.name} leaves`"
    :act="left === lines.length ? 'Let them go' : 'Hand over, let them go'"
    :busy="busy || !all"
    :blocked="!all || !!stuck.length"
    :trouble="trouble || unread"
    @act="letGo"
    @leave="emit('leave')"
  >
    <p class="says">{{ says }}</p>
    <p v-for="at in stuck" :key="at.tracker" class="fault-text"> Nobody else is a steward of {{ at.name }}. Say to whom the role goes. </p>
    <p v-if="lines.length" class="all">
      <span>All of it to</span>
      <PickOne
        said
        :model-value="everything"
        aria-label="All of it to"
        data-test="give-all"
        :items="choices"
        @update:model-value="giveAll"
      />
    </p>
    <table v-if="lines.length">
      <thead>
        <tr><th scope="col">What hangs on them</th><th scope="col">Where</th><th scope="col">Goes to</th></tr>
      </thead>
      <tbody>
        <tr v-for="line in lines" :key="line.key">
          <td>{{ line.words }}</td>
          <td class="quiet">{{ line.where }}</td>
          <td
            ><PickOne
              said
              :model-value="to[line.key] ?? NOBODY"
              :aria-label="`${line.words} goes to`"
              :items="choices"
              @update:model-value="to[line.key] = $event"
          /></td>
        </tr>
      </tbody>
    </table>
    <p class="quiet">
      What they said and changed stays under their name. They are signed out everywhere and get no mail. In each tracker the hand-over is
      one step that its stewards can take back.
    </p>
  </RehearsalPanel>
</template>

<style scoped>
.says {
  font: 17px/1.5 var(--serif);
  margin: 0 0 var(--gap-2);
}
.all {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  margin: 0 0 var(--gap-2);
}
table {
  border-collapse: collapse;
  font-size: 13.5px;
  max-width: 960px;
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 4px 16px 4px 0;
  border-bottom: 1px solid var(--line);
  vertical-align: middle;
}
@media (max-width: 700px) {
  thead {
    display: none;
  }
  tr {
    display: grid;
    border-bottom: 1px solid var(--line);
  }
  tbody td {
    border: 0;
  }
}
th {
  font-weight: 400;
  font-size: 12.5px;
  color: var(--quiet);
}
</style>
