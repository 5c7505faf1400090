<script setup lang="ts">
// One line of a statement: its words, and what it is of.
import { computed, ref } from 'vue'
import type { Figure, LineRecords, StatementLine, Table } from '@/api/types'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { pruned } from '@/features/condition/checks'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { daysOf, LINE_SORTS, ofSort, SIGNS, sortOf } from './statement'

const props = defineProps<{
  line: StatementLine
  /** The lines that it can be made of. */
  above: StatementLine[]
  tables: Table[]
  /** Whether runs of days are told. */
  runs: boolean
}>()
const emit = defineEmits<{ change: [line: StatementLine] }>()
const { figuresOf } = useVocabulary()

const put = (part: Partial<StatementLine>) => emit('change', { ...props.line, ...part })
const sort = computed(() => sortOf(props.line.of))
const records = computed(() => (typeof props.line.of === 'object' && 'records' in props.line.of ? props.line.of.records : undefined))
const table = computed(() => props.tables.find((one) => one.id === records.value?.table))
const days = computed(() => [{ value: null as number | null, title: 'as of now' }, ...named(daysOf(table.value)).map((one) => ({ value: one.value as number | null, title: `in that time, by ${one.title}` }))]) // prettier-ignore
const set = (part: Partial<LineRecords>) => records.value && put({ of: { records: { ...records.value, ...part } } })

/** Every figure that can be had of the table’s fields, short ones alone: how many there are first. */
const figures = computed(() => {
  const all: { value: { field: number; figure: Figure } | null; title: string }[] = [
    { value: null, title: `how many ${table.value?.many ?? 'records'} there are` },
  ]
  for (const field of table.value?.fields ?? []) {
    for (const one of figuresOf(field)) {
      if (one.figure === 'sum' || one.figure === 'average' || one.figure === 'median' || one.figure === 'least' || one.figure === 'most')
        all.push({ value: { field: field.id, figure: one.figure }, title: `${one.name} of ${field.within}` })
    }
  }
  return all
})
const figure = computed(() => figures.value.find(({ value }) => value?.field === records.value?.figure?.field && value?.figure === records.value?.figure?.figure)?.value ?? null) // prettier-ignore
const odd = ref(false)
/** A number as it is typed, in any of the ways that decimals are; nothing: no target. */
function setTarget(typed: string) {
  const plain = typed.replace(/\s/g, '').replace(',', '.')
  odd.value = !/^(-?\d+(\.\d+)?)?$/.test(plain)
  if (!odd.value) put({ target: plain && sort.value === 'share' ? String(Number(plain) / 100) : plain || null })
}
/** Of a share in hundredths, as it is told. */
const target = computed(() => {
  const kept = props.line.target
  return kept && sort.value === 'share' ? String(Math.round(Number(kept) * 10_000) / 100) : (kept ?? '')
})
const lines = computed(() => props.above.map((line, value) => ({ value, title: line.words || `line ${value + 1}` })))
const sorts = computed(() => (props.above.length > 1 ? LINE_SORTS : LINE_SORTS.slice(0, props.above.length + 1)))
/** Its two lines: of a share the part and the whole, of what there is for each the one and the other. */
const pair = computed(() => {
  const { of } = props.line
  if (of === 'total' || 'records' in of) return undefined
  return 'share' in of ? ([of.share.part, of.share.whole] as const) : ([of.per.what, of.per.each] as const)
})
function setPair(one: number, other: number) {
  put({ of: sort.value === 'share' ? { share: { part: one, whole: other } } : { per: { what: one, each: other } } })
}
</script>

<template>
  <div class="line-editor">
    <v-text-field
      :model-value="line.words"
      aria-label="What it is called"
      placeholder="What it is called"
      data-test="line-words"
      hide-details
      @update:model-value="put({ words: $event })"
    />
    <p>
      <PickOne
        said
        :model-value="sort"
        aria-label="What it is"
        data-test="line-sort"
        :items="sorts"
        @update:model-value="put({ of: ofSort($event, above.length, table?.id ?? tables[0]?.id ?? 0) })"
      />
      <template v-if="pair">
        :
        <PickOne said :model-value="pair[0]" aria-label="The one line" :items="lines" @update:model-value="setPair($event, pair[1])" />
        {{ sort === 'share' ? 'in' : 'for each of' }}
        <PickOne said :model-value="pair[1]" aria-label="The other line" :items="lines" @update:model-value="setPair(pair[0], $event)" />
      </template>
      <template v-else-if="records">
        of
        <PickOne
          said
          :model-value="records.table"
          aria-label="Table"
          data-test="line-table"
          :items="named(tables)"
          @update:model-value="put({ of: { records: { table: $event, condition: { all: [] }, sign: records.sign } } })"
        />:
        <PickOne
          said
          :model-value="figure"
          aria-label="Figure"
          data-test="line-figure"
          :items="figures"
          @update:model-value="set({ figure: $event })"
        />,
        <template v-if="runs"
          ><PickOne
            said
            :model-value="records.day ?? null"
            aria-label="Which days"
            data-test="line-day"
            :items="days"
            @update:model-value="set({ day: $event })"
          />,
        </template>
        <PickOne
          said
          :model-value="records.sign ?? 'plus'"
          aria-label="In the total"
          data-test="line-sign"
          :items="SIGNS"
          @update:model-value="set({ sign: $event })"
        />
      </template>
      <label class="target"
        >, wanted
        <input
          type="text"
          inputmode="decimal"
          size="6"
          placeholder="no target"
          aria-label="What it should come to"
          data-test="line-target"
          :value="target"
          @change="setTarget(($event.target as HTMLInputElement).value)"
        />{{ sort === 'share' ? ' %' : '' }}</label
      >
    </p>
    <p v-if="odd" class="fault-text" role="alert">Write the target as a number, or leave it empty.</p>
    <ConditionEditor
      v-if="records && table"
      :table="table"
      :model-value="
        records.condition && !('test' in records.condition) ? records.condition : { all: records.condition ? [records.condition] : [] }
      "
      nothing="All of them count. Add a condition to narrow them."
      @update:model-value="set({ condition: pruned($event) })"
    />
  </div>
</template>

<style scoped>
.line-editor {
  grid-column: 1 / -1;
  display: grid;
  gap: var(--gap-2);
  padding: 0 0 var(--gap-3);
}
p {
  margin: 0;
  font: 16px/1.6 var(--serif);
}
.target {
  white-space: nowrap;
}
input {
  width: 84px;
  padding: 2px 6px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: inherit;
  font: 14px var(--sans);
}
</style>
