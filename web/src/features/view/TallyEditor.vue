<script setup lang="ts">
// The figures of a view: which of them stand under it and at the heads of its groups, each of a field.
import { computed } from 'vue'
import type { Table, Tally } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'

const props = defineProps<{ table: Table; tallies: Tally[] }>()
const emit = defineEmits<{ change: [tallies: Tally[]] }>()

const { figuresOf } = useVocabulary()
const fieldOf = (id: number) => props.table.fields.find((field) => field.id === id)
const figures = (id: number) => figuresOf(fieldOf(id)).map((one) => ({ value: one.figure, title: one.name }))
/** What one is likeliest to want of a field: the sum of numbers, the earliest of days. */
const LIKELY = ['sum', 'earliest', 'share', 'different']

const offered = computed(() => named(props.table.fields.filter((field) => figuresOf(field).length > 1)))

function begin(field: number) {
  const known = props.tallies.filter((one) => one.field === field).map((one) => one.figure)
  const can = figuresOf(fieldOf(field)).map((one) => one.figure)
  const figure = LIKELY.map((one) => can.find((other) => other === one && !known.includes(other))).find(Boolean) ?? can[0]
  if (figure) emit('change', [...props.tallies, { field, figure }])
}

function set(place: number, part: Partial<Tally>) {
  const next = { ...props.tallies[place]!, ...part }
  const fits = figuresOf(fieldOf(next.field)).some((one) => one.figure === next.figure)
  const figure = fits ? next.figure : (figuresOf(fieldOf(next.field))[0]?.figure ?? 'count')
  emit(
    'change',
    props.tallies.map((old, n) => (n === place ? { ...next, figure } : old)),
  )
}
</script>

<template>
  <div class="tallies">
    <div v-for="(tally, place) in tallies" :key="`${place} ${tally.field}`" class="tally">
      <PickOne
        :model-value="tally.figure"
        aria-label="Figure"
        :items="figures(tally.field)"
        @update:model-value="set(place, { figure: $event })"
      />
      <span class="quiet">of</span>
      <PickOne :model-value="tally.field" aria-label="Field" :items="offered" @update:model-value="set(place, { field: Number($event) })" />
      <button
        type="button"
        aria-label="Take it out"
        @click="
          emit(
            'change',
            tallies.filter((_, n) => n !== place),
          )
        "
        >×</button
      >
    </div>
    <PickOne
      aria-label="A figure of"
      data-test="add-tally"
      :items="offered"
      :hint="tallies.length ? 'and a figure of …' : 'A figure of …'"
      @update:model-value="begin(Number($event))"
    />
  </div>
</template>

<style scoped>
.tallies {
  display: grid;
  gap: var(--gap-2);
}
.tally {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
}
button {
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--quiet);
  font-size: 16px;
  min-width: 28px;
  min-height: 28px;
}
</style>
