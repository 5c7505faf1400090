<script setup lang="ts">
// What records stand together by: up to three fields, one within the other; across lanes, one; down and across a cross-tab, two.
import { computed } from 'vue'
import type { GroupBy, Table } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { named, worded } from '@/features/menu/pick'

const props = defineProps<{
  table: Table
  groups: GroupBy[]
  most: number
  /** The field of the lanes. */
  lanes?: number
  /** Of a cross-tab, the fields that can stand there; it says itself whether empty ones do. */
  among?: readonly number[]
  /** What one more is called. */
  hint?: string
}>()
const emit = defineEmits<{ change: [groups: GroupBy[]] }>()

const { ofKind, vocabulary } = useVocabulary()
const fieldOf = (id: number) => props.table.fields.find((field) => field.id === id)
const fields = computed(() =>
  props.table.fields.filter(
    (f) => f.kind.type !== 'files' && f.kind.type !== 'button' && f.id !== props.lanes && (props.among?.includes(f.id) ?? true),
  ),
)
// Across a cross-tab the same days may stand by the year, and by the month within.
const free = computed(() => fields.value.filter((f) => (props.among && isOfDays(f.id)) || !props.groups.some((one) => one.field === f.id)))
const orders = (id: number) => ofKind(fieldOf(id)?.shows.type)?.orders ?? ['first to last', 'last to first']
const DAYS = ['date', 'date_time', 'range', 'created_at', 'changed_at']
const isOfDays = (id: number) => DAYS.includes(fieldOf(id)?.shows.type ?? '')
const CHOSEN = ['choice', 'yes_no', 'rating', 'person', 'link']
const hasValues = (id: number) => CHOSEN.includes(fieldOf(id)?.shows.type ?? '')
const NUMBERS = ['number', 'money', 'rating', 'duration']
const isNumber = (id: number) => NUMBERS.includes(fieldOf(id)?.shows.type ?? '')
const buckets = computed(() => worded(vocabulary.value?.buckets))

const set = (place: number, part: Partial<GroupBy>) =>
  emit(
    'change',
    props.groups.map((old, n) => (n === place ? { ...old, ...part } : old)),
  )
const choose = (place: number, field: number) => set(place, { field, by: isOfDays(field) ? 'month' : 'value', step: null, empty: false })
/** Nothing typed, or nothing that is more than nothing: each number by itself. */
function setStep(place: number, typed: string) {
  const step = Number(typed.replace(',', '.'))
  set(place, { step: step > 0 ? String(step) : null })
}
const begin = (field: number) =>
  emit('change', [...props.groups, { field, by: isOfDays(field) ? 'month' : 'value', descending: false, empty: false }])
</script>

<template>
  <div class="groups">
    <div v-for="(group, place) in groups.slice(0, most)" :key="place" class="group">
      <PickOne
        :model-value="group.field"
        aria-label="Field"
        :items="named([...free, ...fields.filter((one) => one.id === group.field)])"
        @update:model-value="choose(place, Number($event))"
      />
      <PickOne
        v-if="isOfDays(group.field)"
        :model-value="group.by ?? 'value'"
        aria-label="Together"
        :items="buckets"
        @update:model-value="set(place, { by: $event })"
      />
      <label v-if="isNumber(group.field)" class="step"
        >in steps of
        <input
          type="text"
          inputmode="decimal"
          size="5"
          aria-label="Width of a step"
          data-test="step"
          :value="group.step ?? ''"
          @change="setStep(place, ($event.target as HTMLInputElement).value)"
      /></label>
      <PickOne
        :model-value="group.descending ? 1 : 0"
        aria-label="Direction"
        :items="orders(group.field).map((name, n) => ({ value: n, title: name }))"
        @update:model-value="set(place, { descending: $event === 1 })"
      />
      <label v-if="!among && hasValues(group.field)"
        ><input type="checkbox" :checked="group.empty" @change="set(place, { empty: ($event.target as HTMLInputElement).checked })" /> empty
        ones too</label
      >
      <button
        type="button"
        aria-label="Take it out"
        @click="
          emit(
            'change',
            groups.filter((_, n) => n !== place),
          )
        "
        >×</button
      >
    </div>
    <PickOne
      v-if="groups.length < most"
      :aria-label="lanes ? 'Bands by' : hint ? hint.replace(' …', '') : 'Group by'"
      data-test="add-order"
      :items="named(free)"
      :hint="groups.length && !lanes ? 'then by …' : (hint ?? (lanes ? 'Bands by …' : 'Group by …'))"
      @update:model-value="begin(Number($event))"
    />
  </div>
</template>

<style scoped>
.groups {
  display: grid;
  gap: var(--gap-2);
}
.group {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
}
label {
  font-size: 13px;
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
.step input {
  width: 64px;
  padding: 4px 6px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: inherit;
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
