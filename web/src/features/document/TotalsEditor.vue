<script setup lang="ts">
// Figures beneath lines: each of a column, under words of its own.
import { computed } from 'vue'
import type { SheetTotal, Table } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'

const props = defineProps<{ table: Table; shows: number[]; totals: SheetTotal[] }>()
const emit = defineEmits<{ change: [totals: SheetTotal[]] }>()
const { figuresOf } = useVocabulary()
const fieldOf = (id: number) => props.table.fields.find((field) => field.id === id)
/** What figures there are beneath the columns that are shown. */
const items = computed(() =>
  props.shows.flatMap((id) =>
    figuresOf(fieldOf(id)).map((one) => ({ value: `${id} ${one.figure}`, title: `${one.name} of ${fieldOf(id)?.within ?? ''}` })),
  ),
)
const read = (key: string): Pick<SheetTotal, 'field' | 'figure'> => {
  const [field, figure] = key.split(' ')
  return { field: Number(field), figure: figure as SheetTotal['figure'] }
}
const put = (place: number, part: Partial<SheetTotal>) =>
  emit('change', props.totals.map((one, n) => (n === place ? { ...one, ...part } : one))) // prettier-ignore
const drop = (place: number) => emit('change', props.totals.filter((_, n) => n !== place)) // prettier-ignore
function add() {
  const likely = items.value.findLast((one) => one.value.endsWith(' sum')) ?? items.value[0]
  if (likely) emit('change', [...props.totals, { ...read(likely.value), words: '' }])
}
</script>

<template>
  <div class="totals">
    <p v-for="(total, place) in totals" :key="place">
      <PickOne
        :model-value="`${total.field} ${total.figure}`"
        :items="items"
        aria-label="Figure"
        @update:model-value="put(place, read($event))"
      />
      <v-text-field
        :model-value="total.words"
        placeholder="in words of your own"
        aria-label="Its words"
        density="compact"
        hide-details
        data-test="total-words"
        @update:model-value="put(place, { words: $event })"
      />
      <button type="button" aria-label="Take it out" @click="drop(place)">×</button>
    </p>
    <button type="button" class="link" data-test="add-total" :disabled="!items.length" @click="add">+ figure</button>
  </div>
</template>

<style scoped>
.totals {
  display: grid;
  gap: 4px;
  justify-items: start;
  width: min(460px, 86vw);
}
p {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
  gap: 6px;
  align-items: center;
  width: 100%;
  margin: 0;
}
p button {
  min-width: 28px;
  min-height: 28px;
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
}
</style>
