<script setup lang="ts">
import { computed } from 'vue'
import { api, told } from '@/api/client'
import type { Table, Tracker } from '@/api/types'
import { useAsked } from '@/app/asking'
import { useDocuments } from '@/features/document/documents'
import { useSession } from '@/features/session/session'

const props = defineProps<{ tracker: Tracker }>()

const params = computed(() => ({ tracker: props.tracker.id }))
/** Tables of one heading stand together; those of none come first. */
const tables = computed(() => [...props.tracker.tables].sort((a, b) => a.heading.localeCompare(b.heading)))
const views = (table: Table) => table.views
const { me } = useSession()
const adds = computed(() => (me.value?.stands_in ? [] : tables.value.filter((table) => table.adds)))
/** Forms that one may answer: whoever builds has them in a list of their own. */
const forms = computed(() => (props.tracker.builds ? [] : props.tracker.forms.filter((form) => form.address)))
const asked = useAsked(
  () => ['drafts', props.tracker.id],
  () => told(api.GET('/api/trackers/{tracker}/drafts', { params: { path: { tracker: props.tracker.id } } })),
)
const boards = useAsked(
  () => ['dashboards'],
  () => told(api.GET('/api/dashboards')),
)
const { documents } = useDocuments(() => props.tracker.id)
const drafts = computed(() => (me.value?.stands_in ? [] : (asked.told.value ?? [])))
const one = (id: number) => props.tracker.tables.find((table) => table.id === id)?.one ?? ''
</script>

<template>
  <div class="contents" data-test="contents-panel">
    <div v-for="table in tables" :key="table.id" class="column">
      <p v-if="table.heading" class="heading">{{ table.heading }}</p>
      <h3>
        <router-link :to="{ name: 'view', params: { ...params, table: table.id } }">{{ table.name }}</router-link>
        <span class="count">{{ table.count }}</span>
      </h3>
      <router-link
        v-for="view in views(table)"
        :key="view.id"
        :to="{ name: 'view', params: { ...params, table: table.id, view: view.id } }"
      >
        {{ view.name }}<span v-if="view.owner" class="quiet">, yours</span>
      </router-link>
    </div>
    <div v-if="adds.length || forms.length" class="column" data-test="may-add">
      <h3>Adding</h3>
      <router-link
        v-for="table in adds"
        :key="table.id"
        :to="{ name: 'view', params: { ...params, table: table.id }, query: { add: 'new' } }"
        >Add {{ table.one }}</router-link
      >
      <a v-for="form in forms" :key="`f${form.id}`" :href="form.address ?? undefined"
        >{{ form.title }}<span class="quiet">, a form</span></a
      >
      <template v-if="drafts.length">
        <p class="heading">Begun, not added yet</p>
        <router-link
          v-for="line in drafts"
          :key="`d${line.draft}`"
          :to="{ name: 'view', params: { ...params, table: line.table }, query: { draft: line.draft } }"
          data-test="own-draft"
          >{{ line.name || `a ${one(line.table)}` }}<span class="quiet">, {{ line.at }}</span></router-link
        >
      </template>
    </div>
    <div v-if="tracker.builds" class="column">
      <h3><router-link :to="{ name: 'forms', params }">Forms</router-link></h3>
      <router-link v-for="form in tracker.forms" :key="form.id" :to="{ name: 'form', params: { ...params, form: form.id } }">
        {{ form.title }}<span class="quiet">, {{ form.open ? 'open' : 'closed' }}</span>
      </router-link>
    </div>
    <div v-if="tracker.steward" class="column">
      <h3><router-link :to="{ name: 'pages', params }">Shared pages</router-link></h3>
      <router-link v-for="page in tracker.pages" :key="page.id" :to="{ name: 'page', params: { ...params, page: page.id } }">
        {{ page.title }}<span class="quiet">, {{ page.open ? 'open' : 'closed' }}</span>
      </router-link>
    </div>
    <div class="column">
      <h3><router-link :to="{ name: 'bin', params }" data-test="to-record-bin">The bin</router-link></h3>
    </div>
    <div v-if="tracker.builds" class="column">
      <h3>Running it</h3>
      <router-link :to="{ name: 'automations', params }">Automations</router-link>
      <router-link v-if="tracker.steward" :to="{ name: 'access', params }">Access</router-link>
      <router-link :to="{ name: 'tracker', params, hash: '#bin' }" data-test="to-bin">Tables put away</router-link>
      <router-link :to="{ name: 'post-room' }">Post room</router-link>
    </div>
    <!-- What follows is told later than the rest: last, it moves nothing. -->
    <div v-if="tracker.builds || documents.length" class="column" data-test="contents-documents">
      <h3><router-link :to="{ name: 'documents', params }">Documents</router-link></h3>
      <template v-if="tracker.builds">
        <router-link
          v-for="document in documents"
          :key="document.id"
          :to="{ name: 'document', params: { ...params, document: document.id } }"
          >{{ document.title }}</router-link
        >
      </template>
    </div>
    <div v-if="boards.told.value?.length" class="column" data-test="contents-boards">
      <h3>Dashboards</h3>
      <router-link v-for="board in boards.told.value" :key="board.id" :to="{ name: 'dashboard', params: { dashboard: board.id } }">{{
        board.name
      }}</router-link>
    </div>
  </div>
</template>

<style scoped>
.contents {
  max-height: calc(100dvh - 64px);
  overflow-y: auto;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-5) 40px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: var(--gap-4) var(--gap-5);
  color: var(--ink);
}
.column {
  display: grid;
  align-content: start;
  gap: 5px;
  min-width: 150px;
}
.heading {
  margin: 0;
  font-size: 12px;
  color: var(--quiet);
}
h3 {
  font-size: 16px;
}
h3 a {
  color: var(--ink);
  text-decoration: none;
}
.count {
  font: 13px var(--sans);
  color: var(--quiet);
  margin-left: 6px;
}
a {
  display: inline-block;
  min-height: 24px;
  text-decoration: none;
}
a:hover {
  text-decoration: underline;
}
</style>
