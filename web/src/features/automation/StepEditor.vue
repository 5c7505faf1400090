<script setup lang="ts">
// The editor of one step, by what it does.
import { computed, ref } from 'vue'
import type { Problem } from '@/api/client'
import type { Condition, Step, Table } from '@/api/types'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { pruned } from '@/features/condition/checks'
import AlterEditor from './AlterEditor.vue'
import CallEditor from './CallEditor.vue'
import EachEditor from './EachEditor.vue'
import MailEditor from './MailEditor.vue'
import SayEditor from './SayEditor.vue'
import StartEditor from './StartEditor.vue'
import StepShell from './StepShell.vue'
import WaitEditor from './WaitEditor.vue'

const props = defineProps<{
  step: Step
  /** Its place, as faults of it are placed. */
  at: string
  /** The part of it that was pressed. */
  part?: string
  /** The table whose records it is about, and that of the automation. */
  table: Table
  own: Table
  gathers?: boolean
  problem?: Problem
  readonly: boolean
}>()
const emit = defineEmits<{ keep: [step: Step]; leave: [] }>()

/** What the step says, where it is of this kind. */
const said = <K extends string>(kind: K) =>
  (typeof props.step === 'object' && kind in props.step ? (props.step as Record<K, unknown>)[kind] : undefined) as
    (Extract<Step, Record<K, unknown>> extends Record<K, infer S> ? S : never) | undefined
const mail = computed(() => said('mail'))
const set = computed(() => said('set'))
const add = computed(() => said('add'))
const say = computed(() => said('say'))
const start = computed(() => said('start'))
const each = computed(() => said('each'))
const wait = computed(() => said('wait'))
const call = computed(() => said('call'))
const only = computed(() => said('if'))
const condition = ref<Condition>(only.value?.condition ?? { all: [] })
const wrapped = computed<Condition>(() => ('test' in condition.value ? { all: [condition.value] } : condition.value))
</script>

<template>
  <MailEditor
    v-if="mail"
    :table="table"
    :step="mail"
    :at="at"
    :part="part"
    :gathers="gathers"
    :problem="problem"
    :readonly="readonly"
    @keep="emit('keep', { mail: $event })"
    @leave="emit('leave')"
  />
  <AlterEditor
    v-else-if="set || add"
    :table="table"
    :own="own"
    :set="set"
    :add="add"
    :at="at"
    :problem="problem"
    :readonly="readonly"
    @set="emit('keep', { set: $event })"
    @add="emit('keep', { add: $event })"
    @leave="emit('leave')"
  />
  <SayEditor
    v-else-if="say"
    :table="table"
    :text="say.text"
    :at="at"
    :problem="problem"
    :readonly="readonly"
    @keep="emit('keep', { say: { text: $event } })"
    @leave="emit('leave')"
  />
  <StartEditor
    v-else-if="start"
    :table="table"
    :automation="start.automation"
    :at="at"
    :problem="problem"
    :readonly="readonly"
    @keep="emit('keep', { start: { automation: $event } })"
    @leave="emit('leave')"
  />
  <EachEditor
    v-else-if="each"
    :table="table"
    :step="each"
    :at="at"
    :problem="problem"
    :readonly="readonly"
    @keep="emit('keep', { each: $event })"
    @leave="emit('leave')"
  />
  <WaitEditor
    v-else-if="wait"
    :table="table"
    :pause="wait.pause"
    :at="at"
    :problem="problem"
    :readonly="readonly"
    @keep="emit('keep', { wait: { ...wait!, pause: $event } })"
    @leave="emit('leave')"
  />
  <CallEditor
    v-else-if="call"
    :table="table"
    :calls="call.calls"
    :at="at"
    :problem="problem"
    :readonly="readonly"
    @keep="emit('keep', { call: { ...call!, calls: $event } })"
    @leave="emit('leave')"
  />
  <StepShell
    v-else-if="only"
    :fault="problem?.at(`${at}/if/condition`)"
    :blocked="readonly"
    test="keep-if"
    @keep="emit('keep', { if: { ...only!, condition: pruned(condition) } })"
    @leave="emit('leave')"
  >
    <ConditionEditor
      :table="table"
      :model-value="wrapped"
      :lead="`Only if of the ${table.one}`"
      nothing="Say what must hold."
      @update:model-value="condition = $event"
    />
  </StepShell>
</template>
