<script setup lang="ts">
// The days of a calendar that come: what is on each, at which hour or until when.
import type { BoardDay } from '@/api/types'

defineProps<{ days: BoardDay[]; tracker: number; table: number }>()
</script>

<template>
  <div>
    <section v-for="day in days" :key="day.text">
      <h3>{{ day.text }}</h3>
      <ul>
        <li v-for="(entry, n) in day.entries" :key="n">
          <router-link :to="{ name: 'record', params: { tracker, table, record: entry.record } }"
            ><span class="said"
              ><span>{{ entry.title }}</span> <span class="quiet">{{ entry.about }}</span></span
            ></router-link
          >
          <span class="quiet at">{{ entry.at }}</span>
        </li>
      </ul>
    </section>
    <p v-if="!days.length" class="quiet">Nothing is planned from today on.</p>
  </div>
</template>

<style scoped>
h3 {
  margin: var(--gap-2) 0 0;
  color: var(--quiet);
  font: 13px/1.6 var(--sans);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-3);
  padding: 5px 0;
  border-top: 1px solid var(--line);
  font-size: 14px;
}
a {
  flex: 1;
  min-width: 0;
  color: inherit;
  text-decoration: none;
}
.said {
  display: grid;
}
a:hover .said span:first-child {
  color: var(--moss);
  text-decoration: underline;
}
.quiet {
  font-size: 13px;
}
.at {
  white-space: nowrap;
}
</style>
