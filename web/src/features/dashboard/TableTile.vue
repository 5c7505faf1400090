<script setup lang="ts">
// A cross-tab as a small table: its totals last, as at the foot of a report; each figure opens its records.
import { computed } from 'vue'
import type { Crossed } from '@/api/types'
import { readsOf } from '@/features/view/crosstab/crossing'

const props = defineProps<{ crossed: Crossed; byFigure: boolean }>()
const emit = defineEmits<{ cell: [row: number, column: number] }>()
const last = (count: number) => Array.from({ length: count }, (_, n) => (n + 1) % count)
const rows = computed(() => last(props.crossed.rows.length))
const columns = computed(() => last(props.crossed.columns.length))
const at = (row: number, column: number) => props.crossed.cells[row]?.[column]
</script>

<template>
  <div class="sheet">
    <table>
      <thead>
        <tr>
          <th scope="col"><span class="unseen">by</span></th>
          <th
            v-for="column in columns"
            :key="column"
            scope="col"
            :class="{ hued: crossed.columns[column]!.hue, inner: crossed.columns[column]!.depth === 2 }"
            :style="crossed.columns[column]!.hue ? { '--hue': `var(--${crossed.columns[column]!.hue})` } : undefined"
            >{{ crossed.columns[column]!.text }}</th
          >
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row" :class="{ all: row === 0, inner: crossed.rows[row]!.depth === 2 }">
          <th scope="row">{{ crossed.rows[row]!.text }}</th>
          <td v-for="column in columns" :key="column" :class="{ total: column === 0 }">
            <button v-if="at(row, column)" type="button" @click="emit('cell', row, column)">{{
              readsOf(at(row, column)!, byFigure).lead
            }}</button>
            <span v-else class="quiet">–</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.sheet {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 14px;
}
th {
  text-align: left;
  font-weight: 400;
  padding: 5px 8px 5px 0;
}
thead th {
  font-size: 13px;
  color: var(--quiet);
  border-bottom: 1px solid var(--line-strong);
  vertical-align: bottom;
}
thead th + th {
  text-align: right;
  padding: 4px 0 4px 8px;
}
.hued::before {
  content: '';
  display: block;
  height: 3px;
  margin-bottom: 4px;
  background: var(--hue);
}
td {
  text-align: right;
  padding: 2px 0 2px 8px;
  font-variant-numeric: tabular-nums;
}
td button {
  border: 0;
  background: none;
  padding: 3px 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
}
td button:hover {
  color: var(--moss);
  text-decoration: underline;
}
tbody tr {
  border-bottom: 1px solid var(--line);
}
.inner th {
  padding-left: 14px;
}
.total,
.all th,
.all td {
  font-weight: 600;
}
</style>
