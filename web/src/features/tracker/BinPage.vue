<script setup lang="ts">
// The records in the bin: when they were put there, by whom, what hangs on them; and back with all of it.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import type { BinnedRecord } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { useSession } from '@/features/session/session'
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
            ></td
          >
        </tr>
      </tbody>
    </table>
    <p v-else-if="!asked.waiting.value" class="quiet">No record is in it that you could bring back.</p>
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
