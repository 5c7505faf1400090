<script setup lang="ts">
// An automation run by hand on chosen records: what would follow, and whether those that were reached already are left out.
import { ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { ByHand, RunRehearsal, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useAwaiting } from '@/app/awaiting'
import { useEdits } from '@/features/cell/edits'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { figure } from '@/theme/own'

const props = defineProps<{ tracker: number; table: Table; records: number[]; automation: ByHand }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const edits = useEdits()
const { attempt, busy, trouble } = useDoing()
const rehearsing = useDoing()
const [doing, trying] = [useAwaiting(), useAwaiting()]
const onlyNew = ref(true)
const outcome = ref<RunRehearsal>()
const params = () => ({ path: { tracker: props.tracker, automation: props.automation.id } })
const body = (awaited: string) => ({ records: props.records, only_new: onlyNew.value, awaited })

watch(
  [onlyNew, () => props.records],
  async () => {
    void trying.stop()
    outcome.value = await rehearsing.newest(() =>
      trying.awaiting((awaited) =>
        told(api.POST('/api/trackers/{tracker}/automations/{automation}/run/rehearsal', { params: params(), body: body(awaited) })),
      ),
    )
  },
  { immediate: true },
)
async function run() {
  const done = await attempt(() =>
    doing.awaiting((awaited) =>
      told(api.POST('/api/trackers/{tracker}/automations/{automation}/run', { params: params(), body: body(awaited) })),
    ),
  )
  if (!done) return
  edits.remember(props.tracker, done)
  emit('done')
}
</script>

<template>
  <RehearsalPanel
    opens
    :title="`${automation.name}: ${figure(records.length)} ${records.length === 1 ? table.one : table.many}`"
    act="Run it"
    :busy="busy || rehearsing.busy.value"
    :far="doing.far.value ?? trying.far.value"
    :stops="busy"
    :blocked="!outcome"
    :trouble="trouble || rehearsing.trouble.value"
    @act="run"
    @stop="doing.stop()"
    @leave="emit('leave')"
  >
    <p v-if="automation.does" class="quiet">{{ automation.does }}</p>
    <p class="says" data-test="run-says">{{ outcome?.says.join(' ') }}</p>
    <label v-if="outcome?.reached" class="reached"
      ><input v-model="onlyNew" type="checkbox" data-test="only-new" /> leave out the {{ figure(outcome.reached) }} that it has reached
      already</label
    >
  </RehearsalPanel>
</template>

<style scoped>
.says {
  margin: 0 0 var(--gap-2);
  font: 16px/1.5 var(--serif);
}
.reached {
  font-size: 14px;
}
</style>
