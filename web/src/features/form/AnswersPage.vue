<script setup lang="ts">
// The answers of one form, and how many opened, sent and left it.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'
import CellText from '@/features/cell/CellText.vue'
import { touches, useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()

const route = useRoute()
const at = computed(() => ({ tracker: Number(route.params.tracker), form: Number(route.params.form) }))
const form = computed(() => currentTracker.value?.forms.find((f) => f.id === at.value.form))
const table = computed(() => currentTracker.value?.tables.find((t) => t.id === form.value?.table))
const { told: answers, trouble } = useAsked(
  () => ['answers', at.value.tracker, at.value.form],
  () => told(api.GET('/api/trackers/{tracker}/forms/{form}/answers', { params: { path: at.value } })),
  (heard) => touches(form.value && [form.value.table])(heard),
)
const fields = computed(() => (answers.value?.fields ?? []).flatMap((id) => table.value?.fields.find((f) => f.id === id) ?? []))
</script>

<template>
  <section v-if="answers && table" class="answers">
    <p class="over"
      ><router-link :to="{ name: 'forms', params: { tracker: at.tracker } }">Forms</router-link> ·
      <router-link v-if="currentTracker?.builds" :to="{ name: 'form', params: at }">{{ form?.title }}</router-link></p
    >
    <h1>Answers to “{{ form?.title }}”</h1>
    <p class="says" data-test="funnel">
      {{ answers.says.join(' ') }}
      <span v-if="answers.visits" class="quiet">Only numbers are kept, nothing of who it was.</span>
    </p>
    <div v-if="answers.rows.length" class="scroll" tabindex="0" role="region" aria-label="Answers">
      <table>
        <thead>
          <tr>
            <th scope="col">Came</th>
            <th v-for="field in fields" :key="field.id" scope="col">{{ field.name }}</th>
            <th scope="col">By the link</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in answers.rows" :key="one.row.id">
            <td
              ><router-link :to="{ name: 'record', params: { tracker: at.tracker, table: table.id, record: one.row.id } }">{{
                one.at_text
              }}</router-link
              ><span v-if="one.by" class="quiet">, {{ one.by }}</span></td
            >
            <td v-for="(field, n) in fields" :key="field.id"><CellText :field="field" :cell="one.row.cells[n]" /></td>
            <td>{{ one.parameters.map((p) => `${p.name}=${p.value}`).join(', ') }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="answers.next" class="says" data-test="next-step">
      {{ answers.next }} <router-link :to="{ name: 'form', params: at }">Open its script</router-link>
    </p>
    <p v-else-if="!answers.rows.length" class="quiet">Nothing came yet.</p>
    <p v-else-if="answers.total > answers.rows.length" class="quiet">The latest {{ answers.rows.length }} are shown.</p>
  </section>
  <p v-else-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.answers {
  padding: var(--gap-3) var(--gap-5) 60px;
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
@media (max-width: 700px) {
  .over a {
    display: inline-flex;
    align-items: center;
    min-height: 44px;
  }
}
h1 {
  font-size: 27px;
}
.says {
  font: 16px/1.5 var(--serif);
  margin: 4px 0 var(--gap-4);
}
.scroll {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  font-size: 13.5px;
  background: var(--sheet);
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 6px 10px;
  border-bottom: 1px solid var(--line);
  max-width: 260px;
}
th {
  color: var(--quiet);
  font-weight: 400;
  font-size: 12.5px;
  white-space: nowrap;
}
td:first-child {
  white-space: nowrap;
}
</style>
