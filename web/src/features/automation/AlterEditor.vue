<script setup lang="ts">
// A step that sets fields, of the record or of those it links to, or that adds a record.
import { computed, ref } from 'vue'
import type { Problem } from '@/api/client'
import type { AddStep, SetStep, Table } from '@/api/types'
import AlterLines from '@/features/bulk/AlterLines.vue'
import { allOf, alterationOf, begun, type Alteration } from '@/features/bulk/altering'
import StepShell from './StepShell.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{
  /** The table whose records it is about. */
  table: Table
  /** The table of the automation. */
  own: Table
  set?: SetStep
  add?: AddStep
  at: string
  problem?: Problem
  readonly: boolean
}>()
const emit = defineEmits<{ set: [step: SetStep]; add: [step: AddStep]; leave: [] }>()
const { tracker } = useTracker()

const tables = computed(() => tracker.value?.tables ?? [])
const into = ref(props.add?.table)
const along = ref((props.set?.along ?? []).join('.'))

/** The record itself, and what it links to. */
const whose = computed(() => {
  const found = [{ value: '', title: `this ${props.table.one}`, table: props.table }]
  for (const field of props.table.fields) {
    if (field.kind.type !== 'link') continue
    const { to } = field.kind
    const there = tables.value.find((one) => one.id === to)
    if (there) found.push({ value: String(field.id), title: `its ${field.within}`, table: there })
  }
  return found
})
const target = computed(() =>
  props.add
    ? tables.value.find((one) => one.id === into.value)
    : (whose.value.find((one) => one.value === along.value)?.table ?? props.table),
)
const given = props.set?.alter ?? props.add?.alter ?? []
const lines = ref<Alteration[]>(given.length ? given.map(alterationOf) : [begun()])
const alter = computed(() => allOf(lines.value))
const fault = computed(() => {
  const of = props.add ? 'add' : 'set'
  return props.problem?.at(`${props.at}/${of}/alter`) || props.problem?.at(`${props.at}/${of}`)
})
function go(to: string | number) {
  if (props.add) into.value = Number(to)
  else along.value = String(to)
  lines.value = [begun()]
}
function keep() {
  if (!alter.value) return
  if (props.add) emit('add', { table: into.value ?? props.add.table, alter: alter.value })
  else emit('set', { along: along.value ? along.value.split('.').map(Number) : [], alter: alter.value })
}
</script>

<template>
  <StepShell :fault="fault" :blocked="readonly || !alter" test="keep-alter" @keep="keep" @leave="emit('leave')">
    <p class="lead">
      <template v-if="add">
        Add a
        <PickOne
          said
          :model-value="into"
          aria-label="In which table"
          data-test="add-into"
          :items="tables.map((one) => ({ value: one.id, title: one.one }))"
          @update:model-value="go($event!)"
        />
        in which
      </template>
      <template v-else>
        Of
        <PickOne said :model-value="along" aria-label="Of what" data-test="set-whose" :items="whose" @update:model-value="go($event)" />
      </template>
    </p>
    <AlterLines v-if="target" v-model="lines" :table="target" :own="own" :adds="!!add" />
  </StepShell>
</template>
