<script setup lang="ts">
// The slip of a field where its name was pressed, and what its phrases do to the view.
import type { Condition, Field, Query, SlipAct } from '@/api/types'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import FieldSlip from './FieldSlip.vue'
import type { Computed, SlipPlace } from './slip'

const props = defineProps<{
  /** Where it is open, and of which field; nothing: it is closed. */
  at: SlipPlace | undefined
  tracker: number
  table: number
  /** What the view shows, and in which order. */
  query: Query
  /** Whether nothing can be changed, since one stands in for somebody. */
  readonly: boolean
}>()
const emit = defineEmits<{
  close: []
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
  /** Looks for words in a field. */
  find: [field: Field]
  /** To what uses a field. */
  use: [use: SlipAct & { act: 'use' }]
}>()

function act(does: SlipAct) {
  const field = props.at?.field
  emit('close')
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

function find() {
  const field = props.at?.field
  emit('close')
  if (field) emit('find', field)
}
function only(condition: Condition) {
  emit('close')
  emit('only', condition)
}
</script>

<template>
  <PopupMenu stays :at="at" :label="`What is in ${at?.field.name}, and what can be done with it`" @close="emit('close')">
    <FieldSlip
      v-if="at"
      :tracker="tracker"
      :table="table"
      :field="at.field"
      :style="{ maxHeight: `calc(100dvh - ${at.y + 24}px)` }"
      :query="query"
      :readonly="readonly"
      @act="act"
      @narrow="only"
      @find="find"
    />
  </PopupMenu>
</template>
