<script setup lang="ts">
// A condition that is kept as one edits it: what is not whole yet (a test against nothing) stays here until it is.
import { ref, watch } from 'vue'
import type { Condition, Table } from '@/api/types'
import { pruned } from './checks'
import ConditionEditor from './ConditionEditor.vue'

defineProps<{
  table: Table
  /** Before the tests, where there are several. */
  lead?: string
  /** Where there is no test. */
  nothing?: string
}>()
const condition = defineModel<Condition>({ required: true })
const asList = (one: Condition): Condition => ('test' in one ? { all: [one] } : one)
const same = (one: Condition, other: Condition) => JSON.stringify(asList(one)) === JSON.stringify(asList(other))
const draft = ref<Condition>(asList(condition.value))

watch(condition, (now) => {
  if (!same(now, pruned(draft.value))) draft.value = asList(now)
})
watch(draft, (now) => {
  if (!same(pruned(now), condition.value)) condition.value = pruned(now)
})
</script>

<template>
  <ConditionEditor v-model="draft" :table="table" :lead="lead" :nothing="nothing" />
</template>
