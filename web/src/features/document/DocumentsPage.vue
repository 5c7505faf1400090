<script setup lang="ts">
// The tracker's documents, by table; and a new one.
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { SheetDocument } from '@/api/types'
import { useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import { useDocuments } from './documents'

const route = useRoute()
const router = useRouter()
const { tracker: currentTracker } = useTracker()
const tracker = computed(() => Number(route.params.tracker))
const builds = computed(() => !!currentTracker.value?.builds)
const parts = useParts(() => tracker.value)
const doing = useDoing()
const { documents, trouble } = useDocuments(() => tracker.value)
const tables = computed(() => currentTracker.value?.tables ?? [])
const of = (table: number) => documents.value.filter((one) => one.table === table)
const filled = computed(() => tables.value.filter((table) => of(table.id).length))

const title = ref('')
const chosen = ref<number | undefined>(Number(route.query.table) || undefined)
const table = computed(() => tables.value.find((one) => one.id === chosen.value) ?? tables.value[0])
const kind = ref<SheetDocument['of']>('each')
const kinds = computed(() => [
  { value: 'each' as const, title: `each ${table.value?.one ?? 'record'}` },
  { value: 'all' as const, title: `all ${table.value?.many ?? 'records'} together` },
])
async function make() {
  if (!table.value) return
  const body = { document: { table: table.value.id, title: title.value, of: kind.value, like: null } }
  const done = await doing.attempt(() => parts.make(body))
  if (done?.made) await router.push({ name: 'document', params: { tracker: tracker.value, document: done.made } })
}
</script>

<template>
  <section class="documents">
    <h1>Documents</h1>
    <p v-if="!documents.length" class="quiet">
      A document is what records are printed as: a sheet for each, or one for all that a view shows. What stands on it comes from the
      records.
    </p>
    <article v-for="one in filled" :key="one.id">
      <h2>{{ one.name }}</h2>
      <ul>
        <li v-for="document in of(one.id)" :key="document.id" :data-document="document.title">
          <router-link v-if="builds" :to="{ name: 'document', params: { tracker, document: document.id } }">{{
            document.title
          }}</router-link>
          <b v-else>{{ document.title }}</b>
          <span class="quiet"
            >, {{ document.of === 'each' ? `a sheet for each ${one.one}` : `one sheet for all ${one.many} together` }}</span
          >
        </li>
      </ul>
    </article>
    <form v-if="builds && table" class="new" @submit.prevent="make">
      A new document of
      <PickOne
        said
        :model-value="table.id"
        :items="named(tables)"
        aria-label="Table"
        data-test="document-table"
        @update:model-value="chosen = $event"
      />
      for
      <PickOne v-model="kind" said :items="kinds" aria-label="Of what" data-test="document-of" />, called
      <input v-model="title" aria-label="Title of the new document" data-test="new-document-title" />
      <v-btn color="primary" type="submit" :disabled="!title.trim() || doing.busy.value" data-test="make-document">Make it</v-btn>
    </form>
    <p v-if="trouble || doing.trouble.value" class="fault-text" role="alert">{{ trouble || doing.trouble.value }}</p>
  </section>
</template>

<style scoped>
.documents {
  padding: var(--gap-4) var(--gap-5) 60px;
  max-width: 900px;
  margin: 0 auto;
}
h1 {
  font-size: 27px;
}
article {
  border-top: 1px solid var(--line);
  padding: var(--gap-3) 0;
}
h2 {
  font-size: 19px;
}
ul {
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
}
li {
  min-height: 28px;
}
.new {
  border-top: 1px solid var(--line-strong);
  padding-top: var(--gap-4);
  font: 17px/2 var(--serif);
}
.new .v-btn {
  margin-left: 8px;
}
.new input {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 4px 8px;
}
</style>
