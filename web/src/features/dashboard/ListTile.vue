<script setup lang="ts">
// The first records of a view: what names each, what else is told of it beneath, and the last figure at the edge.
import { computed } from 'vue'
import type { Row, TileReply } from '@/api/types'

const props = defineProps<{ told: TileReply; tracker: number; table: number }>()
/** A number or a day stands at the edge; else everything but the name stands beneath. */
const edge = computed(() => {
  const at = props.told.fields.length - 1
  const [first] = props.told.rows
  const value = first?.cells[at]?.value
  return at > 0 && typeof value === 'object' && ('number' in value || 'date' in value) ? at : -1
})
const beneath = (row: Row) => row.cells.flatMap((cell, n) => (n === 0 || n === edge.value || !cell?.text ? [] : [cell.text])).join(', ')
</script>

<template>
  <ol>
    <li v-for="row in told.rows" :key="row.id">
      <router-link :to="{ name: 'record', params: { tracker, table, record: row.id } }">
        <span>{{ row.cells[0]?.text || 'without a name' }}</span>
        <span class="quiet">{{ beneath(row) }}</span>
      </router-link>
      <b v-if="edge > 0" :title="told.names[edge]">{{ row.cells[edge]?.text }}</b>
    </li>
    <li v-if="!told.rows.length" class="quiet">There is none.</li>
  </ol>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  align-items: center;
  gap: var(--gap-3);
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
  font-size: 14px;
}
a {
  display: grid;
  flex: 1;
  min-width: 0;
  color: inherit;
  text-decoration: none;
}
a:hover span:first-child {
  color: var(--moss);
  text-decoration: underline;
}
.quiet {
  font-size: 13px;
}
b {
  font: 600 17px/1.2 var(--serif);
  font-variant-numeric: tabular-nums;
}
</style>
