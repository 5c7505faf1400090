<script setup lang="ts">
// A template before it is used: its tables with their views and first records.
import { api, told } from '@/api/client'
import type { TemplateLine } from '@/api/types'
import { useAsked } from '@/app/asking'

const props = defineProps<{ template: TemplateLine }>()
const { told: preview, trouble } = useAsked(
  () => ['template', props.template.key],
  () => told(api.GET('/api/templates/{template}', { params: { path: { template: props.template.key } } })),
)
</script>

<template>
  <section class="sheet" :aria-label="template.title" data-test="template-sheet">
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <template v-if="preview">
      <p class="quiet">
        <template v-if="preview.forms.length">Form: {{ preview.forms.join(', ') }}. </template>
        <template v-if="preview.automations.length">Automation: {{ preview.automations.join(', ') }}, off until you switch it on.</template>
      </p>
      <p v-for="role in preview.roles" :key="role.name" class="view" data-test="brings-role"
        ><b>The role {{ role.name }}:</b> {{ role.about }} Nobody holds it until you say so.</p
      >
      <div v-for="table in preview.tables" :key="table.name" class="table">
        <h3
          >{{ table.name }} <span class="quiet">{{ table.count }}</span></h3
        >
        <p v-for="view in table.views" :key="view.name" class="view"
          ><b>{{ view.name }}:</b> {{ view.sentence }}</p
        >
        <div class="scroll" tabindex="0" role="region" aria-label="What is in it">
          <table>
            <thead>
              <tr
                ><th v-for="field in table.fields" :key="field">{{ field }}</th></tr
              >
            </thead>
            <tbody>
              <tr v-for="(row, n) in table.rows" :key="n"
                ><td v-for="(text, c) in row" :key="c">{{ text }}</td></tr
              >
            </tbody>
          </table>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.sheet p {
  margin: 0 0 6px;
}
h3 {
  font-size: 17px;
  margin-top: 12px;
}
.view {
  font: 14px/1.45 var(--serif);
}
.scroll {
  overflow-x: auto;
  background: var(--sheet);
  border: 1px solid var(--line);
}
table {
  border-collapse: collapse;
  font-size: 13px;
  white-space: nowrap;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--quiet);
}
th,
td {
  padding: 3px 14px 3px 8px;
  border-bottom: 1px solid var(--line);
  max-width: 200px;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
