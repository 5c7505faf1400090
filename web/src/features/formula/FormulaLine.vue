<script setup lang="ts">
// A formula within a rule: typed as one of a field is, tried on the first record there is while one types.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { FunctionHelp, Table } from '@/api/types'
import { useAsked } from '@/app/asking'
import { useTracker } from '@/features/tracker/tracker'
import FormulaEditor from './FormulaEditor.vue'
import { useTrying } from './trying'

const props = defineProps<{
  /** Of whose records it is. */
  table: Table
}>()
const text = defineModel<string>({ required: true })
const { tracker } = useTracker()
const place = ref(0)
const path = computed(() => ({ tracker: tracker.value?.id ?? 0, table: props.table.id }))
const help = useAsked<FunctionHelp[]>(
  () => ['functions'],
  () => told(api.GET('/api/functions')),
)
const sample = useAsked(
  () => ['first name', path.value.tracker, path.value.table],
  () => told(api.GET('/api/trackers/{tracker}/tables/{table}/names', { params: { path: path.value, query: { search: '' } } })),
)
const first = computed(() => sample.told.value?.[0])
const { tried, trouble } = useTrying(
  path,
  text,
  computed(() => first.value?.id),
  ref(undefined),
)
const current = computed(() => (tried.value?.of === text.value && text.value.trim() ? tried.value : undefined))
const faults = computed(() => current.value?.faults ?? [])
</script>

<template>
  <div class="formula">
    <FormulaEditor
      v-if="tracker"
      v-model="text"
      v-model:place="place"
      :tracker="tracker"
      :table="table"
      :functions="help.told.value ?? []"
      :faults="faults"
    />
    <div aria-live="polite">
      <p v-for="(fault, n) in faults" :key="n" class="fault-text" data-test="formula-fault">{{ fault.message }}</p>
      <p v-if="current && !faults.length" class="quiet" data-test="formula-gives"
        >It gives {{ current.gives
        }}<template v-if="first && !current.withheld">; of {{ first.name }}: {{ current.text || 'nothing' }}</template
        >.</p
      >
      <p v-if="trouble" class="fault-text">{{ trouble }}</p>
    </div>
  </div>
</template>

<style scoped>
.formula {
  flex: 1 1 320px;
  min-width: 0;
  font: 14px/1.45 var(--sans);
}
.formula :deep(.cm-content) {
  min-height: 0;
}
p {
  margin: 4px 0 0;
}
</style>
