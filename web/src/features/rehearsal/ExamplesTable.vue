<script setup lang="ts">
// Cells before and after, and values that do not fit.
import type { KindRehearsal } from '@/api/types'

defineProps<{ told: KindRehearsal }>()
</script>

<template>
  <p class="counts">{{ told.says.join(' ') }}</p>
  <p v-for="line in told.besides" :key="line" class="quiet line">{{ line }}</p>
  <div class="tables">
    <table v-if="told.examples.length">
      <thead>
        <tr><th>Record</th><th>Now</th><th>Then</th></tr>
      </thead>
      <tbody>
        <tr v-for="one in told.examples.slice(0, 6)" :key="one.record"
          ><td>{{ one.name }}</td
          ><td class="quiet">{{ one.before }}</td
          ><td>{{ one.after }}</td></tr
        >
      </tbody>
    </table>
    <table v-if="told.unfit.length" data-test="unfit">
      <thead>
        <tr><th>Does not fit</th><th>Times</th><th>Why</th></tr>
      </thead>
      <tbody>
        <tr v-for="one in told.unfit.slice(0, 6)" :key="one.text"
          ><td>{{ one.text }}</td
          ><td>{{ one.count }}</td
          ><td class="quiet">{{ one.why }}</td></tr
        >
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.counts,
.line {
  margin: 0 0 4px;
}
.tables {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) 40px;
  max-height: 220px;
  overflow-y: auto;
}
table {
  border-collapse: collapse;
  font-size: 13px;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--quiet);
  font-size: 12.5px;
}
th,
td {
  padding: 3px 18px 3px 0;
  border-bottom: 1px solid var(--line);
  max-width: 320px;
  vertical-align: top;
}
</style>
