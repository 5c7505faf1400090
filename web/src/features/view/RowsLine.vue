<script setup lang="ts">
// One record as a line of cells; on a phone, as a compact entry.
import type { Field, Row, Table } from '@/api/types'
import CellEditor from '@/features/cell/CellEditor.vue'
import CellText from '@/features/cell/CellText.vue'
import { cellLook, lookClass, lookStyle } from '@/features/highlight/looks'
import { initialsOf, useOthers } from '@/features/tracker/presence'
import PressButton from '@/features/cell/PressButton.vue'
import { isRight, leadsTo } from '@/features/cell/kinds'
import type { ActivePlace } from './active'
import type { useCellEditing } from './cellEditing'

const props = defineProps<{
  row: Row
  table: Table
  tracker: number
  columns: Field[]
  at: ActivePlace
  cells: ReturnType<typeof useCellEditing>
  narrow: boolean
  /** Their list stands beside a folio. */
  beside: boolean
  may: (row: Row, field: Field) => boolean
  /** Where the fields that stay in sight stand, in CSS pixels from the left. */
  stays: number[]
  /** Whether a cell is one of those selected. */
  selected?: (column: number) => boolean
  /** Whether a cell is the last of what is selected: by its corner that is drawn on. */
  corner?: (column: number) => boolean
  /** Whether a cell would be filled. */
  filled?: (column: number) => boolean
  /** The field over which files are held that it would take. */
  takes?: number
  /** Whether words that are looked for stand in a cell. */
  isHit?: (record: number, field: number) => boolean
}>()
const emit = defineEmits<{ press: [event: MouseEvent, column: number]; focus: []; fill: [event: PointerEvent] }>()

/** Fields that a compact entry shows: as many as two lines have room for. */
const COMPACT_FIELDS = 4
const BESIDE_FIELDS = 3

const { editing, sending, commit, cancel } = props.cells
const isHere = (column: number) => props.at.cell.value?.record === props.row.id && props.at.column.value === column

/** Where a linked cell leads; on a phone an entry leads to its own record alone. */
const leads = (field: Field, column: number) => (props.narrow ? undefined : leadsTo(props.tracker, field, props.row.cells[column]))

/** Who else is in a cell, by their initials. */
const others = useOthers()
function theirs(field: number): string | undefined {
  const one = others.value.find((one) => one.table === props.table.id && one.record === props.row.id && one.field === field)
  return one && initialsOf(one.name)
}

/** What the choice that a dependent one depends on holds, where that is on the screen. */
function ground(field: Field): number | null | undefined {
  const on = field.kind.type === 'choice' ? field.kind.on : undefined
  const at = on == null ? -1 : props.columns.findIndex((f) => f.id === on)
  if (at < 0) return undefined
  const value = props.row.cells[at]?.value
  return typeof value === 'object' && 'choice' in value ? value.choice : null
}
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events -- the grid hears the keys of its cells -->
  <div
    v-for="(field, column) in columns"
    v-show="!narrow || column < (beside ? BESIDE_FIELDS : COMPACT_FIELDS)"
    :id="`cell-${row.id}-${column}`"
    :key="field.id"
    role="gridcell"
    class="cell"
    :class="{
      right: isRight(field) && !narrow,
      title: field.id === table.standing,
      number: field.kind.type === 'numbering',
      narrow,
      stays: column < stays.length,
      selected: selected?.(column),
      hit: isHit?.(row.id, field.id),
      there: !!theirs(field.id),
      filled: filled?.(column),
      ...lookClass(cellLook(row, field.id, column)),
    }"
    :style="{ left: column < stays.length ? `${stays[column]}px` : undefined, ...lookStyle(cellLook(row, field.id, column)) }"
    :data-field="field.name"
    :data-takes="field.id === takes || undefined"
    :data-there="theirs(field.id)"
    :data-active="isHere(column)"
    :aria-readonly="!may(row, field)"
    :aria-selected="selected?.(column) || undefined"
    @mousedown.prevent="emit('focus')"
    @click="emit('press', $event, column)"
  >
    <CellEditor
      v-if="editing && isHere(column)"
      :field="field"
      :cell="row.cells[column]"
      :start="editing.start"
      :on="ground(field)"
      :at="{ tracker, table: table.id, record: row.id }"
      :fault="editing.fault"
      :hold="editing.hold"
      @commit="commit"
      @cancel="cancel"
    />
    <PressButton
      v-else-if="field.kind.type === 'button'"
      :field="field"
      :at="{ tracker, table: table.id, record: row.id }"
      :may="!!row.change"
    />
    <span v-else-if="sending.typed(row.id, field.id)" class="underway">{{ sending.typed(row.id, field.id) }}</span>
    <span v-else-if="sending.refusedAt(row.id, field.id)" class="refused" :title="sending.refusedAt(row.id, field.id)?.fault">
      <b aria-label="refused">!</b> {{ sending.refusedAt(row.id, field.id)?.start ?? row.cells[column]?.text }}
    </span>
    <template v-else>
      <CellText :field="field" :cell="row.cells[column]" :look="cellLook(row, field.id, column)" />
      <router-link
        v-if="leads(field, column)"
        class="to"
        tabindex="-1"
        :to="leads(field, column)!.to"
        :aria-label="`Open ${leads(field, column)!.name}`"
        data-test="to-linked"
        @mousedown.stop
        @click.stop
      />
    </template>
    <i
      v-if="corner?.(column) && !editing"
      class="corner"
      title="Draw it on, down or across"
      data-test="fill-corner"
      aria-hidden="true"
      @mousedown.prevent.stop
      @click.stop
      @pointerdown.prevent.stop="emit('fill', $event)"
    />
    <span v-if="column === 0 && row.outside" class="mark" title="The view’s conditions leave this out; it stays until you move on"
      >left out here</span
    >
    <span v-else-if="column === 0 && row.form" class="form-mark" title="Came by a form" aria-label="came by a form">✉</span>
  </div>
</template>

<style scoped>
/* Somebody else is in it. */
.there:not(.stays) {
  position: relative;
  box-shadow: inset 0 0 0 2px var(--plum);
}
.there::after {
  content: attr(data-there);
  position: absolute;
  top: 0;
  right: 0;
  padding: 0 4px;
  background: var(--plum);
  color: var(--sheet);
  font-size: 12px;
  line-height: 16px;
}
.cell {
  padding: 0 10px;
  line-height: 32px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 13.5px;
  cursor: default;
  position: relative;
}
.cell :deep(.choice) {
  line-height: 1;
  padding-block: 3px;
}
.cell.selected {
  background: color-mix(in srgb, var(--moss) 13%, var(--sheet)) !important;
}
/* Under the words, since colour alone says nothing. */
.cell.hit {
  background: color-mix(in srgb, var(--gorse) 22%, var(--sheet)) !important;
  box-shadow: inset 0 -2px var(--gorse);
}
.cell.filled {
  box-shadow: inset 0 0 0 1px var(--copper);
}
.corner {
  position: absolute;
  right: 0;
  bottom: 0;
  width: 10px;
  height: 10px;
  background: linear-gradient(135deg, transparent 50%, var(--moss) 50%);
  cursor: crosshair;
  touch-action: none;
  z-index: 2;
}
.cell:has(.editor) {
  padding: 0;
  line-height: 1.4;
}
.stays {
  position: sticky;
  z-index: 1;
  background: var(--sheet);
}
.underway,
.number {
  color: var(--quiet);
}
.refused {
  color: var(--fault);
}
.right {
  text-align: right;
}
:global(.here > .cell:not(.narrow)) {
  background: var(--moss-soft);
}
.cell[data-takes] {
  outline: 2px dashed var(--moss);
  outline-offset: -2px;
}
.cell[data-active='true'] {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
:global(.outside > .cell:first-child) {
  box-shadow: inset 3px 0 var(--copper);
}
/* Over the end of the words, so that a cell does not grow with it; only for who is there. */
.to {
  position: absolute;
  inset: 0 0 0 auto;
  display: none;
  padding: 0 9px;
  color: var(--moss);
  background: inherit;
  text-decoration: none;
}
.to::before {
  /* Not in the cell's words, as they are read and copied. */
  content: '→';
}
.cell:not(.narrow):hover,
.cell[data-active='true']:not(.narrow) {
  background: var(--moss-soft);
}
.cell:hover > .to,
.cell[data-active='true'] > .to {
  display: block;
}
.mark {
  margin-left: 6px;
  font-size: 11.5px;
  color: var(--copper);
}
.form-mark {
  margin-left: 5px;
  color: var(--quiet);
  font-size: 11px;
}
.cell.narrow {
  padding: 0;
  line-height: 1.5;
  outline: 0;
  font-size: 13px;
  max-width: 100%;
}
/* An edge stands before the words. */
.cell.narrow.look-edge {
  padding-left: 7px;
}
.cell.narrow.title {
  flex-basis: 100%;
  font-weight: 600;
  font-size: 14.5px;
  color: var(--ink);
  order: -1;
}
</style>
