<script setup lang="ts">
// A record in its lane: how many days it has stood there hang before it, and everything it shows is edited in place.
import { computed } from 'vue'
import type { Field, Row, Table } from '@/api/types'
import CellEditor from '@/features/cell/CellEditor.vue'
import CellText from '@/features/cell/CellText.vue'
import { lookClass, lookOf, lookStyle } from '@/features/highlight/looks'
import type { ActivePlace } from '../active'
import type { useCellEditing } from '../cellEditing'

const props = defineProps<{
  row: Row
  table: Table
  tracker: number
  columns: Field[]
  at: ActivePlace
  cells: ReturnType<typeof useCellEditing>
  /** Its days are more than its lane’s. */
  past: boolean
  chosen: boolean
  /** It shows its name alone. */
  bare?: boolean
  carried: boolean
  /** Whether it can be moved. */
  moves: boolean
}>()
const emit = defineEmits<{ press: [event: MouseEvent, column: number]; focus: []; move: []; open: [] }>()

const { editing, sending, commit, cancel } = props.cells
const isHere = (column: number) => props.at.cell.value?.record === props.row.id && props.at.column.value === column
const here = computed(() => props.at.cell.value?.record === props.row.id)
const title = computed(() => {
  const named = props.columns.findIndex((field) => field.id === props.table.standing)
  return named < 0 ? 0 : named
})
/** The title first; then what holds something, and what one is at. */
const shown = computed(() =>
  [title.value, ...(props.bare ? [] : props.columns.keys())].filter((column, n) => {
    if (n && column === title.value) return false
    const worded = !!lookOf(props.row, props.columns[column]!.id)?.word
    return (
      !n || worded || !!props.row.cells[column] || isHere(column) || sending.typed(props.row.id, props.columns[column]!.id) !== undefined
    )
  }),
)
const said = (column: number) => sending.refusedAt(props.row.id, props.columns[column]!.id)
</script>

<template>
  <div
    class="entry"
    :class="[{ here, chosen, carried, bare, outside: row.outside }, lookClass(row.looks?.whole)]"
    :style="lookStyle(row.looks?.whole)"
    role="listitem"
    :aria-label="row.cells[title]?.text"
    :aria-description="row.looks?.says"
  >
    <b class="days" :class="{ past }" :title="row.days == null ? undefined : `${row.days} days in this lane`">
      <span v-if="row.days != null">{{ row.days }}<span class="d-sr-only"> days in this lane</span></span>
      <span v-if="chosen" class="tick" aria-label="chosen">✓</span>
    </b>
    <img
      v-if="row.pictures?.length"
      class="picture"
      :src="`/api/files/${row.pictures[0]!.id}?small=true`"
      :alt="row.pictures[0]!.name"
      loading="lazy"
    />
    <div class="what">
      <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events, vuejs-accessibility/no-static-element-interactions -- the board hears the keys of its entries -->
      <div
        v-for="column in shown"
        :id="`cell-${row.id}-${column}`"
        :key="columns[column]!.id"
        class="cell"
        :class="[{ title: column === title }, lookClass(lookOf(row, columns[column]!.id))]"
        :style="lookStyle(lookOf(row, columns[column]!.id))"
        :title="column === title ? undefined : columns[column]!.name"
        :data-field="columns[column]!.name"
        :data-active="isHere(column)"
        @mousedown="isHere(column) && emit('focus')"
        @click.stop="emit('press', $event, column)"
      >
        <CellEditor
          v-if="editing && isHere(column)"
          :field="columns[column]!"
          :cell="row.cells[column]"
          :start="editing.start"
          :at="{ tracker, table: table.id, record: row.id }"
          :fault="editing.fault"
          :hold="editing.hold"
          @commit="commit"
          @cancel="cancel"
        />
        <span v-else-if="sending.typed(row.id, columns[column]!.id)" class="underway">{{
          sending.typed(row.id, columns[column]!.id)
        }}</span>
        <span v-else-if="said(column)" class="refused" :title="said(column)?.fault"
          ><b aria-label="refused">!</b> {{ said(column)?.start ?? row.cells[column]?.text }}</span
        >
        <CellText
          v-else-if="row.cells[column] || lookOf(row, columns[column]!.id)?.word"
          :field="columns[column]!"
          :cell="row.cells[column]"
          :look="lookOf(row, columns[column]!.id)"
        />
        <span v-else class="none">{{ columns[column]!.within }}</span>
      </div>
      <span v-if="row.outside" class="mark">left out here</span>
    </div>
    <span class="acts">
      <button
        v-if="moves"
        type="button"
        tabindex="-1"
        data-test="move"
        :aria-label="`Move ${row.cells[title]?.text}`"
        @click.stop="emit('move')"
        >move</button
      >
      <button type="button" tabindex="-1" class="open" :aria-label="`Open ${row.cells[title]?.text}`" @click.stop="emit('open')">→</button>
    </span>
  </div>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr);
  gap: 0 9px;
  padding: 7px 10px 7px 7px;
  border-bottom: 1px solid color-mix(in srgb, var(--line) 60%, transparent);
  border-left: 3px solid transparent;
  position: relative;
  background: var(--sheet);
  cursor: default;
}
.days {
  font: 500 14px/19px var(--sans);
  text-align: right;
  color: var(--quiet);
  font-variant-numeric: tabular-nums;
}
.past {
  color: var(--fault);
  font-weight: 600;
}
.tick {
  display: block;
  color: var(--moss);
}
.picture {
  grid-column: 2;
  width: 100%;
  max-height: 110px;
  object-fit: cover;
}
.picture + .what {
  grid-column: 2;
}
.what {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: center;
  font-size: 12.5px;
  line-height: 17px;
  color: var(--quiet);
}
.cell {
  max-width: 100%;
  overflow-wrap: anywhere;
  border-radius: 2px;
}
.cell.title {
  flex-basis: 100%;
  font-size: 13.5px;
  font-weight: 600;
  line-height: 19px;
  color: var(--ink);
}
.cell:has(.editor) {
  flex-basis: 100%;
  color: var(--ink);
}
.cell[data-active='true'] {
  outline: 2px solid var(--moss);
  outline-offset: 1px;
}
.cell :deep(.choice) {
  color: var(--ink);
}
.none {
  font-style: italic;
}
.here,
.chosen {
  background: var(--moss-soft);
}
.carried {
  opacity: 0.55;
}
.outside {
  border-left-color: var(--copper);
}
.underway {
  color: var(--quiet);
}
.refused {
  color: var(--fault);
}
.mark {
  color: var(--copper);
  font-size: 11.5px;
}
.acts {
  position: absolute;
  top: 4px;
  right: 4px;
  display: none;
  background: inherit;
  padding-left: 6px;
}
.entry:hover > .acts,
.here > .acts {
  display: flex;
  gap: 4px;
}
.acts button {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  font-size: 12.5px;
  padding: 2px 4px;
  min-height: 24px;
}
/* In a narrow lane the ways stand beneath the name. */
.entry.bare {
  grid-template-columns: 22px minmax(0, 1fr);
  gap: 0 6px;
  padding-right: 6px;
}
@media (max-width: 700px), (hover: none) {
  .entry {
    padding-right: 96px;
  }
  .acts,
  .entry:hover > .acts {
    display: flex;
    top: 6px;
  }
  .acts button {
    min-height: 44px;
    min-width: 40px;
  }
  .bare > .acts,
  .entry.bare:hover > .acts {
    position: static;
    grid-column: 2;
    padding: 0;
  }
}
</style>
