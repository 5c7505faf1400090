<script setup lang="ts">
// What sets an automation going, with what it needs to be told: which fields, which day, which hour.
import { computed } from 'vue'
import type { Table } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { useTracker } from '@/features/tracker/tracker'
import { hourOf, hourText } from '@/features/cell/hours'
import { dayFields, keyOf, occasionOf, occasions, type Occasion } from './occasions'

const props = defineProps<{ table: Table; disabled?: boolean }>()
const when = defineModel<Occasion>({ required: true })
const { tracker } = useTracker()
const { vocabulary } = useVocabulary()
const forms = computed(() => tracker.value?.forms.filter((form) => form.table === props.table.id) ?? [])

const inner = <K extends string>(key: K) => {
  const now = when.value
  return typeof now === 'object' && key in now ? (now as unknown as Record<K, unknown>)[key] : undefined
}
const changed = computed(() => inner('changed') as number[] | undefined)
type Day = { field: number; days: number; at: number; working?: boolean }
const date = computed(() => inner('date') as Day | undefined)
type Round = 'daily' | 'working_days' | 'last_working_day' | { weekly: number[] } | { monthly: number }
const every = computed(() => inner('every') as { round: Round; at: number } | undefined)

const setDate = (change: Partial<Day>) => date.value && (when.value = { date: { ...date.value, working: !!date.value.working, ...change } })
const setEvery = (change: { round?: Round; at?: number }) => every.value && (when.value = { every: { ...every.value, ...change } })

const side = computed(() => Math.sign(date.value?.days ?? 0))
const count = computed(() => Math.abs(date.value?.days ?? 0))
const sides = [
  { value: -1, title: 'days before' },
  { value: 0, title: 'on the day in' },
  { value: 1, title: 'days after' },
]

const roundKey = computed(() => (typeof every.value?.round === 'object' ? Object.keys(every.value.round)[0]! : String(every.value?.round)))
const rounds = [
  { value: 'daily', title: 'day' },
  { value: 'working_days', title: 'working day' },
  { value: 'weekly', title: 'week on …' },
  { value: 'monthly', title: 'month on the …' },
  { value: 'last_working_day', title: 'month on its last working day' },
]
function roundOf(key: string): Round {
  if (key === 'weekly') return { weekly: [1] }
  if (key === 'monthly') return { monthly: 1 }
  return key as Round
}
const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const weekly = computed(() =>
  typeof every.value?.round === 'object' && 'weekly' in every.value.round ? every.value.round.weekly : undefined,
)
const monthly = computed(() =>
  typeof every.value?.round === 'object' && 'monthly' in every.value.round ? every.value.round.monthly : undefined,
)
function toggle(day: number) {
  const now = weekly.value ?? []
  const next = now.includes(day) ? now.filter((one) => one !== day) : [...now, day].sort((a, b) => a - b)
  if (next.length) setEvery({ round: { weekly: next } })
}
const typed = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <div class="occasion">
    <p>
      When a {{ table.one }}
      <PickOne
        :model-value="keyOf(when)"
        :disabled="disabled"
        aria-label="What sets it going"
        data-test="occasion"
        :items="occasions(vocabulary, forms, table)"
        @update:model-value="when = occasionOf($event, table)"
      />
    </p>
    <v-autocomplete
      v-if="changed"
      :model-value="changed"
      :items="table.fields"
      item-value="id"
      item-title="name"
      multiple
      chips
      closable-chips
      aria-label="Which fields"
      placeholder="any field that people fill in"
      data-test="occasion-fields"
      @update:model-value="when = { changed: $event }"
    />
    <p v-else-if="date" class="row">
      <input
        v-if="side"
        class="boxed short"
        inputmode="numeric"
        aria-label="How many days"
        data-test="occasion-days"
        :value="count"
        @change="setDate({ days: side * Math.max(1, Math.trunc(Number(typed($event))) || 1) })"
      />
      <PickOne
        said
        :model-value="side"
        aria-label="Before or after"
        data-test="occasion-side"
        :items="sides"
        @update:model-value="setDate({ days: $event * Math.max(1, count) })"
      />
      <PickOne
        said
        :model-value="date.field"
        aria-label="Which day"
        data-test="occasion-day"
        :items="named(dayFields(table))"
        @update:model-value="setDate({ field: Number($event) })"
      />
      at
      <input
        type="time"
        class="boxed"
        aria-label="At what hour"
        data-test="occasion-at"
        :value="hourText(date.at)"
        @change="setDate({ at: hourOf(typed($event)) ?? date.at })"
      />
      <label class="check"
        ><input type="checkbox" :checked="date.working" @change="setDate({ working: !date.working })" /> on working days alone</label
      >
    </p>
    <p v-else-if="every" class="row">
      every
      <PickOne
        said
        :model-value="roundKey"
        aria-label="How often"
        data-test="occasion-round"
        :items="rounds"
        @update:model-value="setEvery({ round: roundOf($event) })"
      />
      <span v-if="weekly" class="week" role="group" aria-label="On which days">
        <button v-for="(name, n) in WEEK" :key="name" type="button" :aria-pressed="weekly.includes(n + 1)" @click="toggle(n + 1)">{{
          name
        }}</button>
      </span>
      <input
        v-if="monthly"
        class="boxed short"
        inputmode="numeric"
        aria-label="On which day of the month"
        :value="monthly"
        @change="setEvery({ round: { monthly: Math.min(31, Math.max(1, Math.trunc(Number(typed($event))) || 1)) } })"
      />
      at
      <input
        type="time"
        class="boxed"
        aria-label="At what hour"
        data-test="occasion-at"
        :value="hourText(every.at)"
        @change="setEvery({ at: hourOf(typed($event)) ?? every.at })"
      />
    </p>
  </div>
</template>

<style scoped>
.occasion p {
  margin: 0 0 var(--gap-2);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: baseline;
  font: 16px/1.5 var(--serif);
}
.boxed {
  padding: 3px 8px;
  font: 14px var(--sans);
}
.short {
  width: 56px;
}
.check {
  font: 14px var(--sans);
}
.week {
  display: inline-flex;
  gap: 2px;
}
.week button {
  border: 1px solid var(--line-strong);
  background: var(--sheet);
  border-radius: var(--corner);
  padding: 2px 6px;
  font: 13px var(--sans);
  cursor: pointer;
}
.week button[aria-pressed='true'] {
  border-color: var(--moss);
  background: var(--moss-soft);
  font-weight: 600;
}
</style>
