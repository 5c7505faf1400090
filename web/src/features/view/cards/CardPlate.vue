<script setup lang="ts">
// One record as a plate: its picture, and beneath it what is said of it, label left and value right, edited in place.
import { computed } from 'vue'
import type { CardsShape, Field, Row, Table } from '@/api/types'
import CellEditor from '@/features/cell/CellEditor.vue'
import CellText from '@/features/cell/CellText.vue'
import { lookClass, lookOf, lookStyle } from '@/features/highlight/looks'
import type { ActivePlace } from '../active'
import type { useCellEditing } from '../cellEditing'
import { contours } from './cards'
import DrawnLine from './DrawnLine.vue'

const props = defineProps<{
  row: Row
  table: Table
  tracker: number
  columns: Field[]
  at: ActivePlace
  cells: ReturnType<typeof useCellEditing>
  shape: CardsShape
  /** The longest that is drawn of all. */
  longest?: number
  readonly: boolean
  /** It is chosen. */
  picked: boolean
}>()
const emit = defineEmits<{ press: [event: MouseEvent, column: number]; focus: []; open: [] }>()

const { editing, sending, commit, cancel } = props.cells
const isHere = (column: number) => props.at.cell.value?.record === props.row.id && props.at.column.value === column
const here = computed(() => props.at.cell.value?.record === props.row.id)
const title = computed(() => {
  const named = props.columns.findIndex((field) => field.id === props.table.standing)
  return named < 0 ? 0 : named
})
const pictureAt = computed(() => props.columns.findIndex((field) => field.id === props.shape.picture))
const pictures = computed(() => props.row.pictures ?? [])
const said = computed(() => [...props.columns.keys()].filter((column) => column !== title.value && column !== pictureAt.value))
const refused = (column: number) => sending.refusedAt(props.row.id, props.columns[column]!.id)
</script>

<template>
  <article
    class="plate"
    :class="[{ here, picked, outside: row.outside }, lookClass(row.looks?.whole)]"
    :style="lookStyle(row.looks?.whole)"
    :aria-label="row.cells[title]?.text"
    :aria-current="picked || undefined"
    :aria-description="row.looks?.says"
  >
    <button type="button" class="face" tabindex="-1" :aria-label="`Open ${row.cells[title]?.text}`" @click.stop="emit('open')">
      <template v-if="pictures.length">
        <img
          v-for="picture in pictures"
          :key="picture.id"
          :src="`/api/files/${picture.id}?small=true`"
          :alt="picture.name"
          loading="lazy"
          :class="shape.fit === 'whole' ? 'whole' : 'cropped'"
        />
      </template>
      <svg v-else viewBox="0 0 160 100" preserveAspectRatio="xMidYMid slice" aria-hidden="true">
        <path v-for="(one, n) in contours(row.id)" :key="n" :d="one" />
      </svg>
    </button>
    <DrawnLine v-if="row.drawn" :drawn="row.drawn" :longest="longest" />
    <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events, vuejs-accessibility/no-static-element-interactions -- the catalogue hears the keys of its cards -->
    <div
      v-for="column in [title, ...said]"
      :id="`cell-${row.id}-${column}`"
      :key="columns[column]!.id"
      class="cell"
      :class="{ title: column === title }"
      :data-field="columns[column]!.name"
      :data-active="isHere(column)"
      @mousedown="isHere(column) && emit('focus')"
      @click.stop="emit('press', $event, column)"
    >
      <span v-if="column !== title" class="label">{{ columns[column]!.name }}</span>
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
      <span
        v-else
        class="value"
        :class="[{ refused: !!refused(column) }, lookClass(lookOf(row, columns[column]!.id))]"
        :style="lookStyle(lookOf(row, columns[column]!.id))"
        :title="refused(column)?.fault"
      >
        <template v-if="sending.typed(row.id, columns[column]!.id) !== undefined">{{
          sending.typed(row.id, columns[column]!.id)
        }}</template>
        <template v-else-if="refused(column)"><b aria-label="refused">!</b> {{ refused(column)?.start }}</template>
        <CellText v-else :field="columns[column]!" :cell="row.cells[column]" :look="lookOf(row, columns[column]!.id)" />
      </span>
    </div>
    <span v-if="row.outside" class="mark">left out here</span>
  </article>
</template>

<style scoped>
.plate {
  min-width: 0;
  padding-bottom: var(--gap-3);
}
.picked {
  outline: 2px solid var(--moss);
  background: var(--moss-soft);
}
.here {
  outline: 2px solid var(--moss);
  outline-offset: 4px;
  background: var(--moss-soft);
}
.face {
  display: block;
  width: 100%;
  aspect-ratio: 16 / 10;
  border: 0;
  padding: 0;
  background: color-mix(in srgb, var(--line) 40%, var(--stone));
  cursor: pointer;
  overflow: hidden;
}
/* Several stand side by side, each as wide as the others. */
.face:has(img) {
  display: flex;
  gap: 2px;
}
.face img {
  flex: 1 1 0;
  min-width: 0;
  width: 100%;
  height: 100%;
  display: block;
}
.cropped {
  object-fit: cover;
}
.whole {
  object-fit: contain;
}
.face svg {
  width: 100%;
  height: 100%;
  display: block;
}
.face path {
  fill: none;
  stroke: var(--line-strong);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}
.cell {
  display: flex;
  gap: var(--gap-3);
  align-items: baseline;
  border-bottom: 1px solid color-mix(in srgb, var(--line) 70%, transparent);
  padding: 3px 0;
  font-size: 13px;
  min-height: 26px;
}
.cell.title {
  font-weight: 600;
  font-size: 14.5px;
  line-height: 1.35;
  padding-top: 6px;
}
.cell[data-active='true'] {
  outline: 2px solid var(--moss);
}
.label {
  color: var(--quiet);
  font-size: 12.5px;
  flex: none;
}
.value {
  margin-left: auto;
  text-align: right;
  overflow-wrap: anywhere;
  min-width: 0;
}
.title .value {
  margin: 0;
  text-align: left;
}
.refused {
  color: var(--fault);
}
.outside {
  border-left: 3px solid var(--copper);
  padding-left: 6px;
}
.mark {
  color: var(--copper);
  font-size: 11.5px;
}
</style>
