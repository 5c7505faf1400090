<script setup lang="ts">
// Who may do what: roles by tables, whose cells are sentences.
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, told as tell } from '@/api/client'
import type { AccessRehearsal as AccessRehearsalTold, Carry, MineBy, Role, TableRights } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { useVocabulary } from '@/features/condition/vocabulary'
import { useSession } from '@/features/session/session'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import AccessRehearsal from './AccessRehearsal.vue'
import AccessWhy from './AccessWhy.vue'
import MembersEditor from './MembersEditor.vue'
import OpenTo from './OpenTo.vue'
import OwnRecords from './OwnRecords.vue'
import RightsEditor from './RightsEditor.vue'
import RoleSheet from './RoleSheet.vue'

const { tracker: currentTracker } = useTracker()

const route = useRoute()
const { me } = useSession()
const tracker = computed(() => Number(route.params.tracker))
const readonly = computed(() => !!me.value?.stands_in)
const parts = useParts(() => tracker.value)
const edits = useEdits()
const asked = useAsked(
  () => ['roles', tracker.value],
  () => tell(api.GET('/api/trackers/{tracker}/roles', { params: { path: { tracker: tracker.value } } })),
  () => true,
)
const roles = computed(() => (asked.trouble.value ? [] : (asked.told.value ?? [])))
const doing = useDoing()
const trouble = computed(() => (proposed.value ? '' : doing.trouble.value) || asked.trouble.value)

type RoleDef = Role['role']
const bodyOf = ({ id: _, ...body }: RoleDef) => ({ ...body, tables: body.tables ?? {} })

/** What is about to become of a role, or of what is somebody's own, with what that would do; it holds once one says so. */
interface Proposed {
  title: string
  told: AccessRehearsalTold
  /** The role it is of. */
  id?: number
  role?: RoleDef
  seen?: Role
  does: () => Promise<unknown>
}
const proposed = ref<Proposed>()
/** A role as one goes on with it: as it is proposed, where it is. */
const standing = (role: Role): Role => (proposed.value?.id === role.role.id && proposed.value.seen) || role

/** Rehearses another state of a role, or that it goes. */
async function propose(title: string, id: number, role?: RoleDef) {
  const path = { params: { path: { tracker: tracker.value, role: id } } }
  const body = { role: role ? bodyOf(role) : null }
  const answer = await doing.newest(() =>
    Promise.all([
      tell(api.POST('/api/trackers/{tracker}/roles/{role}/rehearsal', { ...path, body })),
      role && parts.look({ role: bodyOf(role) }, id),
    ]),
  )
  if (!answer) return
  const [told, look] = answer
  const seen = look?.view && 'role' in look.view ? look.view.role : undefined
  const does = () => (role ? parts.save('role', id, { role: bodyOf(role) }) : parts.drop('role', id))
  proposed.value = { id, title, role, told, does, seen: seen && role ? { ...seen, role: { ...seen.role, id } } : undefined }
}

/** Rehearses that a table's records are somebody's own by something else. */
async function proposeOwn(table: number, title: string, mine: MineBy) {
  const path = { params: { path: { tracker: tracker.value, table } }, body: { mine } }
  const told = await doing.newest(() => tell(api.POST('/api/trackers/{tracker}/tables/{table}/mine/rehearsal', path)))
  if (!told) return
  proposed.value = {
    title,
    told,
    does: async () => edits.remember(tracker.value, await tell(api.PUT('/api/trackers/{tracker}/tables/{table}/mine', path))),
  }
}

/** What was set on one table holds on another that hangs on it too. */
function carry({ table, rights }: Carry) {
  const role = roles.value.find((one) => one.role.id === proposed.value?.id)
  if (role) void keepRights(role, table, rights)
}

async function doIt() {
  const now = proposed.value
  if (!now) return
  const done = await doing.attempt(async () => {
    await now.does()
    return true
  })
  if (done) leave()
  await asked.again()
}

function leave() {
  proposed.value = undefined
  naming.value = undefined
  doing.trouble.value = ''
}

/** Each further change is of what is proposed already. */
function keep(role: Role, change: Partial<RoleDef>) {
  const now = standing(role).role
  return propose(`${now.name} would be another`, now.id, { ...now, ...change })
}

function keepRights(role: Role, table: number, rights: TableRights) {
  return keep(role, { tables: { ...standing(role).role.tables, [table]: rights } })
}

const tables = computed(() => currentTracker.value?.tables ?? [])
const sentence = (role: Role, table: number) => role.sentences.find((s) => s.table === table)?.text ?? ''
const name = (person: number) => currentTracker.value?.people.find((p) => p.id === person)?.name ?? 'somebody'
const group = (id: number) => currentTracker.value?.groups.find((g) => g.id === id)?.name
/** Groups first, then people by themselves. */
const holders = ({ role }: Role) => [...(role.groups ?? []).flatMap((id) => group(id) ?? []), ...role.members.map(name)].join(', ')
const { vocabulary } = useVocabulary()
const base = (role: Role['role']) => vocabulary.value?.bases.find((one) => one.value === role.base)?.name

/** Nobody but its stewards holds anything in it. */
const closed = computed(
  () =>
    roles.value.length > 0 && roles.value.every(({ role }) => role.base === 'steward' || (!role.members.length && !role.groups?.length)),
)

/** The role that is being named; `new`: one that is made. */
const naming = ref<number | 'new'>()

/** A role that is there already is given to its first holders. */
async function give({ id, ...role }: Role['role']) {
  await doing.attempt(() => parts.save('role', id, { role: { ...role, tables: role.tables ?? {} } }))
  await asked.again()
}

async function make(role: Omit<Role['role'], 'id'>) {
  const made = await doing.attempt(() => parts.make({ role: { ...role, tables: role.tables ?? {} } }))
  if (made) naming.value = undefined
  await asked.again()
}

/** Another of the same rights, held by nobody yet. */
function double({ role }: Role) {
  const { name, about, base: own, tables: rights } = role
  return make({ name: `${name}, another`, about, base: own, tables: rights, members: [], groups: [] })
}

const drop = ({ role }: Role) => propose(`${role.name} would be taken away`, role.id)

/** What it is called moves nobody. */
async function rename({ role }: Role, words: { name: string; about: string }) {
  const done = await doing.attempt(() => parts.save('role', role.id, { role: bodyOf({ ...role, ...words }) }))
  if (done) naming.value = undefined
  await asked.again()
}
</script>

<template>
  <section class="access">
    <h1>Access</h1>
    <p class="says"
      >Nothing is allowed unless a role allows it; the roles of one person add up. A change is rehearsed first; once it is done it holds at
      once, on open screens too.</p
    >
    <p v-if="currentTracker?.area_opens" class="says" data-test="area-opens"
      >It lies in the area {{ currentTracker.area_name }}, which is open: {{ currentTracker.area_opens }}</p
    >
    <AccessWhy class="asks" />
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <OpenTo v-if="closed && !readonly" :busy="doing.busy.value" :roles="roles.map(({ role }) => role)" @open="make" @give="give" />
    <table v-if="roles.length">
      <thead>
        <tr>
          <th scope="col">Role</th>
          <th v-for="table in tables" :key="table.id" scope="col">{{ table.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="role in roles" :key="role.role.id" :data-role="role.role.name" :class="{ proposed: proposed?.id === role.role.id }">
          <th scope="row">
            <v-menu
              v-if="!readonly"
              :model-value="naming === role.role.id"
              :close-on-content-click="false"
              location="bottom start"
              @update:model-value="naming = $event ? role.role.id : undefined"
            >
              <template #activator="{ props }">
                <button v-bind="props" class="named" :data-name="role.role.name">{{ role.role.name }}</button>
              </template>
              <RoleSheet
                :role="role.role"
                :roles="roles"
                @keep="rename(role, $event)"
                @double="double(role)"
                @drop="((naming = undefined), drop(role))"
                @leave="naming = undefined"
              />
            </v-menu>
            <b v-else>{{ role.role.name }}</b>
            <span class="base">{{ role.role.about || base(role.role) }}</span>
            <v-menu :close-on-content-click="false" location="bottom start">
              <template #activator="{ props }">
                <button v-bind="props" class="phrase" :disabled="readonly">{{ holders(standing(role)) || 'Nobody yet' }}</button>
              </template>
              <MembersEditor :role="standing(role)" @change="keep(role, $event)" />
            </v-menu>
          </th>
          <td v-for="table in tables" :key="table.id" :data-of="table.name">
            <v-menu v-if="role.role.base !== 'steward' && !readonly" :close-on-content-click="false" location="bottom start">
              <template #activator="{ props }">
                <button v-bind="props" class="phrase"
                  ><template v-if="sentence(standing(role), table.id) !== sentence(role, table.id)"
                    ><s>{{ sentence(role, table.id) }}</s> <span class="then">{{ sentence(standing(role), table.id) }}</span></template
                  ><template v-else>{{ sentence(role, table.id) }}</template></button
                >
              </template>
              <template #default="{ isActive }">
                <RightsEditor
                  :table="table"
                  :rights="standing(role).rights[table.id]!"
                  @keep="((isActive.value = false), keepRights(role, table.id, $event))"
                  @leave="isActive.value = false"
                />
              </template>
            </v-menu>
            <span v-else>{{ sentence(role, table.id) }}</span>
          </td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">
            <b>Somebody’s own</b>
            <span class="base">what <i>their own</i> means above, and who <i>my record</i> is</span>
          </th>
          <td v-for="table in tables" :key="table.id" :data-own="table.name">
            <v-menu v-if="table.mine && !readonly" :close-on-content-click="false" location="top start">
              <template #activator="{ props }">
                <button v-bind="props" class="phrase">{{ table.mine.says }}</button>
              </template>
              <template #default="{ isActive }">
                <OwnRecords
                  :table="table"
                  :mine="table.mine.by"
                  @keep="
                    ((isActive.value = false), proposeOwn(table.id, `${table.name} would be somebody’s own by something else`, $event))
                  "
                  @leave="isActive.value = false"
                />
              </template>
            </v-menu>
            <span v-else>{{ table.mine?.says }}</span>
          </td>
        </tr>
      </tfoot>
    </table>
    <div v-if="doing.busy.value && !proposed" class="working" role="status" data-test="access-working">
      Going through what each of them would see
      <v-progress-linear indeterminate color="primary" height="2" aria-label="Working" />
    </div>
    <AccessRehearsal
      v-if="proposed"
      :title="proposed.title"
      :told="proposed.told"
      :busy="doing.busy.value"
      :trouble="doing.trouble.value"
      @act="doIt"
      @carry="carry"
      @leave="leave"
    />
    <RoleSheet v-if="naming === 'new'" class="new" :roles="roles" @make="make" @leave="naming = undefined" />
    <p v-else-if="roles.length && !readonly && !proposed" class="new">
      <v-btn variant="outlined" data-test="add-role" @click="naming = 'new'">Add a role</v-btn>
    </p>
  </section>
</template>

<style scoped>
/* What takes but a moment is not worth a word. */
.working {
  animation: told 1ms 0.5s both;
  margin-top: var(--gap-3);
  color: var(--quiet);
}
@keyframes told {
  from {
    visibility: hidden;
  }
}
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
.asks {
  margin: 0 0 var(--gap-4);
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
tbody b,
tfoot b,
.named {
  font: 600 17px var(--serif);
  display: block;
}
.named {
  border: 0;
  background: none;
  padding: 0;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.named:hover {
  color: var(--moss);
  text-decoration: underline;
}
.new {
  margin-top: var(--gap-4);
}
.then {
  color: var(--copper);
}
.phrase s {
  color: var(--quiet);
}
.proposed {
  background: var(--copper-soft);
  box-shadow: -3px 0 0 var(--copper);
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
  tfoot,
  tr,
  tbody th,
  tfoot th,
  td {
    display: block;
  }
  thead {
    display: none;
  }
  td {
    padding: 6px 0;
  }
  .phrase,
  .named {
    min-height: 40px;
  }
  td::before {
    content: attr(data-of) attr(data-own);
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
