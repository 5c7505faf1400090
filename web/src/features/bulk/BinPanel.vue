<script setup lang="ts">
// Records that go into the bin: what stands without them then, and which of them can't be put there, before they are.
import { computed, ref, shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { BulkRehearsal, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { figure } from '@/theme/own'
import RefusedList from './RefusedList.vue'

const props = defineProps<{ tracker: number; table: Table; records: number[] }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const edits = useEdits()
const doing = useDoing()
const rehearsing = useDoing()
const path = computed(() => ({ tracker: props.tracker, table: props.table.id }))

/** Those that can't be put there, and stay. */
const without = ref<number[]>([])
const goes = computed(() => props.records.filter((one) => !without.value.includes(one)))
const outcome = shallowRef<BulkRehearsal>()
watch(
  goes,
  async (records) => {
    outcome.value = undefined
    const way = '/api/trackers/{tracker}/tables/{table}/bin/rehearsal'
    outcome.value = await rehearsing.newest(() => told(api.POST(way, { params: { path: path.value }, body: { records } })))
  },
  { immediate: true },
)
const put = () =>
  doing.attempt(async () => {
    await edits.remove(path.value, goes.value)
    emit('done')
  })
const what = (many: number) => `${figure(many)} ${many === 1 ? props.table.one : props.table.many}`
</script>

<template>
  <RehearsalPanel
    opens
    :title="`${what(goes.length)} into the bin`"
    act="Put them there"
    :busy="doing.busy.value || rehearsing.busy.value"
    :blocked="!goes.length || !outcome?.changed || !!outcome.refusals"
    :trouble="doing.trouble.value || rehearsing.trouble.value || outcome?.wrong || ''"
    @act="put"
    @leave="emit('leave')"
  >
    <template v-if="outcome">
      <p v-if="outcome.says.length" class="says" data-test="bin-says">{{ outcome.says.join(' ') }}</p>
      <RefusedList
        v-if="outcome.refusals"
        :table="table"
        :outcome="outcome"
        says="can’t be put there; none is while they are among them."
        @without="(records) => (without = [...without, ...records])"
      />
    </template>
    <p v-if="without.length" class="quiet">{{ figure(without.length) }} left out.</p>
  </RehearsalPanel>
</template>

<style scoped>
.says {
  margin: 0 0 6px;
  font: 16px/1.5 var(--serif);
}
.quiet {
  margin: 0;
}
</style>
