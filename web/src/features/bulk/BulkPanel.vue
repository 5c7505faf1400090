<script setup lang="ts">
// Many records changed at once: which of them, which fields become what, and what that would do, before it is done.
import { computed, ref, shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { BulkRehearsal, Field, Query, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import BeginsWith from '@/features/form/BeginsWith.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { figure } from '@/theme/own'
import { allOf, begun, waysOf, type Alteration } from './altering'

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

/** Whether all that the view shows are meant, and not the selected ones alone. */
const all = ref(false)
const writable = computed(() => props.table.fields.filter((one) => one.writes && one.kind.type !== 'files' && one.kind.type !== 'button'))
const begins = writable.value.some((one) => one.id === props.field) ? props.field : undefined
const lines = ref<Alteration[]>([begun(begins)])
const fieldOf = (id: number | undefined): Field | undefined => writable.value.find((one) => one.id === id)
function pick(line: Alteration, field: number) {
  Object.assign(line, begun(field))
}
function way(line: Alteration, to: Alteration['way']) {
  Object.assign(line, { way: to, value: null })
}
const readable = computed(() => props.table.fields.filter((one) => one.kind.type !== 'files' && one.kind.type !== 'button'))

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
    if (!body.value) return
    const params = { path: { tracker: props.tracker, table: props.table.id } }
    pause = setTimeout(async () => {
      const sent = body.value
      if (sent)
        outcome.value = await rehearsing.newest(() =>
          told(api.POST('/api/trackers/{tracker}/tables/{table}/bulk/rehearsal', { params, body: sent })),
        )
    }, 250)
  },
)
const refused = computed(() => outcome.value?.refusals ?? 0)

async function change() {
  const sent = body.value
  if (!sent) return
  const params = { path: { tracker: props.tracker, table: props.table.id } }
  const done = await attempt(() => told(api.POST('/api/trackers/{tracker}/tables/{table}/bulk', { params, body: sent })))
  if (!done) return
  edits.remember(props.tracker, done)
  emit('done')
}
const leaveOut = () => (without.value = [...without.value, ...(outcome.value?.refused ?? []).map((one) => one.record)])
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
    :blocked="!outcome || !outcome.changed || !!refused || !!outcome.wrong"
    :trouble="trouble || rehearsing.trouble.value || outcome?.wrong || ''"
    @act="change"
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
    <div v-for="(line, n) in lines" :key="n" class="line" :data-line="n">
      <PickOne
        said
        :model-value="line.field"
        hint="a field"
        aria-label="Which field"
        data-test="bulk-field"
        :items="named(writable)"
        @update:model-value="pick(line, Number($event))"
      />
      <PickOne
        v-if="fieldOf(line.field)"
        said
        :model-value="line.way"
        aria-label="What is done to it"
        data-test="bulk-way"
        :items="waysOf(fieldOf(line.field))"
        @update:model-value="way(line, $event as Alteration['way'])"
      />
      <template v-if="fieldOf(line.field)">
        <BeginsWith
          v-if="line.way === 'set' || line.way === 'add'"
          :key="`${line.field} ${line.way}`"
          v-model="line.value"
          says=""
          :field="fieldOf(line.field)!"
          :table="table.id"
        />
        <span v-else-if="line.way === 'replace'" class="with">
          <input v-model="line.find" class="boxed" aria-label="The text that is replaced" data-test="bulk-find" /> by
          <input v-model="line.with" class="boxed" aria-label="What stands there then" data-test="bulk-with" />
        </span>
        <label v-else-if="line.way === 'days'" class="with"
          ><input v-model="line.days" class="boxed short" inputmode="numeric" data-test="bulk-days" aria-label="How many days" /> days; with
          a minus, back</label
        >
        <label v-else-if="line.way === 'raise'" class="with"
          ><input v-model="line.share" class="boxed short" inputmode="decimal" data-test="bulk-share" aria-label="By how much" /> %; with a
          minus, down</label
        >
        <PickOne
          v-else-if="line.way === 'from'"
          said
          :model-value="line.from"
          hint="another field"
          aria-label="From which field"
          data-test="bulk-from"
          :items="named(readable.filter((one) => one.id !== line.field))"
          @update:model-value="line.from = Number($event)"
        />
      </template>
      <button v-if="lines.length > 1" type="button" class="link" @click="lines.splice(n, 1)">not this</button>
    </div>
    <p><button type="button" class="link" data-test="bulk-another" @click="lines.push(begun())">+ another field</button></p>

    <template v-if="outcome">
      <p class="says" data-test="bulk-says">{{ outcome.says.join(' ') }}</p>
      <div v-if="refused" class="refused" data-test="bulk-refused">
        <p>{{ what(refused) }} can’t be changed so; nothing is changed while they are among them.</p>
        <ul>
          <li v-for="one in outcome.refused" :key="one.record"
            ><b>{{ one.name }}</b> {{ one.why }}</li
          >
        </ul>
        <button type="button" class="link" data-test="bulk-leave-out" @click="leaveOut"
          >Leave {{ outcome.refused.length > 1 ? 'these' : 'this one' }} out</button
        >
      </div>
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
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-3);
  align-items: baseline;
  padding: 3px 0;
  font: 16px/1.5 var(--serif);
}
.with {
  display: inline-flex;
  gap: var(--gap-2);
  align-items: baseline;
}
.with input {
  padding: 3px 8px;
  font: 14px var(--sans);
}
.short {
  width: 70px;
}
.says {
  font: 16px/1.5 var(--serif);
}
.refused {
  border-left: 3px solid var(--fault);
  padding-left: var(--gap-3);
}
.refused ul {
  margin: 0 0 4px;
  padding-left: 18px;
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
