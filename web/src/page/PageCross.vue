<script setup lang="ts">
// A cross-tab of a shared page: figures by what records have in common, down and across, totals last.
import { computed, ref, watch } from 'vue'
import type { Condition, PageCrossed, PageTable } from '@/api/types'
import { usePage } from './asking'

const props = defineProps<{ part: PageTable; condition: Condition; looks: number }>()
const page = usePage()
const told = ref<PageCrossed>()
const trouble = ref('')

let asked = 0
async function read() {
  const mine = ++asked
  const answer = await page.post<PageCrossed>(`/parts/${props.part.number}/crossed`, { condition: props.condition })
  if (mine !== asked) return
  if (answer.ok) told.value = answer.body
  trouble.value = answer.ok ? '' : (answer.faults[0]?.message ?? answer.says)
}
watch(() => [props.condition, props.looks], read, { immediate: true, deep: true })

type Cell = PageCrossed['cells'][number][number]
const hueOf = (part: { hue?: string | null }) => (part.hue ? `var(--${part.hue})` : 'var(--quiet)')
/** What is told apart within a cell, in words: *3 reported, 2 in hand*. */
function apart(cell: Cell | undefined) {
  const parts = (told.value?.within ?? []).flatMap((part, n) => (cell?.within?.[n] ? [`${cell.within[n]} ${part.text}`] : []))
  return parts.join(', ') || undefined
}
const cellsOf = (row: number) => columns.value.map((column): [number, Cell | undefined] => [column, told.value?.cells[row]?.[column]])

/** Places in order, the total behind the others. */
const totalsLast = (all: unknown[]) => [...all.keys()].slice(1).concat(0)
const rows = computed(() => totalsLast(told.value?.rows ?? []))
const columns = computed(() => totalsLast(told.value?.columns ?? []))
</script>

<template>
  <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  <div v-else-if="told && told.rows.length > 1" class="wide" tabindex="0" role="region" aria-label="The figures, to be scrolled">
    <table>
      <thead>
        <tr>
          <td />
          <th
            v-for="column in columns"
            :key="column"
            scope="col"
            :class="{ within: told.columns[column]!.depth > 1, all: column === 0, hued: told.columns[column]!.hue }"
            :style="{ '--hue': `var(--${told.columns[column]!.hue})` }"
            >{{ told.columns[column]!.text }}</th
          >
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row" :class="{ all: row === 0 }">
          <th
            scope="row"
            :class="{ within: told.rows[row]!.depth > 1, hued: told.rows[row]!.hue }"
            :style="{ '--hue': `var(--${told.rows[row]!.hue})` }"
            >{{ told.rows[row]!.text }}</th
          >
          <td v-for="[column, cell] in cellsOf(row)" :key="column" :class="{ all: column === 0 }" :title="apart(cell)">
            <template v-if="cell">
              <b>{{ cell.text }}</b>
              <span v-if="cell.length" class="bar" :style="{ width: `${Number(cell.length) * 100}%` }">
                <i v-for="(one, n) in told.within" :key="n" :style="{ flexGrow: cell.within?.[n] ?? 0, '--hue': hueOf(one) }" />
              </span>
              <span v-for="also in cell.also" :key="also" class="also">{{ also }}</span>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="told?.within.length" class="legend">
    <span v-for="(one, n) in told.within" :key="n" :style="{ '--hue': hueOf(one) }">{{ one.text }}</span>
  </p>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  font-size: 14px;
}
th,
td {
  padding: 6px 14px 6px 0;
  text-align: right;
  vertical-align: top;
  border-bottom: 1px solid var(--line);
}
thead th {
  font-size: 12.5px;
  color: var(--quiet);
  border-bottom-color: var(--line-strong);
}
thead .hued {
  border-top: 3px solid var(--hue);
}
tbody th {
  white-space: nowrap;
  position: sticky;
  left: 0;
  background: var(--stone);
  text-align: left;
  font-weight: inherit;
}
tbody .hued {
  padding-left: 8px;
  border-left: 3px solid var(--hue);
}
tbody .within {
  padding-left: 20px;
}
td {
  min-width: 64px;
  font-variant-numeric: tabular-nums;
}
b {
  display: block;
  font-weight: inherit;
}
tr.all > *,
.all {
  font-weight: 600;
}
tr.all > * {
  border-top: 1px solid var(--line-strong);
}
.bar {
  display: flex;
  height: 4px;
  margin-left: auto;
  background: var(--quiet);
}
.bar i {
  flex: 0 1 0;
  background: var(--hue);
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin: 8px 0 0;
  font-size: 13px;
}
.legend span {
  padding-left: 8px;
  border-left: 3px solid var(--hue);
}
.also {
  display: block;
  font-size: 12.5px;
  font-weight: 400;
  color: var(--quiet);
}
</style>
