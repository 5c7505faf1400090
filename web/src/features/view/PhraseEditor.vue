<script setup lang="ts">
// What opens under a phrase of the sentence: the part of the view that the phrase says.
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { computed, ref, watch } from 'vue'
import type { Condition, Field, Order, Ordering, Query, ShapeOffer, Table } from '@/api/types'
import { isIn, ruleOf } from '@/app/pointer'
import { pruned } from '@/features/condition/checks'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { useVocabulary } from '@/features/condition/vocabulary'
import FieldsEditor from './FieldsEditor.vue'
import HighlightsOff from './HighlightsOff.vue'
import GroupsEditor from './GroupsEditor.vue'
import ShapeEditor from './ShapeEditor.vue'
import OwnOrder from './OwnOrder.vue'
import ByHand from './ByHand.vue'
import TallyEditor from './TallyEditor.vue'

const props = defineProps<{
  /** The place in the query that is edited. */
  at: string
  table: Table
  query: Query
  /** The field that a condition is begun on. */
  begins?: number
  /** Whether a field’s slip opens from here. */
  slips?: boolean
  /** The shapes that it can have. */
  shapes?: ShapeOffer[]
  /** It is of a shared page, which draws rows in its own way and tells nothing of hours and limits. */
  outside?: boolean
  /** Whether its records stand by hand, and can. */
  ordering?: Ordering
}>()
const emit = defineEmits<{
  change: [part: Partial<Query>]
  close: []
  slip: [field: Field]
  make: [offer: ShapeOffer]
  byHand: [sorts: Order[] | undefined]
}>()

const { figureWord, ofKind } = useVocabulary()
const rule = computed(() => ruleOf(props.at))
/** Most groups, one within the other, and most sorts. */
const GROUPS = 3
const SORTS = 5
const shape = computed(() => props.query.shape ?? { as: 'rows' as const })

/** With a test of the field that is begun on: on its first check, which says nothing yet where it compares. */
function begun(condition: Condition): Condition {
  const field = props.table.fields.find((f) => f.id === props.begins)
  const check = ofKind(field?.shows.type)?.checks[0]?.begins
  if (!field || !check) return condition
  const test = { test: { path: [field.id], of: 'any' as const, check } }
  return 'all' in condition ? { all: [...condition.all, test] } : { all: [condition, test] }
}

// The condition is edited whole, with tests that say nothing yet; what the view takes has none of those.
const condition = ref<Condition>(begun(JSON.parse(JSON.stringify(props.query.condition ?? { all: [] })) as Condition))
const wrapped = computed<Condition>(() => ('test' in condition.value ? { all: [condition.value] } : condition.value))
watch(condition, (now) => emit('change', { condition: pruned(now) }))

const sortable = computed(() => props.table.fields.filter((f) => f.kind.type !== 'files'))
const orders = computed<Order[]>(() => props.query.sorts ?? [])

/** The first figure, as it is said after a number. */
const figure = computed(() => {
  const [tally] = props.query.tallies ?? []
  const field = props.table.fields.find((one) => one.id === tally?.field)
  return tally && field ? `as the ${figureWord(tally.figure)} of ${field.within}` : undefined
})
const put = (next: Order[]) => emit('change', { sorts: next })

function set(place: number, order: Order) {
  put(orders.value.map((old, n) => (n === place ? order : old)))
}

const free = computed(() => sortable.value.filter((f) => !orders.value.some((o) => o.field === f.id)))

function words(order: Order): string[] {
  return ofKind(props.table.fields.find((f) => f.id === order.field)?.shows.type)?.orders ?? ['first to last', 'last to first']
}
</script>

<template>
  <div v-if="rule === '/condition'">
    <ConditionEditor :table="table" :model-value="wrapped" @update:model-value="condition = $event" />
    <p class="done"><v-btn variant="text" size="small" data-test="condition-done" @click="emit('close')">Done</v-btn></p>
  </div>
  <FieldsEditor
    v-else-if="rule === '/fields'"
    :table="table"
    :fields="query.fields"
    :slips="slips"
    @change="emit('change', { fields: $event })"
    @slip="emit('slip', $event)"
  />
  <GroupsEditor
    v-else-if="rule === '/groups'"
    :table="table"
    :groups="query.groups ?? []"
    :most="shape.as === 'lanes' ? 1 : GROUPS"
    :lanes="shape.as === 'lanes' ? shape.by : undefined"
    @change="emit('change', { groups: $event })"
  />
  <TallyEditor
    v-else-if="rule === '/tallies'"
    :table="table"
    :tallies="query.tallies ?? []"
    @change="emit('change', { tallies: $event })"
  />
  <ShapeEditor
    v-else-if="isIn(rule, '/shape')"
    :table="table"
    :shape="shape"
    :offers="shapes ?? []"
    :alone="shape.as === 'cross-tab' && rule !== '/shape'"
    :outside="outside"
    :figure="figure"
    :query="query"
    @change="emit('change', { shape: $event })"
    @make="(emit('close'), emit('make', $event))"
  />
  <HighlightsOff
    v-else-if="rule === '/without'"
    :table="table"
    :without="query.without ?? []"
    @change="emit('change', { without: $event })"
  />
  <OwnOrder v-else-if="rule === '/own'" :ordering="ordering" :many="table.many" @forget="emit('byHand', undefined)" />
  <div v-else class="orders">
    <div v-for="(order, place) in orders" :key="place" class="order">
      <PickOne
        :model-value="order.field"
        aria-label="Field"
        :items="named(sortable)"
        @update:model-value="set(place, { ...order, field: Number($event) })"
      />
      <PickOne
        :model-value="order.descending ? 1 : 0"
        aria-label="Direction"
        :items="words(order).map((name, n) => ({ value: n, title: name }))"
        @update:model-value="set(place, { ...order, descending: $event === 1 })"
      />
      <button type="button" aria-label="Take it out" @click="put(orders.filter((_, n) => n !== place))">×</button>
    </div>
    <PickOne
      v-if="orders.length < SORTS"
      aria-label="Sort by"
      data-test="add-order"
      :items="named(free)"
      :hint="orders.length ? 'then by …' : 'Sort by …'"
      @update:model-value="put([...orders, { field: Number($event), descending: false }])"
    />
    <ByHand
      v-if="ordering && shape.as !== 'calendar'"
      :ordering="ordering"
      :sorted="orders.length > 0"
      :lanes="shape.as === 'lanes'"
      @begin="emit('byHand', orders)"
    />
  </div>
</template>

<style scoped>
.done {
  margin: var(--gap-2) 0 0;
  text-align: right;
}
.orders {
  display: grid;
  gap: var(--gap-2);
}
.order {
  display: flex;
  gap: var(--gap-2);
}
button {
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--quiet);
  font-size: 16px;
}
</style>
