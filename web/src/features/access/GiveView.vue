<script setup lang="ts">
// One view for people who need hold no role: whom it is given to, what they may do in it, and what that would do before it holds.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { AccessRehearsal, GivenTo, Table, View } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import PickOne from '@/features/menu/PickOne.vue'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{ table: Table; view: View }>()
const emit = defineEmits<{ done: []; leave: [] }>()

const { tracker } = useTracker()
const edits = useEdits()
const given = ref<GivenTo[]>((props.view.given ?? []).map((one) => ({ ...one })))
const RIGHTS: { value: GivenTo['right']; title: string }[] = [
  { value: 'look', title: 'looks at it' },
  { value: 'change', title: 'changes what it shows' },
]
const name = (person: number) => tracker.value?.people.find((one) => one.id === person)?.name ?? 'somebody'
const others = computed(() => [
  { value: undefined as number | undefined, title: 'somebody …' },
  ...(tracker.value?.people ?? [])
    .filter((one) => !one.left && !given.value.some((it) => it.person === one.id))
    .map((one) => ({ value: one.id as number | undefined, title: one.name })),
])
function add(person: number | undefined) {
  if (person) given.value = [...given.value, { person, right: 'look' }]
}
const take = (person: number) => (given.value = given.value.filter((one) => one.person !== person))

const said = (list: readonly GivenTo[] | undefined) => JSON.stringify((list ?? []).map((one) => [one.person, one.right]))
const changed = computed(() => said(given.value) !== said(props.view.given))
const path = computed(() => ({ params: { path: { tracker: tracker.value?.id ?? 0, view: props.view.id } }, body: { given: given.value } }))

const doing = useDoing()
const would = ref<AccessRehearsal>()
watch(
  given,
  async () => {
    would.value = undefined
    if (!changed.value) return
    would.value = await doing.newest(() => told(api.POST('/api/trackers/{tracker}/views/{view}/given/rehearsal', path.value)))
  },
  { deep: true },
)

async function give() {
  const done = await doing.attempt(async () => {
    edits.remember(tracker.value?.id ?? 0, await told(api.PUT('/api/trackers/{tracker}/views/{view}/given', path.value)))
    return true
  })
  if (done) emit('done')
}
</script>

<template>
  <form class="give" data-test="give-view" @submit.prevent="give">
    <h2>Give “{{ view.name }}” to somebody</h2>
    <p class="says">They see its {{ table.many }} in the fields that it shows, and nothing else of this tracker. No role is needed.</p>
    <p v-for="one in given" :key="one.person" class="one" data-test="given">
      <b>{{ name(one.person) }}</b>
      <PickOne v-model="one.right" said :aria-label="`What ${name(one.person)} may do`" :items="RIGHTS" />
      <button type="button" class="link" @click="take(one.person)">Take it back</button>
    </p>
    <p class="one">
      <span class="quiet">To</span>
      <PickOne
        :model-value="undefined"
        said
        aria-label="To whom"
        data-test="give-to"
        :items="others"
        @update:model-value="add($event as number | undefined)"
      />
    </p>
    <div v-if="would" role="status" data-test="would">
      <p class="over">Nothing has been changed yet</p>
      <p class="says">{{ would.says.join(' ') }}</p>
      <p v-for="person in would.people" :key="person.person">
        <b>{{ person.name }}</b>{{ person.shut_out ? ' does not open this tracker any more' : '' }}
        {{ person.tables.map((moves) => moves.words).join('; ') }}
      </p>
    </div>
    <p v-if="doing.trouble.value" class="fault-text" role="alert">{{ doing.trouble.value }}</p>
    <p v-if="given.length || view.given?.length" class="quiet">As long as it is given, only the tracker’s stewards change this view.</p>
    <div class="acts">
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
      <v-btn type="submit" color="primary" :disabled="!changed || doing.busy.value" data-test="give">Do it</v-btn>
    </div>
  </form>
</template>

<style scoped>
.give {
  display: grid;
  gap: var(--gap-3);
  padding: var(--gap-5);
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--copper);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
}
p,
h2 {
  margin: 0;
}
.says {
  font: 15px/1.5 var(--serif);
}
.over {
  color: var(--copper);
  font-size: 12.5px;
}
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
}
</style>
