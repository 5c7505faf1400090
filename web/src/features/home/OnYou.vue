<script setup lang="ts">
// What is on whoever looks and has come to its day; rounds tell of all.
import type { OnYou } from '@/api/types'

defineProps<{ on: OnYou }>()
type Duty = OnYou['duties'][number]
const to = (duty: Duty) =>
  duty.tracker && duty.record
    ? { name: 'record', params: { tracker: duty.tracker, table: duty.table!, record: duty.record } }
    : { name: 'rounds' }
/** What is said beneath: how late, and why it is on one. */
const says = (duty: Duty) => [duty.late_text || duty.tells[0], duty.why].filter(Boolean).join(', ')
</script>

<template>
  <ul v-if="on.duties.length" class="on-you" aria-label="On you" data-test="on-you">
    <li v-for="(duty, place) in on.duties" :key="place">
      <router-link :to="to(duty)" :class="{ late: duty.late }">{{ duty.name }}</router-link>
      <span class="why">{{ says(duty) }}</span>
    </li>
    <li v-if="on.more"
      ><router-link :to="{ name: 'rounds' }">and {{ on.more }} more in rounds</router-link></li
    >
  </ul>
  <p v-else class="quiet">nothing</p>
</template>

<style scoped>
.on-you {
  list-style: none;
}
li {
  padding: 3px 0 4px;
  border-bottom: 1px solid var(--row-line, var(--line));
}
li:last-child {
  border-bottom: 0;
}
a {
  color: var(--ink);
  overflow-wrap: anywhere;
}
.late {
  font-weight: 600;
}
.why {
  display: block;
  color: var(--quiet);
  font-size: 12.5px;
}
@media (max-width: 800px) {
  .on-you::before {
    content: 'On you';
    color: var(--quiet);
    font-weight: 600;
  }
  a {
    display: inline-flex;
    align-items: center;
    min-height: 40px;
  }
}
</style>
