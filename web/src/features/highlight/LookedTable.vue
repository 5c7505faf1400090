<script setup lang="ts">
// The records that highlights act on, as they make them look; in the margin, by which.
import type { Row, Table } from '@/api/types'
import LookedCells from './LookedCells.vue'

defineProps<{
  table: Table
  fields: number[]
  rows: Row[]
  /** The highlight that is pointed at, by its number. */
  pointed: number | undefined
  /** The one that is being written. */
  writing: number | undefined
}>()
const emit = defineEmits<{ point: [number: number]; why: [record: number, field: number, event: MouseEvent] }>()
</script>

<template>
  <div class="looked" tabindex="0" role="region" :aria-label="`${table.name} as they look`">
    <table data-test="looked">
      <thead>
        <tr>
          <th scope="col">by</th>
          <th v-for="id in fields" :key="id" scope="col">{{ table.fields.find((one) => one.id === id)?.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id" :data-record="row.id" :class="{ pointed: !!pointed && row.looks?.by.includes(pointed) }">
          <td class="by">
            <button
              v-for="number in row.looks?.by"
              :key="number"
              type="button"
              :class="{ writing: number === writing }"
              :aria-label="`by highlight ${number}`"
              @click="emit('point', number)"
              >{{ number }}</button
            >
          </td>
          <LookedCells :table="table" :fields="fields" :row="row" @why="(field, event) => emit('why', row.id, field, event)" />
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.looked {
  overflow: auto;
  max-height: calc(100vh - 250px);
  background: var(--sheet);
  border: 1px solid var(--line);
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 13.5px;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--stone);
  text-align: left;
  font-size: 12.5px;
  padding: 6px 8px;
  border-bottom: 1px solid var(--line-strong);
  white-space: nowrap;
  z-index: 1;
}
tbody tr {
  border-bottom: 1px solid color-mix(in srgb, var(--line) 60%, transparent);
}
tbody tr.pointed {
  background: var(--moss-soft);
}
.by {
  text-align: right;
  white-space: nowrap;
  border-right: 1px solid var(--line);
  width: 52px;
}
.by button {
  border: 0;
  background: none;
  cursor: pointer;
  font-weight: 600;
  color: var(--quiet);
  min-width: 24px;
  min-height: 24px;
  padding: 0 3px;
}
.by .writing {
  color: var(--copper);
}
@media (max-width: 900px) {
  .looked {
    max-height: 60vh;
  }
}
@media (pointer: coarse) {
  .by button {
    min-height: 40px;
    min-width: 40px;
  }
}
</style>
