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
/** The lists of what is added, in which lines stand. */
const lists = computed(() =>
  (target.value?.fields ?? []).flatMap((field) => {
    const { kind } = field
    const to = kind.type === 'link' && !kind.one ? tables.value.find((one) => one.id === kind.to) : undefined
    return to ? [{ value: field.id, title: field.within, table: to }] : []
  }),
)
const under = ref((props.add?.lines ?? []).map((line) => ({ under: line.under, alter: line.alter.map(alterationOf) })))
const tableOf = (field: number) => lists.value.find((one) => one.value === field)?.table
const addedLines = computed(() => under.value.map((line) => ({ under: line.under, alter: allOf(line.alter) })))
/** Each line says enough; what is added may begin with nothing but its lines. */
const says = computed(() => {
  const said = lines.value.some((line) => line.field !== undefined)
  if (!props.add) return !!alter.value
  return (!said || !!alter.value) && addedLines.value.every((line) => line.alter) && (said || addedLines.value.length > 0)
})
const fault = computed(() => {
  const of = props.add ? 'add' : 'set'
  const lineFault = under.value.map((_, n) => props.problem?.at(`${props.at}/add/lines/${n}/alter`)).find(Boolean)
  return props.problem?.at(`${props.at}/${of}/alter`) || lineFault || props.problem?.at(`${props.at}/${of}`)
})
function go(to: string | number) {
  if (props.add) into.value = Number(to)
  else along.value = String(to)
  lines.value = [begun()]
  under.value = []
}
function keep() {
  if (!says.value) return
  const added = addedLines.value.map((line) => ({ under: line.under, alter: line.alter ?? [] }))
  if (props.add) emit('add', { table: into.value ?? props.add.table, alter: alter.value ?? [], lines: added })
  else emit('set', { along: along.value ? along.value.split('.').map(Number) : [], alter: alter.value ?? [] })
}
</script>

<template>
  <StepShell :fault="fault" :blocked="readonly || !says" test="keep-alter" @keep="keep" @leave="emit('leave')">
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
    <template v-if="add">
      <div v-for="(line, n) in under" :key="n" class="under" :data-under="n">
        <p class="lead">
          and under it, in its {{ lists.find((one) => one.value === line.under)?.title }}, a {{ tableOf(line.under)?.one }} in which
          <button type="button" class="link" @click="under.splice(n, 1)">not this line</button>
        </p>
        <AlterLines v-if="tableOf(line.under)" v-model="line.alter" :table="tableOf(line.under)!" :own="own" adds />
      </div>
      <p v-if="lists.length"
        ><PickOne
          said
          :model-value="undefined"
          hint="+ a line under it"
          aria-label="A line under it, in which list"
          data-test="add-line"
          :items="lists"
          @update:model-value="under.push({ under: Number($event), alter: [begun()] })"
      /></p>
    </template>
  </StepShell>
</template>

<style scoped>
.under {
  border-left: 1px solid var(--line-strong);
  padding-left: var(--gap-3);
  margin: var(--gap-2) 0;
}
</style>
