<script setup lang="ts">
// The groundplan as a list: for small screens and for those who have it read to them.
import { figure } from '@/theme/own'
import type { Groundplan } from '@/api/types'

const props = defineProps<{ plan: Groundplan; tracker: number }>()
const name = (table: number) => props.plan.tables.find((t) => t.id === table)?.name ?? ''
</script>

<template>
  <ul class="list">
    <li v-for="table in plan.tables" :key="table.id">
      <h2
        ><router-link :to="{ name: 'view', params: { tracker, table: table.id } }">{{ table.name }}</router-link
        >{{ ' ' }} <span class="quiet">{{ figure(table.count) }}</span></h2
      >
      <p><router-link :to="{ name: 'hangs', params: { tracker, table: table.id } }">what hangs on it, and what to begin</router-link></p>
      <p v-for="form in plan.forms.filter((f) => f.table === table.id)" :key="`f${form.form}`"
        >comes in by the form <router-link :to="{ name: 'form', params: { tracker, form: form.form } }">{{ form.title }}</router-link>,
        {{ form.week }} this week</p
      >
      <p v-for="link in plan.links.filter((l) => l.from === table.id)" :key="`${link.from}${link.to}${link.name}`"
        >links to {{ name(link.to) }} by {{ link.name.toLowerCase() }}</p
      >
      <p v-for="one in plan.automations.filter((a) => a.table === table.id)" :key="`a${one.automation}`"
        >{{ one.name }}: {{ one.to }}{{ one.on ? '' : ', off' }}</p
      >
      <p v-for="one in plan.pages.filter((p) => p.tables.includes(table.id))" :key="`p${one.page}`"
        >shown outside on <router-link :to="{ name: 'page', params: { tracker, page: one.page } }">{{ one.title }}</router-link>,
        {{ one.open ? 'open' : 'closed' }}, for {{ one.to }}</p
      >
      <p v-for="end in plan.ends.filter((e) => e.at?.table === table.id)" :key="`e${end.words}`" class="end"
        >▲
        <router-link :to="{ name: 'record', params: { tracker, table: table.id, record: end.at!.record } }">{{ end.words }}</router-link></p
      >
    </li>
  </ul>
</template>

<style scoped>
.list {
  list-style: none;
  padding: 0;
  display: grid;
  gap: var(--gap-3);
  max-width: 720px;
}
li {
  border-top: 1px solid var(--line);
  padding-top: 8px;
}
h2 {
  font-size: 18px;
}
p {
  margin: 0;
}
.end,
.end a {
  color: var(--fault);
}
</style>
