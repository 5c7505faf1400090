<script setup lang="ts">
// What uses a field; what holds it stands first.
import { computed } from 'vue'
import type { Use } from '@/api/types'

const props = defineProps<{ uses: Use[] }>()
const WHAT: Record<Use['what'], string> = {
  table: 'The table',
  field: 'The field',
  view: 'The view',
  form: 'The form',
  role: 'The role',
  automation: 'The automation',
  page: 'The shared page',
  document: 'The document',
  text: 'The text',
  highlight: 'In how records look:',
}
const list = computed(() => [...props.uses].sort((a, b) => Number(b.holds) - Number(a.holds)))
</script>

<template>
  <ul class="uses">
    <li v-for="(use, n) in list" :key="n"
      >{{ WHAT[use.what] }} <b>{{ use.name }}</b> {{ use.how }}<span v-if="use.holds" class="holds">, and holds it</span></li
    >
  </ul>
</template>

<style scoped>
.uses {
  margin: 4px 0;
  padding-left: 18px;
  font-size: 13px;
}
.holds {
  color: var(--copper);
}
</style>
