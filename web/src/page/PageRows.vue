<script setup lang="ts">
// Records of a shared page as rows, with the heads of their groups; white is what may be written, and is written in place.
import { computed, reactive } from 'vue'
import type { Input, PageRow, PageRows, PageTable } from '@/api/types'
import LookMark from '@/features/highlight/LookMark.vue'
import { cellLook, lookClass, lookStyle } from '@/features/highlight/looks'
import { usePage } from './asking'
import { linesOf } from './groups'
import { filesIn } from './cells'
import PageCell from './PageCell.vue'
import PageHead from './PageHead.vue'
import PageShown from './PageShown.vue'

const props = defineProps<{ part: PageTable; told: PageRows }>()
const emit = defineEmits<{ open: [row: PageRow]; again: [] }>()
const page = usePage()
const lines = computed(() => linesOf(props.told))

/** What was kept just now and what is wrong, by record and field. */
const kept = reactive<Record<string, string>>({})
const faults = reactive<Record<string, string>>({})
async function keep(row: PageRow, n: number, input: Input) {
  const field = props.part.columns[n]!.field
  const spot = `${row.id}:${field}`
  const was = row.cells[n]?.value ?? ('empty' as const)
  const answer = await page.post<{ kept: string }>(`/parts/${props.part.number}/records/${row.id}`, { edits: [{ field, input, was }] })
  delete kept[spot]
  delete faults[spot]
  if (answer.ok) kept[spot] = answer.body.kept
  else faults[spot] = answer.faults[0]?.message ?? answer.says
  // After a clash one sees what stands there, and can put it again.
  emit('again')
}

/** How a cell looks: the record’s ground lies under each. */
const lookAt = (row: PageRow, n: number) => cellLook(row, props.part.columns[n]!.field, n)
const name = (row: PageRow) => row.cells.find((cell) => cell?.text)?.text ?? props.part.one
const labelOf = (row: PageRow, n: number) => `${props.part.columns[n]!.name} of ${name(row)}`
const writes = (row: PageRow, n: number) => row.change && !!props.part.columns[n]!.question
</script>

<template>
  <div class="wide">
    <table>
      <thead>
        <tr>
          <th
            v-for="column in part.columns"
            :key="column.field"
            scope="col"
            :class="{ figures: column.figures }"
            :title="column.help || undefined"
          >
            {{ column.name }}
          </th>
        </tr>
      </thead>
      <tbody>
        <template v-for="line in lines" :key="line.key">
          <tr v-if="line.group" class="head" :class="`depth-${line.depth}`">
            <th scope="rowgroup" :colspan="part.columns.length"><PageHead :group="line.group" :figures="part.figures" /></th>
          </tr>
          <tr v-else :aria-description="line.row.looks?.says">
            <td
              v-for="(column, n) in part.columns"
              :key="column.field"
              :class="{ figures: column.figures, white: writes(line.row, n), ...lookClass(lookAt(line.row, n)) }"
              :style="lookStyle(lookAt(line.row, n))"
              :data-name="column.name"
            >
              <LookMark :look="lookAt(line.row, n)" />
              <PageCell
                v-if="writes(line.row, n)"
                :column="column"
                :cell="line.row.cells[n]"
                :label="labelOf(line.row, n)"
                :kept="kept[`${line.row.id}:${column.field}`]"
                :fault="faults[`${line.row.id}:${column.field}`]"
                @keep="keep(line.row, n, $event)"
                @open="emit('open', line.row)"
              />
              <button
                v-else-if="n === 0 && !filesIn(line.row.cells[n]).length"
                type="button"
                class="record"
                :class="{ short: (line.row.cells[n]?.text.length ?? 0) < 15 }"
                @click="emit('open', line.row)"
                >{{ line.row.cells[n]?.text || part.one }}</button
              >
              <PageShown v-else :cell="line.row.cells[n]" :column="column" />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 14px;
}
thead th {
  padding: 6px 12px 6px 0;
  text-align: left;
  font-size: 12.5px;
  color: var(--quiet);
  border-bottom: 1px solid var(--line-strong);
  white-space: nowrap;
}
.head th {
  padding: 14px 0 4px;
  text-align: left;
  font-weight: inherit;
  border-bottom: 1px solid var(--line-strong);
}
.head.depth-1 th {
  padding-left: 18px;
}
.head.depth-2 th {
  padding-left: 36px;
}
td {
  padding: 0 12px 0 0;
  height: 41px;
  border-bottom: 1px solid var(--line);
}
td.white + td:not(.white) {
  padding-left: 12px;
}
td.white {
  padding: 0;
  background: var(--sheet);
  border: 1px solid var(--line);
}
td.look-edge {
  padding-left: 9px;
}
/* A sign stands before what it is said of. */
td > .look-sign + * {
  display: inline;
}
.figures {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
thead th.figures {
  text-align: right;
}
.record {
  border: 0;
  background: none;
  padding: 0;
  min-height: 40px;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.record.short {
  white-space: nowrap;
}
.record:hover {
  text-decoration: underline;
}
@media (max-width: 760px) {
  thead {
    display: none;
  }
  table,
  tbody,
  tr,
  td,
  .head th {
    display: block;
  }
  tr:not(.head) {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
    gap: 2px 12px;
    padding: 12px 0;
    border-bottom: 1px solid var(--line-strong);
  }
  td.white,
  td:first-child {
    grid-column: 1 / -1;
  }
  td,
  td.white,
  td.white + td:not(.white) {
    height: auto;
    padding: 3px 0;
    border: 0;
    background: none;
    text-align: left;
  }
  td:first-child {
    font-weight: 600;
    font-size: 16px;
  }
  td:not(:first-child)::before {
    content: attr(data-name);
    display: block;
    font-size: 12.5px;
    font-weight: 400;
    color: var(--quiet);
  }
  td.figures {
    text-align: left;
  }
  td:not(.white, :first-child):empty,
  td:not(.white, :first-child):has(.text:empty) {
    display: none;
  }
  .record {
    min-height: 44px;
  }
}
</style>
