<script setup lang="ts">
// Many records changed at once: which of them, which fields become what, and what that would do, before it is done.
import { computed, ref, shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { BulkRehearsal, Query, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useAwaiting } from '@/app/awaiting'
import { useEdits } from '@/features/cell/edits'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { figure } from '@/theme/own'
import AlterLines from './AlterLines.vue'
import RefusedList from './RefusedList.vue'
import { allOf, begun, writableOf, type Alteration } from './altering'

const props = defineProps<{
  tracker: number
  table: Table
  records: number[]
  query: Query
  /** How many the view shows. */
  matching: number
  /** The field one was in. */
  field?: number
}>()
const emit = defineEmits<{ done: []; leave: [] }>()
const edits = useEdits()
const { attempt, busy, trouble } = useDoing()
const rehearsing = useDoing()
const [doing, trying] = [useAwaiting(), useAwaiting()]

/** Whether all that the view shows are meant, and not the selected ones alone. */
const all = ref(false)
const begins = writableOf(props.table).some((one) => one.id === props.field) ? props.field : undefined
const lines = ref<Alteration[]>([begun(begins)])

/** Records that can’t be changed so, and stay as they are. */
const without = ref<number[]>([])
const body = computed(() => {
  const alter = allOf(lines.value)
  return alter && { records: all.value ? [] : props.records, query: props.query, without: without.value, alter }
})
const outcome = shallowRef<BulkRehearsal>()
let pause: ReturnType<typeof setTimeout> | undefined
watch(
  () => JSON.stringify(body.value ?? null),
  () => {
    clearTimeout(pause)
    outcome.value = undefined
    rehearsing.overtake()
    void trying.stop()
    if (!body.value) return
    const params = { path: { tracker: props.tracker, table: props.table.id } }
    pause = setTimeout(async () => {
      const sent = body.value
      if (sent)
        outcome.value = await rehearsing.newest(() =>
          trying.awaiting((awaited) =>
            told(api.POST('/api/trackers/{tracker}/tables/{table}/bulk/rehearsal', { params, body: { ...sent, awaited } })),
          ),
        )
    }, 250)
  },
)
const refused = computed(() => outcome.value?.refusals ?? 0)

async function change() {
  const sent = body.value
  if (!sent) return
  const params = { path: { tracker: props.tracker, table: props.table.id } }
  const done = await attempt(() =>
    doing.awaiting((awaited) => told(api.POST('/api/trackers/{tracker}/tables/{table}/bulk', { params, body: { ...sent, awaited } }))),
  )
  if (!done) return
  edits.remember(props.tracker, done)
  emit('done')
}
const count = computed(() => (all.value ? props.matching : props.records.length))
const what = (many: number) => `${figure(many)} ${many === 1 ? props.table.one : props.table.many}`
</script>

<template>
  <RehearsalPanel
    class="bulk"
    opens
    :title="`${what(count)} at once`"
    act="Change them"
    :busy="busy || rehearsing.busy.value"
    :far="doing.far.value ?? trying.far.value"
    :stops="busy"
    :blocked="!outcome || !outcome.changed || !!refused || !!outcome.wrong"
    :trouble="trouble || rehearsing.trouble.value || outcome?.wrong || ''"
    @act="change"
    @stop="doing.stop()"
    @leave="emit('leave')"
  >
    <p v-if="matching > records.length" class="which" role="group" aria-label="Which records">
      <button type="button" class="link" :aria-pressed="!all" data-test="bulk-these" @click="all = false"
        >the selected {{ figure(records.length) }}</button
      >
      or
      <button type="button" class="link" :aria-pressed="all" data-test="bulk-all" @click="all = true"
        >all {{ figure(matching) }} that the view shows</button
      >
    </p>
    <AlterLines v-model="lines" :table="table" />

    <template v-if="outcome">
      <p class="says" data-test="bulk-says">{{ outcome.says.join(' ') }}</p>
      <RefusedList
        v-if="refused"
        :table="table"
        :outcome="outcome"
        says="can’t be changed so; nothing is changed while they are among them."
        @without="(some) => (without = [...without, ...some])"
      />
      <table v-else-if="outcome.examples.length">
        <thead>
          <tr><th>Record</th><th>Field</th><th>Now</th><th>Then</th></tr>
        </thead>
        <tbody>
          <tr v-for="(one, n) in outcome.examples" :key="n"
            ><td>{{ one.name }}</td
            ><td class="quiet">{{ one.field }}</td
            ><td
              ><s>{{ one.before || 'empty' }}</s></td
            ><td>{{ one.after || 'empty' }}</td></tr
          >
        </tbody>
      </table>
    </template>
    <p v-if="without.length" class="quiet">{{ figure(without.length) }} left out.</p>
  </RehearsalPanel>
</template>

<style scoped>
.bulk {
  max-height: 58vh;
  overflow-y: auto;
}
.which [aria-pressed='true'] {
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}
p {
  margin: 0 0 6px;
}
.says {
  font: 16px/1.5 var(--serif);
}
table {
  border-collapse: collapse;
  font-size: 13px;
}
th {
  font-weight: 400;
  font-size: 12.5px;
  color: var(--quiet);
  text-align: left;
}
th,
td {
  padding: 3px 18px 3px 0;
  border-bottom: 1px solid var(--line);
  max-width: 320px;
  vertical-align: top;
}
</style>
