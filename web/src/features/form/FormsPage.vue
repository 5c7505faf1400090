<script setup lang="ts">
// The tracker's forms: whether they take answers, where they are, what came.
import PickOne from '@/features/menu/PickOne.vue'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import { useAsked, useDoing } from '@/app/asking'
import { useParts } from '@/features/tracker/parts'
import { touches, useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()

const route = useRoute()
const router = useRouter()
const tracker = computed(() => Number(route.params.tracker))
const title = ref('')
const table = ref<number>()
const tables = computed(() => currentTracker.value?.tables ?? [])
const manyOf = (id: number) => tables.value.find((t) => t.id === id)?.many ?? ''

const parts = useParts(() => tracker.value)
const doing = useDoing()
const asked = useAsked(
  () => ['forms', tracker.value],
  () => told(api.GET('/api/trackers/{tracker}/forms', { params: { path: { tracker: tracker.value } } })),
  (heard, now) => touches(now?.map((f) => f.table))(heard),
)
const forms = asked.told
const trouble = computed(() => doing.trouble.value || asked.trouble.value)

async function make() {
  const form = { table: table.value ?? tables.value[0]!.id, title: title.value }
  const done = await doing.attempt(() => parts.make({ form }))
  if (done) await router.push({ name: 'form', params: { tracker: tracker.value, form: done.made! } })
}
</script>

<template>
  <section class="forms">
    <h1>Forms</h1>
    <p v-if="forms && !forms.length" class="quiet">A form lets people put records in who never see the table. Make the first one below.</p>
    <article v-for="form in forms ?? []" :key="form.id" :data-form="form.title">
      <h2
        ><router-link v-if="currentTracker?.builds" :to="{ name: 'form', params: { tracker, form: form.id } }">{{ form.title }}</router-link
        ><template v-else>{{ form.title }}</template></h2
      >
      <p class="says">
        <b :class="{ closed: form.state !== 'open' }">{{ form.running }}</b> It puts {{ manyOf(form.table) }} in.
        <router-link :to="{ name: 'answers', params: { tracker, form: form.id } }">{{ form.came.counted }}</router-link>{{
          form.came.last && `, ${form.came.last}`
        }}.
      </p>
      <p class="address"
        ><a :href="form.address" target="_blank" rel="noopener">{{ form.address }}</a></p
      >
    </article>
    <form v-if="currentTracker?.builds && forms" class="new" @submit.prevent="make">
      A new form called <input v-model="title" aria-label="Title of the new form" data-test="new-form-title" /> that puts
      <PickOne
        v-model="table"
        aria-label="Its table"
        data-test="new-form-table"
        :items="tables.map((one, place) => ({ value: place === 0 && !table ? undefined : one.id, title: one.many }))"
      />
      in <v-btn color="primary" type="submit" :disabled="!title.trim()" data-test="make-form">Make it</v-btn>
    </form>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.forms {
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
.says {
  font: 16px/1.5 var(--serif);
  color: var(--quiet);
  margin: 2px 0;
}
.says b {
  font-weight: 600;
  color: var(--moss);
}
.says .closed {
  color: var(--copper);
}
.address {
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
