<script setup lang="ts">
// A tracker that its stewards alone see is opened to people in one sentence.
import { computed, ref } from 'vue'
import type { Role } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { useTracker } from '@/features/tracker/tracker'

type RoleDef = Role['role']

const props = defineProps<{
  busy: boolean
  /** The roles that are there, of which nobody but stewards holds any. */
  roles: readonly RoleDef[]
}>()
const emit = defineEmits<{ open: [role: Omit<RoleDef, 'id'>]; give: [role: RoleDef] }>()
const { tracker } = useTracker()
const { vocabulary } = useVocabulary()

/** Whom one may let in, by a word that says which: groups first. */
const whom = computed(() => [
  ...(tracker.value?.groups ?? []).map((group) => ({ value: `group ${group.id}`, title: group.name, group: 'Groups' })),
  ...(tracker.value?.people ?? [])
    .filter((person) => !person.left)
    .map((person) => ({ value: `person ${person.id}`, title: person.name, group: 'People' })),
])
const to = ref<string>()
/** What they may do: as a role says that is there already, which come first, or as one that begins so. */
type As = { role: RoleDef } | { base: RoleDef['base'] }
const brought = computed(() => props.roles.filter((role) => role.base !== 'steward'))
const ways = computed(() => [
  ...brought.value.map((role) => ({
    value: { role } as As,
    title: role.about ? `${role.name}: ${role.about}` : role.name,
    group: 'Roles that it has',
  })),
  ...(vocabulary.value?.bases ?? [])
    .filter((one) => one.value !== 'own' && one.value !== 'steward')
    .map((one) => ({ value: { base: one.value } as As, title: one.name, group: 'A role that begins so' })),
])
const first = computed(() =>
  ways.value.find(({ value }) => ('role' in value ? true : brought.value.length === 0 && value.base === 'reader')),
)
const picked = ref<As>()
const chosenWay = computed({
  get: () => picked.value ?? first.value?.value,
  set: (way) => (picked.value = way),
})

function open() {
  const chosen = whom.value.find((one) => one.value === to.value)
  if (!chosen) return
  const [sort, id] = chosen.value.split(' ')
  const held = sort === 'group' ? { groups: [Number(id)], members: [] } : { groups: [], members: [Number(id)] }
  const way = chosenWay.value
  if (!way) return
  if ('role' in way) emit('give', { ...way.role, ...held })
  else emit('open', { name: chosen.title, about: '', base: way.base, tables: {}, ...held })
}
</script>

<template>
  <p class="open" data-test="open-to">
    Its stewards alone see it so far. Open it to
    <PickOne v-model="to" said aria-label="To whom it is opened" data-test="open-whom" hint="whom?" :items="whom" />:
    <PickOne v-model="chosenWay" said aria-label="What they may do" data-test="open-base" :items="ways" />
    <v-btn size="small" color="primary" :disabled="!to || busy" data-test="open-it" @click="open">Open it</v-btn>
  </p>
</template>

<style scoped>
.open {
  display: flex;
  flex-wrap: wrap;
  gap: 6px var(--gap-2);
  align-items: center;
  margin: 0 0 var(--gap-4);
  padding: var(--gap-2) var(--gap-3);
  border-left: 3px solid var(--copper);
  background: var(--sheet);
  font: 17px/1.6 var(--serif);
}
</style>
