<script setup lang="ts">
// An automation rehearsed: over what really happened in the last days, or on one record, with a trial of its messages to oneself.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { AutomationBody, AutomationRehearsal, RecordName, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useAwaiting } from '@/app/awaiting'
import PickOne from '@/features/menu/PickOne.vue'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import LogLines from './LogLines.vue'

const props = defineProps<{
  tracker: number
  table: Table
  number?: number
  body: AutomationBody
  /** Whether it only lets it run once it was seen what that would have done. */
  switches?: boolean
}>()
const emit = defineEmits<{ leave: []; act: [] }>()

const doing = useDoing()
const going = useAwaiting()
const days = ref(30)
const record = ref<number>()
const outcome = ref<AutomationRehearsal>()
const sent = ref('')
const names = ref<RecordName[]>([])
const params = computed(() => ({ path: { tracker: props.tracker } }))
const asked = computed(() => ({ number: props.number, automation: props.body, record: record.value, days: days.value }))

watch(
  asked,
  async (body) => {
    sent.value = ''
    void going.stop()
    outcome.value = await doing.newest(() =>
      going.awaiting((awaited) =>
        told(api.POST('/api/trackers/{tracker}/automations/rehearsal', { params: params.value, body: { ...body, awaited } })),
      ),
    )
  },
  { immediate: true },
)
async function search(typed: string) {
  const path = { tracker: props.tracker, table: props.table.id }
  names.value = await told(api.GET('/api/trackers/{tracker}/tables/{table}/names', { params: { path, query: { search: typed } } })).catch(
    () => [],
  )
}
void search('')
async function trial() {
  const done = await doing.attempt(() =>
    told(api.POST('/api/trackers/{tracker}/automations/trial', { params: params.value, body: asked.value })),
  )
  const mails = done?.happened.flatMap((one) => one.mails).length ?? 0
  if (done) sent.value = mails ? 'Mailed to you, and to nobody else.' : 'It sends no message for this one.'
}
const spans = [7, 30, 90].map((value) => ({ value, title: `the last ${value} days` }))
</script>

<template>
  <RehearsalPanel
    class="trial"
    opens
    :title="body.name || 'The new automation'"
    :act="switches ? 'Let it run' : record ? 'Send the trial to me' : 'Done'"
    :busy="doing.busy.value"
    :far="going.far.value"
    counts="changes are gone back over"
    :stops="!!going.far.value"
    :blocked="!!record && !switches && !outcome?.happened.some((one) => one.mails.length)"
    :trouble="doing.trouble.value"
    @act="switches ? emit('act') : record ? trial() : emit('leave')"
    @stop="going.stop()"
    @leave="emit('leave')"
  >
    <p class="over">
      Over
      <PickOne v-if="!record" v-model="days" said aria-label="How far back" data-test="trial-days" :items="spans" />
      <template v-else>one {{ table.one }} as it stands</template>
      <v-autocomplete
        v-model="record"
        class="which"
        :items="names"
        item-value="id"
        item-title="name"
        no-filter
        clearable
        :placeholder="`or on one ${table.one}`"
        :aria-label="`On one ${table.one}`"
        data-test="trial-record"
        @update:search="search($event ?? '')"
      />
    </p>
    <p v-if="outcome && !record" class="says" data-test="trial-says">{{ outcome.says.join(' ') }}</p>
    <p v-if="sent" class="says" role="status">{{ sent }}</p>
    <div v-for="(one, n) in outcome?.happened ?? []" :key="n" class="one" data-test="trial-one">
      <p class="head"
        ><time>{{ one.at_text }}</time> <b>{{ one.record_name }}</b></p
      >
      <LogLines :log="one.log" />
      <details v-for="(mail, at) in one.mails" :key="`mail ${at}`">
        <summary>{{ mail.to }}, {{ mail.by }}: {{ mail.subject }}</summary>
        <pre>{{ mail.body }}</pre>
      </details>
    </div>
  </RehearsalPanel>
</template>

<style scoped>
section.trial {
  position: sticky;
  bottom: 0;
  max-height: 60vh;
  overflow-y: auto;
  margin-top: var(--gap-3);
}
.over {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-3);
  align-items: center;
  margin: 0 0 var(--gap-2);
  font: 16px/1.5 var(--serif);
}
.which {
  flex: 0 1 300px;
  min-width: 220px;
}
.says {
  margin: 0 0 var(--gap-2);
  font: 17px/1.5 var(--serif);
}
.one {
  border-top: 1px solid var(--line);
  padding: 6px 0;
  font-size: 13.5px;
}
.one p {
  margin: 0;
}
.head time {
  color: var(--quiet);
  margin-right: 8px;
}
pre {
  margin: 4px 0 4px 14px;
  font: 13px/1.5 var(--sans);
  white-space: pre-wrap;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
</style>
