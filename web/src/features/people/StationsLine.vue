<script setup lang="ts">
// How far somebody has come who is invited: one sees where it got stuck.
import type { Station } from '@/api/types'

defineProps<{ stations: Station[] }>()
</script>

<template>
  <ol class="stations" aria-label="How far they have come">
    <li v-for="(station, place) in stations" :key="place" :class="{ done: station.done }">{{ station.words }}</li>
  </ol>
</template>

<style scoped>
.stations {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(110px, 1fr));
  list-style: none;
  margin: 0;
  padding: 4px 0 0;
  font-size: 12.5px;
  color: var(--quiet);
}
li {
  position: relative;
  padding-top: 12px;
  padding-right: 10px;
  border-top: 1px dotted var(--line-strong);
}
li:last-child {
  border-top-color: transparent;
}
li::before {
  content: '';
  position: absolute;
  left: 0;
  top: -5px;
  width: 8px;
  height: 8px;
  border: 1px solid var(--copper);
  border-radius: 50%;
  background: var(--sheet);
}
li.done {
  color: var(--ink);
}
li.done::before {
  background: var(--copper);
}
li.done:has(+ .done) {
  border-top: 1px solid var(--copper);
}
</style>
