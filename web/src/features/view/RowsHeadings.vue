<script setup lang="ts">
// The fields' names over the rows. Each opens the slip of its field: what is in it, and what can be done with it.
import { ref } from 'vue'
import type { Condition, Field, Query, SlipAct } from '@/api/types'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import { isRight } from '@/features/cell/kinds'
import FieldSlip from './FieldSlip.vue'

/** The two sorts of fields that compute themselves. */
export type Computed = 'calculation' | 'summary'

const props = defineProps<{
  columns: Field[]
  /** Widths of the fields, as grid columns. */
  template: string
  width: number
  tracker: number
  table: number
  /** What the view shows, and in which order. */
  query: Query
  /** Whether nothing can be changed, since one stands in for somebody. */
  readonly: boolean
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
  /** Narrows the view to these records. */
  only: [condition: Condition]
  /** To what uses a field. */
  use: [use: SlipAct & { act: 'use' }]
}>()

/** As wide as the slip is, in CSS pixels. */
const SLIP = 532

const open = ref<{ field: Field; x: number; y: number }>()

const headings = ref<HTMLElement>()

/** The slip hangs beside its column, so that the cells stay in sight: behind it, or before it where there is no room. */
function openAt(column: number) {
  const field = props.columns[column]
  const heading = headings.value?.querySelector(`#heading-${column}`)?.getBoundingClientRect()
  if (!field || !heading) return
  const x = heading.right + SLIP < innerWidth ? heading.right : Math.max(8, heading.left - SLIP)
  open.value = { field, x, y: heading.bottom }
}
defineExpose({ openAt })

function order(field: Field) {
  const sort = props.query.sorts?.[0]
  if (sort?.field !== field.id) return undefined
  return sort.descending ? 'descending' : 'ascending'
}

function act(does: SlipAct) {
  const field = open.value?.field
  open.value = undefined
  if (!field) return
  if (does.act === 'where') emit('narrow', field)
  else if (does.act === 'order') emit('order', field, does.descending)
  else if (does.act === 'group') emit('group', does.on ? field : undefined)
  else if (does.act === 'formula') emit('formula', field)
  else if (does.act === 'settings' || does.act === 'hide') emit('design', field, does.act)
  else if (does.act === 'add') emit('design', field, does.behind ? 'behind' : 'before')
  else if (does.act === 'compute') emit('compute', does.summary ? 'summary' : 'calculation', field)
  else if (does.act === 'use') emit('use', does)
}

function only(condition: Condition) {
  open.value = undefined
  emit('only', condition)
}
</script>

<template>
  <div ref="headings" class="headings" role="row" aria-rowindex="1" :style="{ gridTemplateColumns: template, width: `${width}px` }">
    <div
      v-for="(field, column) in columns"
      :id="`heading-${column}`"
      :key="field.id"
      role="columnheader"
      :class="{ right: isRight(field), here: here === column, stays: column < stays.length, open: open?.field.id === field.id }"
      :style="{ left: column < stays.length ? `${stays[column]}px` : undefined }"
      :data-active="here === column"
      :aria-sort="order(field)"
      :title="field.help || undefined"
    >
      <button tabindex="-1" :data-heading="field.name" @click="openAt(column)">{{ field.name }}</button>
    </div>
    <PopupMenu stays :at="open" :label="`What is in ${open?.field.name}, and what can be done with it`" @close="open = undefined">
      <FieldSlip
        v-if="open"
        :tracker="tracker"
        :table="table"
        :field="open.field"
        :style="{ maxHeight: `calc(100dvh - ${open.y + 24}px)` }"
        :query="query"
        :readonly="readonly"
        @act="act"
        @narrow="only"
      />
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
