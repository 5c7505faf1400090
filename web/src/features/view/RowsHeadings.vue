<script setup lang="ts">
// The fields' names over the rows; for builders, each with what can be done to the field.
import { computed, ref } from 'vue'
import type { Field, Order } from '@/api/types'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import { isRight } from '@/features/cell/kinds'
import { useVocabulary } from '@/features/condition/vocabulary'

/** The two sorts of fields that compute themselves. */
export type Computed = 'calculation' | 'summary'

const props = defineProps<{
  columns: Field[]
  /** Widths of the fields, as grid columns. */
  template: string
  width: number
  /** Whether one may change the structure. */
  builds: boolean
  /** By which fields the records stand in order. */
  sorts: Order[]
  /** By which field they are grouped. */
  group: number | undefined
  /** Where the fields that stay in sight stand, in CSS pixels from the left. */
  stays: number[]
  /** The heading one is at. */
  here: number | undefined
}>()
const emit = defineEmits<{
  /** To the formula of a calculation, or to what a summary takes. */
  formula: [field: Field]
  /** A new calculation or summary, behind this field. */
  compute: [what: Computed, after: Field]
  /** The field's settings; or a new field before or behind it. */
  design: [field: Field, what: 'settings' | 'before' | 'behind' | 'hide']
  order: [field: Field, descending: boolean]
  /** Groups by a field, or by none. */
  group: [field: Field | undefined]
  /** Begins a condition on a field. */
  narrow: [field: Field]
}>()

const open = ref<{ field: Field; x: number; y: number }>()

function press(event: MouseEvent, field: Field) {
  open.value = { field, x: event.clientX, y: event.clientY }
}

function openAt(column: number, x: number, y: number) {
  const field = props.columns[column]
  if (field) open.value = { field, x, y }
}
defineExpose({ openAt })

const { ofKind } = useVocabulary()
const orders = computed(() => ofKind(open.value?.field.shows.type)?.orders ?? [])
const orderable = computed(() => open.value?.field.kind.type !== 'files')

function does(what: (field: Field) => void) {
  const field = open.value?.field
  open.value = undefined
  if (field) what(field)
}

function order(field: Field) {
  const sort = props.sorts[0]
  if (sort?.field !== field.id) return undefined
  return sort.descending ? 'descending' : 'ascending'
}

const design = (what: 'settings' | 'before' | 'behind' | 'hide') => does((field) => emit('design', field, what))

const choose = (what: 'formula' | Computed) => does((field) => (what === 'formula' ? emit('formula', field) : emit('compute', what, field)))
</script>

<template>
  <div class="headings" role="row" aria-rowindex="1" :style="{ gridTemplateColumns: template, width: `${width}px` }">
    <div
      v-for="(field, column) in columns"
      :id="`heading-${column}`"
      :key="field.id"
      role="columnheader"
      :class="{ right: isRight(field), here: here === column, stays: column < stays.length }"
      :style="{ left: column < stays.length ? `${stays[column]}px` : undefined }"
      :data-active="here === column"
      :aria-sort="order(field)"
      :title="field.help || undefined"
    >
      <button tabindex="-1" :data-heading="field.name" @click="press($event, field)">{{ field.name }}</button>
    </div>
    <PopupMenu :at="open" :label="`What can be done with ${open?.field.name}`" @close="open = undefined">
      <p v-if="open?.field.help" class="quiet">{{ open.field.help }}</p>
      <template v-if="orderable">
        <button v-for="(name, n) in orders" :key="name" :data-order="n" @click="does((field) => emit('order', field, n === 1))"
          >In order {{ name }}</button
        >
        <button v-if="open?.field.id === group" @click="does(() => emit('group', undefined))">Not grouped any more</button>
        <button v-else data-test="group-by" @click="does((field) => emit('group', field))">In groups of the same</button>
        <button data-test="narrow-by" @click="does((field) => emit('narrow', field))">Only those where …</button>
      </template>
      <button @click="design('hide')">Hide it in this view</button>
      <template v-if="builds">
        <hr />
        <button v-if="open?.field.formula !== undefined" @click="choose('formula')">Change the formula</button>
        <button v-if="open?.field.kind.type === 'summary'" @click="choose('formula')">Change what it takes</button>
        <button data-test="field-settings" @click="design('settings')">Settings of this field</button>
        <button data-test="field-behind" @click="design('behind')">New field behind it</button>
        <button @click="design('before')">New field before it</button>
        <button @click="choose('calculation')">New calculation behind it</button>
        <button @click="choose('summary')">New summary behind it</button>
      </template>
    </PopupMenu>
  </div>
</template>

<style scoped>
.headings {
  display: grid;
  position: sticky;
  top: 0;
  z-index: 3;
  background: var(--sheet);
  border-bottom: 1px solid var(--line-strong);
  color: var(--quiet);
  font-size: 12.5px;
  min-width: 100%;
}
.headings > div {
  padding: 7px 10px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  display: flex;
  align-items: center;
}
.headings > .stays {
  position: sticky;
  z-index: 1;
  background: var(--sheet);
}
.headings > .here {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
.headings > .right {
  justify-content: flex-end;
}
.headings > div > button {
  font: inherit;
  color: inherit;
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  overflow: hidden;
  text-overflow: ellipsis;
}
.headings > div > button:hover {
  color: var(--ink);
  text-decoration: underline;
}
.quiet {
  max-width: 260px;
  margin: 4px 10px;
}
</style>
