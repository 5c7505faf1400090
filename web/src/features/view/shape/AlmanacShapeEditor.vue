<script setup lang="ts">
// By which days a calendar goes; for whom a day has lines, how long records last, what lies beneath, and what a week should hold.
import { computed } from 'vue'
import type { AlmanacShape, Field, Table } from '@/api/types'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { useTracker } from '@/features/tracker/tracker'
import MarkHead from '../calendar/MarkHead.vue'

const props = defineProps<{
  shape: AlmanacShape
  table: Table
  /** The fields of days. */
  by: readonly number[]
  /** The first figure of the view. */
  figure?: string
  /** It is of a shared page. */
  outside?: boolean
}>()
const emit = defineEmits<{ change: [shape: AlmanacShape] }>()
const { tracker } = useTracker()
const put = (part: Partial<AlmanacShape>) => emit('change', { ...props.shape, ...part })

/** Most dates of a calendar. */
const DATES = 4
const NOBODY = { value: null, title: 'nobody' }
const fields = (ids: readonly number[]) => named(ids.flatMap((id) => props.table.fields.filter((field) => field.id === id)))
const setDate = (place: number, part: Partial<AlmanacShape['dates'][number]>) =>
  put({ dates: props.shape.dates.map((date, n) => (n === place ? { ...date, ...part } : date)) })
const capOf = computed(() => props.figure || props.table.many)
function setCap(event: Event) {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.')
  if (!text || /^\d+(\.\d+)?$/.test(text)) put({ cap: text || null })
}

const BINDS = new Set(['person', 'people', 'choice', 'choices', 'link'])
const binding = (of: readonly Field[]) => named(of.filter((field) => BINDS.has(field.shows.type)))
const lasting = computed(() =>
  named(props.table.fields.filter((field) => field.shows.type === 'number' || field.shows.type === 'duration')),
)
const working = computed(() => props.shape.working ?? { from: 8, to: 17 })
const hours = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, n) => ({ value: from + n, title: `${from + n}:00` }))

const DAYS = new Set(['date', 'date_time', 'range', 'created_at', 'changed_at'])
const others = computed(() =>
  (tracker.value?.tables ?? []).filter((one) => one.id !== props.table.id && one.fields.some((field) => DAYS.has(field.shows.type))),
)
const beneath = computed(() => others.value.find((one) => one.id === props.shape.beneath?.table))
const daysOf = (table: Table) => named(table.fields.filter((field) => DAYS.has(field.shows.type)))
function setBeneath(id: number | null) {
  const other = others.value.find((one) => one.id === id)
  // A span says more than a day.
  const start =
    other &&
    [...other.fields]
      .sort((a, b) => Number(b.shows.type === 'range') - Number(a.shows.type === 'range'))
      .find((field) => DAYS.has(field.shows.type))
  const who = other?.fields.find((field) => field.shows.type === 'person')
  put({ beneath: other && start ? { table: other.id, date: { start: start.id }, who: who?.id ?? null } : null })
}
</script>

<template>
  <div class="says">
    <p v-for="(date, place) in shape.dates" :key="place">
      <MarkHead :date="place" />
      <PickOne
        said
        :model-value="date.start"
        aria-label="From"
        :items="fields(by.length ? by : [date.start])"
        @update:model-value="setDate(place, { start: Number($event) })"
      />
      to
      <PickOne
        said
        :model-value="date.end ?? null"
        aria-label="To"
        :items="[{ value: null, title: 'the same day' }, ...fields(by.filter((id) => id !== date.start))]"
        @update:model-value="setDate(place, { end: $event === null ? null : Number($event) })"
      />
      <button
        v-if="shape.dates.length > 1"
        type="button"
        aria-label="Take it out"
        @click="put({ dates: shape.dates.filter((_, n) => n !== place) })"
        >×</button
      >
    </p>
    <PickOne
      v-if="shape.dates.length < DATES"
      aria-label="And by"
      data-test="add-date"
      :items="fields(by.filter((id) => !shape.dates.some((one) => one.start === id)))"
      hint="and by …"
      @update:model-value="put({ dates: [...shape.dates, { start: Number($event), end: null }] })"
    />
    <template v-if="!outside"
      ><p
        >A week should hold at most
        <input :value="shape.cap ?? ''" inputmode="decimal" size="5" aria-label="Most of a week" data-test="cap" @change="setCap" />
        {{ capOf }}.</p
      >
      <p>
        By the hour there is a line for each
        <PickOne
          said
          :model-value="shape.who ?? null"
          aria-label="A line for each"
          data-test="line-for"
          :items="[{ value: null, title: 'day alone' }, ...binding(table.fields)]"
          @update:model-value="put({ who: $event === null ? null : Number($event) })"
        />, work is from
        <PickOne
          said
          :model-value="working.from"
          aria-label="Work from"
          :items="hours(0, 23)"
          @update:model-value="put({ working: { from: Number($event), to: Math.max(working.to, Number($event) + 1) } })"
        />
        to
        <PickOne
          said
          :model-value="working.to"
          aria-label="Work to"
          :items="hours(working.from + 1, 24)"
          @update:model-value="put({ working: { ...working, to: Number($event) } })"
        />
        <template v-if="shape.dates[0]?.end == null">
          and a {{ table.one }} lasts
          <PickOne
            said
            :model-value="shape.lasts ?? null"
            aria-label="How long it lasts"
            data-test="lasts"
            :items="[{ value: null, title: 'as nobody says' }, ...lasting]"
            @update:model-value="put({ lasts: $event === null ? null : Number($event) })" /></template
        >.
      </p>
    </template>
    <p v-if="others.length && !outside">
      Beneath lies
      <PickOne
        said
        :model-value="beneath?.id ?? null"
        aria-label="What lies beneath"
        data-test="beneath"
        :items="[{ value: null, title: 'nothing' }, ...others.map((one) => ({ value: one.id, title: one.name }))]"
        @update:model-value="setBeneath"
      />
      <template v-if="beneath && shape.beneath">
        by
        <PickOne
          said
          :model-value="shape.beneath.date.start"
          aria-label="Its days"
          :items="daysOf(beneath)"
          @update:model-value="put({ beneath: { ...shape.beneath!, date: { start: Number($event) } } })"
        />, binding
        <PickOne
          said
          :model-value="shape.beneath.who ?? null"
          aria-label="Whom it binds"
          :items="[NOBODY, ...binding(beneath.fields)]"
          @update:model-value="put({ beneath: { ...shape.beneath!, who: $event === null ? null : Number($event) } })"
        /> </template
      >.
    </p>
  </div>
</template>

<style scoped>
.says {
  font: 16px/1.6 var(--serif);
}
p {
  margin: 0;
}
input {
  width: 64px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: inherit;
  padding: 2px 6px;
}
button {
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
}
</style>
