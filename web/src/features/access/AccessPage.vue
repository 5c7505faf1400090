<script setup lang="ts">
// Who may do what: roles by tables, whose cells are sentences.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import type { Role, TableRights } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useSession } from '@/features/session/session'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import MembersEditor from './MembersEditor.vue'
import RightsEditor from './RightsEditor.vue'

const { tracker: currentTracker } = useTracker()

const route = useRoute()
const { me } = useSession()
const tracker = computed(() => Number(route.params.tracker))
const readonly = computed(() => !!me.value?.stands_in)
const parts = useParts(() => tracker.value)
const asked = useAsked(
  () => ['roles', tracker.value],
  () => told(api.GET('/api/trackers/{tracker}/roles', { params: { path: { tracker: tracker.value } } })),
  () => true,
)
const roles = computed(() => (asked.trouble.value ? [] : (asked.told.value ?? [])))
const doing = useDoing()
const trouble = computed(() => doing.trouble.value || asked.trouble.value)

async function keep({ role }: Role, change: Partial<Role['role']>) {
  const { id, ...body } = { ...role, ...change }
  await doing.attempt(() => parts.save('role', id, { role: { ...body, tables: body.tables ?? {} } }))
  await asked.again()
}

function keepRights(role: Role, table: number, rights: TableRights) {
  return keep(role, { tables: { ...role.role.tables, [table]: rights } })
}

const tables = computed(() => currentTracker.value?.tables ?? [])
const sentence = (role: Role, table: number) => role.sentences.find((s) => s.table === table)?.text ?? ''
const name = (person: number) => currentTracker.value?.people.find((p) => p.id === person)?.name ?? 'somebody'
const BASES: Record<string, string> = {
  steward: 'Owns the tracker and lets people in.',
  builder: 'Changes the structure.',
  editor: 'Works in every table.',
  submitter: 'Adds, and sees what is theirs.',
  reader: 'Looks, changes nothing.',
  own: 'Does what stands here and nothing else.',
}
</script>

<template>
  <section class="access">
    <h1>Access</h1>
    <p class="says"
      >Nothing is allowed unless a role allows it; the roles of one person add up. A change takes effect at once, on open screens too.</p
    >
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <table v-if="roles.length">
      <thead>
        <tr>
          <th scope="col">Role</th>
          <th v-for="table in tables" :key="table.id" scope="col">{{ table.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="role in roles" :key="role.role.id" :data-role="role.role.name">
          <th scope="row">
            <b>{{ role.role.name }}</b>
            <span class="base">{{ BASES[role.role.base] }}</span>
            <v-menu :close-on-content-click="false" location="bottom start">
              <template #activator="{ props }">
                <button v-bind="props" class="phrase" :disabled="readonly">{{
                  role.role.members.map(name).join(', ') || 'Nobody yet'
                }}</button>
              </template>
              <MembersEditor :role="role" @change="keep(role, { members: $event })" />
            </v-menu>
          </th>
          <td v-for="table in tables" :key="table.id" :data-of="table.name">
            <v-menu v-if="role.role.base !== 'steward' && !readonly" :close-on-content-click="false" location="bottom start">
              <template #activator="{ props }">
                <button v-bind="props" class="phrase">{{ sentence(role, table.id) }}</button>
              </template>
              <template #default="{ isActive }">
                <RightsEditor
                  :table="table"
                  :rights="role.rights[table.id]!"
                  @keep="((isActive.value = false), keepRights(role, table.id, $event))"
                  @leave="isActive.value = false"
                />
              </template>
            </v-menu>
            <span v-else>{{ sentence(role, table.id) }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.access {
  padding: var(--gap-4) var(--gap-5) 60px;
  max-width: 1240px;
  margin: 0 auto;
}
h1 {
  font-size: 27px;
}
.says {
  font: 17px/1.6 var(--serif);
  color: var(--quiet);
  margin: 2px 0 var(--gap-4);
}
table {
  border-collapse: collapse;
  width: 100%;
  table-layout: fixed;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 10px 16px 12px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
}
thead th {
  font-size: 12.5px;
  color: var(--quiet);
  border-bottom-color: var(--line-strong);
}
tbody b {
  font: 600 17px var(--serif);
  display: block;
}
.base {
  display: block;
  color: var(--quiet);
  font-size: 13px;
}
td,
.phrase {
  font: 15px/1.5 var(--serif);
}
.phrase {
  border: 0;
  background: none;
  text-align: left;
  padding: 0;
  color: var(--moss);
  cursor: pointer;
  text-decoration: underline dashed 1px;
  text-underline-offset: 3px;
}
.phrase:hover {
  background: var(--moss-soft);
}
/* On a phone each role is a piece of its own, a line for each table. */
@media (max-width: 900px) {
  table,
  tbody,
  tr,
  tbody th,
  td {
    display: block;
  }
  thead {
    display: none;
  }
  td {
    padding: 6px 0;
  }
  .phrase {
    min-height: 40px;
  }
  td::before {
    content: attr(data-of);
    display: block;
    color: var(--quiet);
    font: 12.5px var(--sans);
  }
}
th .phrase {
  font: 14px/1.45 var(--sans);
  margin-top: 4px;
}
</style>
