<script setup lang="ts">
// The records in the bin: when they were put there, by whom, what hangs on them; and back with all of it.
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import type { BinnedRecord } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { useSession } from '@/features/session/session'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import DoneLine from './DoneLine.vue'
import { useTracker } from './tracker'

const route = useRoute()
const { tracker: current } = useTracker()
const { me } = useSession()
const edits = useEdits()
const { trouble, busy, attempt } = useDoing()
const tracker = computed(() => Number(route.params.tracker))
const asked = useAsked(
  () => ['record bin', tracker.value],
  () => told(api.GET('/api/trackers/{tracker}/bin/records', { params: { path: { tracker: tracker.value } } })),
  () => true,
)
const records = computed(() => asked.told.value?.records ?? [])

/** What is about to be emptied out: one record, or all; asked first, since nothing brings it back. */
const asks = ref<{ only?: BinnedRecord }>()
const mayEmpty = computed(() => !!asked.told.value?.empties && !me.value?.stands_in)
const empty = () =>
  attempt(async () => {
    const only = asks.value?.only
    const params = { path: { tracker: tracker.value } }
    const body = { only: only && { table: only.table, record: only.record } }
    edits.remember(tracker.value, await told(api.POST('/api/trackers/{tracker}/bin/empty', { params, body })))
    asks.value = undefined
    await asked.again()
  })

const back = (one: BinnedRecord) =>
  attempt(async () => {
    const params = { path: { tracker: tracker.value, table: one.table } }
    edits.remember(
      tracker.value,
      await told(api.POST('/api/trackers/{tracker}/tables/{table}/bring-back', { params, body: { records: [one.record] } })),
    )
    await asked.again()
  })
</script>

<template>
  <main class="bin">
    <p class="over">{{ current?.name }}</p>
    <h1>The bin</h1>
    <p class="lead">What was put here can be brought back for 30 days, with what it links and what links to it.</p>
    <p v-if="trouble || asked.trouble.value" class="fault-text" role="alert">{{ trouble || asked.trouble.value }}</p>
    <table v-if="records.length">
      <thead>
        <tr><th>Record</th><th>Put here</th><th>What hangs on it</th><th /></tr>
      </thead>
      <tbody>
        <tr v-for="one in records" :key="`${one.table}/${one.record}`" :data-binned="one.name">
          <td
            ><b>{{ one.name }}</b> <span class="quiet">{{ one.one }}</span></td
          >
          <td>{{ one.at }}, {{ one.who }}</td>
          <td>{{ one.hangs || '—' }}</td>
          <td
            ><button
              v-if="!me?.stands_in"
              type="button"
              class="link"
              :disabled="busy"
              :aria-label="`bring back ${one.name}`"
              @click="back(one)"
              >bring back</button
            >
            <button
              v-if="mayEmpty"
              type="button"
              class="link"
              :disabled="busy"
              :aria-label="`empty ${one.name} out of the bin`"
              @click="asks = { only: one }"
              >empty out …</button
            ></td
          >
        </tr>
      </tbody>
    </table>
    <p v-else-if="!asked.waiting.value" class="quiet">No record is in it that you could bring back.</p>
    <p v-if="mayEmpty">
      <button type="button" class="link" data-test="empty-bin" :disabled="busy" @click="asks = {}">empty the bin …</button>
    </p>
    <RehearsalPanel
      v-if="asks"
      :title="asks.only ? `Empty “${asks.only.name}” out of the bin` : 'Empty the bin'"
      opens
      act="Empty it"
      :busy="busy"
      @act="empty"
      @leave="asks = undefined"
    >
      <p>{{
        asks.only
          ? `What stood in it, its files and what was said of it go for good, out of its trail too. Nothing brings it back.`
          : asked.told.value?.empties
      }}</p>
    </RehearsalPanel>
    <p v-if="current?.builds" class="quiet"
      >Tables that were put away are told on the
      <router-link :to="{ name: 'tracker', params: { tracker }, hash: '#bin' }">groundplan</router-link>, fields at their table’s fields.</p
    >
    <DoneLine />
  </main>
</template>

<style scoped>
.bin {
  max-width: 980px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-5);
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
h1 {
  font: 600 28px/1.25 var(--serif);
}
.lead {
  font: 17px/1.5 var(--serif);
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  font-size: 13px;
  color: var(--quiet);
}
th,
td {
  padding: 7px 14px 7px 0;
  border-bottom: 1px solid var(--line);
  vertical-align: top;
}
@media (max-width: 700px) {
  .bin {
    padding: var(--gap-3);
  }
  thead {
    display: none;
  }
  tr {
    display: grid;
    padding: 6px 0;
    border-bottom: 1px solid var(--line);
  }
  td {
    padding: 2px 0;
    border: 0;
  }
  .link {
    min-height: 40px;
  }
}
</style>
