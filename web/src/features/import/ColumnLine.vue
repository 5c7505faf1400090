<script setup lang="ts">
// One column: what stands in it, and in words what becomes of it.
import PickOne from '@/features/menu/PickOne.vue'
import { named, worded } from '@/features/menu/pick'
import { computed } from 'vue'
import type { ColumnGuess, ColumnPlan, Plan, Table } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import { becomesOf, keyOf, unmatchedOf, ways, type Becomes, type Unmatched } from './becomes'

const props = defineProps<{
  column: ColumnPlan
  guess: ColumnGuess | undefined
  plan: Plan
  tables: Table[]
  builds: boolean
  /** What is wrong with it. */
  fault?: string
}>()
const emit = defineEmits<{ put: [change: Partial<ColumnPlan>] }>()

const { vocabulary, becoming, begins } = useVocabulary()
const list = computed(() => ways(props.plan, props.tables, props.builds, becoming.value))
const key = computed(() => keyOf(props.column.becomes))
const becomes = computed(() => props.column.becomes)
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
const into = computed(() =>
  'table' in props.plan.into ? props.tables.find((t) => t.id === (props.plan.into as { table: { table: number } }).table.table) : undefined,
)
const unmatched = computed(() => unmatchedOf(becomes.value, into.value?.fields ?? []))
const kind = computed(() => (typeof becomes.value === 'object' && 'field' in becomes.value ? becomes.value.field.kind : undefined))
const fieldKind = computed(() => {
  if (typeof becomes.value !== 'object') return undefined
  if ('existing' in becomes.value) {
    const { field } = becomes.value.existing
    return into.value?.fields.find((f) => f.id === field)?.kind
  }
  return kind.value
})
const dated = computed(() => ['date', 'date_time', 'range'].includes(fieldKind.value?.type ?? ''))
/** Its dates have years of two digits. */
const shortYears = computed(() => props.guess?.samples.some((text) => !/\d{4}/.test(text)) ?? false)
const numbered = computed(() => ['number', 'money', 'percent'].includes(fieldKind.value?.type ?? ''))
const several = computed(
  () =>
    ['choices', 'people'].includes(fieldKind.value?.type ?? '') ||
    (typeof becomes.value === 'object' && ('link' in becomes.value || 'table' in becomes.value)),
)
const linkTable = computed(() =>
  typeof becomes.value === 'object' && 'link' in becomes.value
    ? props.tables.find((t) => t.id === (becomes.value as { link: { to: number } }).link.to)
    : undefined,
)

function choose(next: string) {
  const change: Partial<ColumnPlan> = {
    becomes: becomesOf(next, props.column, props.tables, begins, props.guess?.own ?? { name: props.column.name, one: props.column.name }),
  }
  emit('put', change)
}

function setUnmatched(unmatched: Unmatched) {
  const now = becomes.value
  if (typeof now !== 'object') return
  if ('link' in now) emit('put', { becomes: { link: { ...now.link, unmatched } } })
  else if ('existing' in now) emit('put', { becomes: { existing: { ...now.existing, unmatched } } })
}

function setSeparator(text: string) {
  const separator = text || null
  const now = becomes.value
  let next: Becomes = now
  if (typeof now === 'object' && 'link' in now) next = { link: { ...now.link, one: !separator } }
  if (typeof now === 'object' && 'table' in now) next = { table: { ...now.table, single: !separator } }
  emit('put', { separator, becomes: next })
}
</script>

<template>
  <div class="column" :data-column="column.name" :class="{ out: key === 'nothing' }">
    <div class="file">
      <b>{{ column.name }}</b>
      <span class="quiet">{{ guess?.samples.slice(0, 3).join(' · ') }}</span>
    </div>
    <div class="becomes">
      <PickOne
        said
        :model-value="key"
        :aria-label="`${column.name} becomes`"
        data-test="becomes"
        :items="list.map((way) => ({ value: way.key, title: way.name, group: way.group }))"
        @update:model-value="choose($event)"
      />
      <template v-if="kind || (typeof becomes === 'object' && ('link' in becomes || 'table' in becomes))">
        called <input :value="column.name" class="name" aria-label="Name of the field" @change="emit('put', { name: value($event) })" />
      </template>
      <template v-if="kind?.type === 'money'">
        in
        <input
          :value="kind.currency"
          class="short"
          aria-label="Currency"
          maxlength="3"
          @change="emit('put', { becomes: { field: { kind: { ...kind, currency: value($event).toUpperCase() } } } })"
      /></template>
      <template v-if="typeof becomes === 'object' && 'table' in becomes">
        to the new table
        <input
          :value="becomes.table.name"
          class="name"
          aria-label="Name of the new table"
          data-test="own-table"
          @change="
            emit('put', {
              becomes: { table: { ...(becomes as { table: { name: string; one: string; single: boolean } }).table, name: value($event) } },
            })
          "
        />
      </template>
      <template v-if="linkTable && typeof becomes === 'object' && 'link' in becomes">
        by
        <PickOne
          said
          :model-value="becomes.link.by"
          aria-label="By which field"
          :items="named(linkTable.fields)"
          @update:model-value="
            emit('put', { becomes: { link: { ...(becomes as { link: typeof becomes.link }).link, by: Number($event) } } })
          "
        />
      </template>
      <template v-if="unmatched"
        >, what is not there
        <PickOne
          said
          :model-value="unmatched"
          aria-label="What is not there"
          data-test="unmatched"
          :items="worded(vocabulary?.unmatched)"
          @update:model-value="setUnmatched($event)"
      /></template>
      <template v-if="several"
        >, several parted by
        <PickOne
          said
          :model-value="column.separator ?? ''"
          aria-label="Several parted by"
          data-test="separator"
          :items="[
            { value: '', title: 'nothing: one each' },
            { value: ';', title: ';' },
            { value: ',', title: ',' },
            { value: '/', title: '/' },
            { value: '|', title: '|' },
            { value: '\n', title: 'the line’s end' },
          ]"
          @update:model-value="setSeparator($event)"
      /></template>
      <template v-if="dated && guess?.written !== false"
        >, the dates
        <PickOne
          said
          :model-value="column.dates ?? ''"
          aria-label="Order of the dates"
          data-test="dates"
          :class="{ ask: guess?.asks_order && !column.dates }"
          :items="[
            { value: '', title: guess?.asks_order ? 'could be either: say which' : 'as they say themselves' },
            { value: 'day', title: 'with the day first' },
            { value: 'month', title: 'with the month first' },
            { value: 'year', title: 'with the year first' },
          ]"
          @update:model-value="emit('put', { dates: ($event || null) as 'day' | null })"
        /><template v-if="shortYears"
          >, years of two digits from
          <input
            :value="column.years_from"
            class="short"
            type="number"
            min="1800"
            max="2099"
            aria-label="Years of two digits begin with"
            data-test="years"
            @change="emit('put', { years_from: Number(value($event)) })"
          />
          on</template
        ></template
      >
      <template v-if="numbered && guess?.written !== false"
        >, decimals after
        <PickOne
          said
          :model-value="String(column.decimal_comma ?? false)"
          aria-label="Decimals after"
          :items="[
            { value: 'false', title: 'a point' },
            { value: 'true', title: 'a comma' },
          ]"
          @update:model-value="emit('put', { decimal_comma: $event === 'true' })"
      /></template>
      <p v-if="fault" class="fault-text" role="alert">{{ fault }}</p>
      <p v-else-if="guess && key === 'nothing' && guess.says.length" class="quiet note">{{ guess.says.join(' ') }}</p>
      <p v-else-if="guess && key !== 'nothing'" class="quiet note">
        {{ guess.counted }}
        <span v-for="one in guess.says" :key="one" class="says">{{ one }}</span>
        <template v-if="guess.repeats && key === 'new:text'"
          >. It repeats a few values: make it <button class="link" @click="choose('new:choice')">a choice</button> or
          <button class="link" @click="choose('table')">a table of its own</button></template
        >
        <template v-else-if="guess.repeats && key === 'new:choice'"
          >. Or make it <button class="link" data-test="own" @click="choose('table')">a table of its own</button></template
        >
      </p>
    </div>
  </div>
</template>

<style scoped>
.column {
  display: grid;
  grid-template-columns: minmax(140px, 1fr) minmax(0, 2fr);
  gap: 20px;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
.out {
  opacity: 0.62;
}
.file {
  display: grid;
  align-content: start;
  overflow: hidden;
}
.file span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 13px;
}
.becomes {
  font: 15.5px/1.8 var(--serif);
}
input {
  font: inherit;
  color: var(--moss);
  border: 0;
  border-bottom: 1px dashed var(--moss);
  background: none;
  max-width: 260px;
}
.name {
  width: 160px;
}
.short {
  width: 60px;
}
.ask {
  color: var(--copper);
  border-color: var(--copper);
}
.note {
  font: 12.5px/1.5 var(--sans);
  margin: 0;
}
.says {
  display: block;
}
@media (max-width: 700px) {
  .column {
    grid-template-columns: 1fr;
    gap: 4px;
  }
}
</style>
