<script setup lang="ts">
// Records of a table that say the same, or nearly so: found by chosen fields, looked at side by side, made one.
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import type { Doubles } from '@/api/types'
import { useDoing } from '@/app/asking'
import { isKept } from '@/features/cell/kinds'
import { useSession } from '@/features/session/session'
import DoneLine from '@/features/tracker/DoneLine.vue'
import { useChanges, useTracker } from '@/features/tracker/tracker'
import MergePanel from './MergePanel.vue'

/** Most fields that are compared. */
const MOST = 5
const route = useRoute()
const { tracker: current } = useTracker()
const { me } = useSession()
const { trouble, newest, busy } = useDoing()
const tracker = computed(() => Number(route.params.tracker))
const table = computed(() => current.value?.tables.find((one) => one.id === Number(route.params.table)))
const NO = ['files', 'button', 'checklist', 'json', 'numbering']
const fields = computed(() => table.value?.fields.filter((field) => !isKept(field) && !NO.includes(field.kind.type)) ?? [])
const by = ref<number[]>([])
watch(table, (now) => now && !by.value.length && (by.value = [now.standing]), { immediate: true })

const groups = ref<Doubles[]>()
async function read() {
  if (!table.value || !by.value.length) return void (groups.value = [])
  const params = { path: { tracker: tracker.value, table: table.value.id } }
  const found = await newest(() => told(api.POST('/api/trackers/{tracker}/tables/{table}/doubles', { params, body: { fields: by.value } })))
  if (found) groups.value = found
}
watch([tracker, () => table.value?.id, by], () => void read(), { immediate: true, deep: true })
useChanges(
  () => void read(),
  (heard) => !!table.value && table.value.id in heard.records,
)

function turn(field: number, on: boolean) {
  by.value = on ? [...by.value, field].slice(-MOST) : by.value.filter((one) => one !== field)
}
/** The two that are looked at. */
const pair = ref<number[]>([])
const compare = (group: Doubles, other: number) => (pair.value = [group.records[0]!.id, other])
</script>

<template>
  <main v-if="table" class="doubles">
    <p class="over">{{ table.name }}</p>
    <h1>There twice</h1>
    <p class="lead"
      ><b>{{ groups?.length ?? '…' }}</b> {{ groups?.length === 1 ? 'group' : 'groups' }} of {{ table.many }} that say the same, or nearly
      so, in these fields:</p
    >
    <p class="by">
      <label v-for="field in fields" :key="field.id"
        ><input type="checkbox" :checked="by.includes(field.id)" @change="turn(field.id, ($event.target as HTMLInputElement).checked)" />
        {{ field.name }}</label
      >
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <ul>
      <li v-for="group in groups" :key="group.records.map((one) => one.id).join()" :data-double="group.says">
        <p class="says"
          >{{ group.says }} <span class="quiet">{{ group.same ? 'to the letter' : 'nearly' }}</span></p
        >
        <p v-for="(one, n) in group.records" :key="one.id" class="one">
          <router-link :to="{ name: 'record', params: { tracker, table: table.id, record: one.id } }">{{ one.name }}</router-link>
          <span class="quiet">{{ one.beside }}</span>
          <button
            v-if="n && !me?.stands_in"
            type="button"
            class="link"
            :aria-label="`beside the first …: ${one.name}`"
            data-test="compare"
            @click="compare(group, one.id)"
            >beside the first …</button
          >
        </p>
      </li>
    </ul>
    <p v-if="groups && !groups.length && !busy" class="quiet">None are there twice by these fields.</p>
    <MergePanel
      v-if="pair.length"
      :key="pair.join()"
      :tracker="tracker"
      :table="table"
      :records="pair"
      @done="((pair = []), read())"
      @leave="pair = []"
    />
    <DoneLine />
  </main>
</template>

<style scoped>
.doubles {
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
  margin: 4px 0;
}
.by {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--gap-4);
}
label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 28px;
}
input {
  accent-color: var(--moss);
}
ul {
  list-style: none;
  padding: 0;
}
li {
  border-top: 1px solid var(--line-strong);
  padding: 8px 0;
}
p {
  margin: 0;
}
.says {
  font: 600 16px/1.5 var(--serif);
}
.says span {
  font: 13px var(--sans);
}
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  padding: 3px 0;
}
@media (max-width: 700px) {
  .doubles {
    padding: var(--gap-3);
  }
}
@media (pointer: coarse) {
  label,
  .link {
    min-height: 40px;
  }
}
@media (pointer: coarse) {
  .one a {
    display: inline-block;
    min-height: 40px;
    line-height: 40px;
  }
}
</style>
