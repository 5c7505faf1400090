<script setup lang="ts">
// Facts of a record, also along links: which, in which order, under which words.
import { computed } from 'vue'
import type { SheetFact, Table } from '@/api/types'
import { paths } from '@/features/condition/checks'
import { selectAll } from '@/features/condition/selectAll'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{ table: Table; facts: SheetFact[]; fault?: string }>()
const emit = defineEmits<{ change: [facts: SheetFact[]] }>()
const { tracker } = useTracker()
const all = computed(() => (tracker.value ? paths(tracker.value, props.table) : []))
const nameOf = (fact: SheetFact) => all.value.find((one) => one.key === fact.path.join('.'))?.name ?? 'a field that is gone'
const lastOf = (fact: SheetFact) => nameOf(fact).split(' → ').at(-1)!
const items = computed(() => all.value.map((one) => ({ title: one.name, value: one.key })))

const put = (place: number, words: string) =>
  emit(
    'change',
    props.facts.map((one, n) => (n === place ? { ...one, words } : one)),
  )
const drop = (place: number) => emit('change', props.facts.filter((_, n) => n !== place)) // prettier-ignore
function move(place: number, by: number) {
  const next = [...props.facts]
  const [one] = next.splice(place, 1)
  if (one) next.splice(place + by, 0, one)
  emit('change', next)
}
function add(key: string | null) {
  const found = all.value.find((one) => one.key === key)
  if (found) emit('change', [...props.facts, { path: found.path, words: '' }])
}
</script>

<template>
  <div class="facts">
    <p v-for="(fact, place) in facts" :key="`${place} ${fact.path.join('.')}`">
      <span class="name">{{ nameOf(fact) }}</span>
      <v-text-field
        :model-value="fact.words"
        :placeholder="lastOf(fact)"
        :aria-label="`Words for ${nameOf(fact)}`"
        density="compact"
        hide-details
        @update:model-value="put(place, $event)"
      />
      <button type="button" :disabled="place === 0" :aria-label="`${nameOf(fact)} further up`" @click="move(place, -1)">↑</button>
      <button type="button" :disabled="place === facts.length - 1" :aria-label="`${nameOf(fact)} further down`" @click="move(place, 1)"
        >↓</button
      >
      <button type="button" :disabled="facts.length === 1" :aria-label="`Take ${nameOf(fact)} out`" @click="drop(place)">×</button>
    </p>
    <p v-if="fault" class="fault-text" role="alert">{{ fault }}</p>
    <v-autocomplete
      :model-value="null"
      :items="items"
      placeholder="Another field"
      aria-label="Another field"
      data-test="add-fact"
      hide-details
      @focus="selectAll"
      @update:model-value="add"
    />
  </div>
</template>

<style scoped>
.facts {
  display: grid;
  gap: 4px;
  width: min(480px, 88vw);
}
p {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(110px, 160px) auto auto auto;
  gap: 4px;
  align-items: center;
  margin: 0;
}
p.fault-text {
  display: block;
}
.name {
  overflow-wrap: anywhere;
}
@media (max-width: 480px) {
  p {
    grid-template-columns: minmax(0, 1fr) auto auto auto;
  }
  .name {
    grid-column: 1 / -1;
  }
}
button {
  min-width: 28px;
  min-height: 28px;
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
}
button:disabled {
  color: var(--line-strong);
  cursor: default;
}
</style>
