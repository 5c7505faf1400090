<script setup lang="ts">
// The tracker's shared pages: who comes in, what they may do, and when anybody last did.
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import { useAsked, useDoing } from '@/app/asking'
import { useParts } from '@/features/tracker/parts'

const route = useRoute()
const router = useRouter()
const tracker = computed(() => Number(route.params.tracker))
const title = ref('')
const parts = useParts(() => tracker.value)
const doing = useDoing()
const asked = useAsked(
  () => ['pages', tracker.value],
  () => told(api.GET('/api/trackers/{tracker}/pages', { params: { path: { tracker: tracker.value } } })),
  () => true,
)
const pages = asked.told
const trouble = computed(() => doing.trouble.value || asked.trouble.value)

async function make() {
  const done = await doing.attempt(() => parts.make({ page: { title: title.value } }))
  if (done) await router.push({ name: 'page', params: { tracker: tracker.value, page: done.made! } })
}
</script>

<template>
  <section class="pages">
    <h1>Shared pages</h1>
    <p v-if="pages && !pages.length" class="quiet">
      A shared page gives people outside the team some records, a form or a text, at one address that shows nothing else of the tracker.
      Begin with a view: <i>Share it outside</i>, in the menu at its name. Or with an empty page below.
    </p>
    <article v-for="page in pages ?? []" :key="page.id" :data-page="page.title">
      <h2
        ><router-link :to="{ name: 'page', params: { tracker, page: page.id } }">{{ page.title }}</router-link>
        <span v-if="!page.open" class="closed">closed</span></h2
      >
      <p class="says"
        ><b>{{ page.door }}</b> {{ page.gives.join(' ') }}</p
      >
      <p class="address"
        ><a :href="page.address" target="_blank" rel="noopener">{{ page.address }}</a>
        <span class="quiet">{{ page.visits.length ? page.visits.map((visit) => visit.says).join('; ') : 'nobody has come yet' }}</span></p
      >
    </article>
    <form v-if="pages" class="new" @submit.prevent="make">
      A new page called <input v-model="title" aria-label="Title of the new page" data-test="new-page-title" />
      <v-btn color="primary" type="submit" :disabled="!title.trim() || doing.busy.value" data-test="make-page">Make it</v-btn>
    </form>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.pages {
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
.closed {
  font: 14px var(--sans);
  color: var(--copper);
}
.says {
  font: 16px/1.5 var(--serif);
  color: var(--quiet);
  margin: 2px 0;
}
.says b {
  font-weight: 600;
  color: var(--ink);
}
.address {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--gap-4);
  margin: 0;
  font-size: 13.5px;
  overflow-wrap: anywhere;
}
.new {
  border-top: 1px solid var(--line-strong);
  padding-top: var(--gap-4);
  font: 17px/2 var(--serif);
}
.new input {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 4px 8px;
}
</style>
