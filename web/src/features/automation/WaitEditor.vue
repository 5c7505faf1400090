<script setup lang="ts">
// How long a step waits: so long, until a day, or until something holds.
import { computed, ref } from 'vue'
import type { Problem } from '@/api/client'
import type { Condition, Pause, Table } from '@/api/types'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { pruned } from '@/features/condition/checks'
import StepShell from './StepShell.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { dayFields } from './occasions'

const props = defineProps<{ table: Table; pause: Pause; at: string; problem?: Problem; readonly: boolean }>()
const emit = defineEmits<{ keep: [pause: Pause]; leave: [] }>()

type Sort = 'hours' | 'days' | 'field' | 'until'
const sort = ref<Sort>(Object.keys(props.pause)[0] as Sort)
const given = props.pause
const count = ref('hours' in given ? given.hours : 'days' in given ? given.days : 'until' in given ? given.until.days : 1)
const field = ref('field' in given ? given.field : dayFields(props.table)[0]?.id)
const condition = ref<Condition>('until' in given ? given.until.condition : { all: [] })
const wrapped = computed<Condition>(() => ('test' in condition.value ? { all: [condition.value] } : condition.value))
const sorts = computed(() => [
  { value: 'hours' as const, title: 'so many hours' },
  { value: 'days' as const, title: 'so many days' },
  ...(dayFields(props.table).length ? [{ value: 'field' as const, title: 'until the day in' }] : []),
  { value: 'until' as const, title: 'until something holds' },
])
const typed = computed<Pause>(() => {
  const many = Math.max(1, Math.trunc(Number(count.value)) || 1)
  if (sort.value === 'hours') return { hours: many }
  if (sort.value === 'days') return { days: many }
  if (sort.value === 'field') return { field: field.value ?? 0 }
  return { until: { condition: pruned(condition.value), days: many } }
})
const fault = computed(() => props.problem?.at(`${props.at}/wait/pause/until/condition`) || props.problem?.at(`${props.at}/wait/pause`))
</script>

<template>
  <StepShell :fault="fault" :blocked="readonly" test="keep-wait" @keep="emit('keep', typed)" @leave="emit('leave')">
    <p class="lead">
      Wait
      <PickOne v-model="sort" said aria-label="How it waits" data-test="wait-sort" :items="sorts" />
      <PickOne
        v-if="sort === 'field'"
        said
        :model-value="field"
        aria-label="Which day"
        :items="named(dayFields(table))"
        @update:model-value="field = Number($event)"
      />
      <label v-else
        >{{ sort === 'until' ? 'at most' : '' }}
        <input v-model="count" class="boxed short" inputmode="numeric" aria-label="How many" data-test="wait-count" />
        {{ sort === 'hours' ? 'hours' : 'days' }}</label
      >
    </p>
    <ConditionEditor
      v-if="sort === 'until'"
      :table="table"
      :model-value="wrapped"
      :lead="`Until of the ${table.one}`"
      nothing="Say what it waits for."
      @update:model-value="condition = $event"
    />
  </StepShell>
</template>

<style scoped>
.boxed {
  padding: 3px 8px;
  font: 14px var(--sans);
}
.short {
  width: 56px;
}
</style>
