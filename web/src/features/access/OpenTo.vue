<script setup lang="ts">
// A tracker that its stewards alone see is opened to people in one sentence.
import { computed, ref } from 'vue'
import type { Role } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { useTracker } from '@/features/tracker/tracker'

type RoleDef = Role['role']

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ open: [role: Omit<RoleDef, 'id'>] }>()
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
const base = ref<RoleDef['base']>('reader')
const bases = computed(() =>
  (vocabulary.value?.bases ?? [])
    .filter((one) => one.value !== 'own' && one.value !== 'steward')
    .map((one) => ({ value: one.value, title: one.name })),
)

function open() {
  const chosen = whom.value.find((one) => one.value === to.value)
  if (!chosen) return
  const [sort, id] = chosen.value.split(' ')
  const held = sort === 'group' ? { groups: [Number(id)], members: [] } : { groups: [], members: [Number(id)] }
  emit('open', { name: chosen.title, about: '', base: base.value, tables: {}, ...held })
}
</script>

<template>
  <p class="open" data-test="open-to">
    Its stewards alone see it so far. Open it to
    <PickOne v-model="to" said aria-label="To whom it is opened" data-test="open-whom" hint="whom?" :items="whom" />:
    <PickOne v-model="base" said aria-label="What they may do" data-test="open-base" :items="bases" />
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
