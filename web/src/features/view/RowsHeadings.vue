<script setup lang="ts">
// The fields' names over the rows. Each opens the slip of its field: what is in it, and what can be done with it.
import { computed, ref } from 'vue'
import type { Field, Query } from '@/api/types'
import { facts, isRight } from '@/features/cell/kinds'
import type { SlipPlace } from './slip'

const props = defineProps<{
  columns: Field[]
  /** Widths of the fields, as grid columns. */
  template: string
  width: number
  /** The field whose slip is open. */
  open: Field | undefined
  /** What the view shows, and in which order. */
  query: Query
  /** Where the fields that stay in sight stand, in CSS pixels from the left. */
  stays: number[]
  /** The heading one is at. */
  here: number | undefined
}>()
const emit = defineEmits<{
  slip: [at: SlipPlace]
  /** A field is drawn so wide, in CSS pixels. */
  widen: [field: number, width: number]
  /** A field is drawn as wide as what stands in it. */
  fit: [field: number]
  /** The fields, in another order. */
  order: [fields: number[]]
}>()

/** As wide as the slip is, in CSS pixels. */
const SLIP = 532

const headings = ref<HTMLElement>()

/** The slip hangs beside its column, so that the cells stay in sight: behind it, or before it where there is no room. */
function openAt(column: number) {
  const field = props.columns[column]
  const heading = headings.value?.querySelector(`#heading-${column}`)?.getBoundingClientRect()
  if (!field || !heading) return
  const x = heading.right + SLIP < innerWidth ? heading.right : Math.max(8, heading.left - SLIP)
  emit('slip', { field, x, y: heading.bottom })
}

/** The edge that is dragged: of which field, from where, and how wide it was. */
const dragged = ref<{ field: number; from: number; width: number }>()

function grip(event: PointerEvent, field: Field) {
  const heading = (event.currentTarget as HTMLElement).parentElement
  if (!heading) return
  dragged.value = { field: field.id, from: event.clientX, width: heading.getBoundingClientRect().width }
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}

function pull(event: PointerEvent) {
  const now = dragged.value
  if (now) emit('widen', now.field, now.width + event.clientX - now.from)
}

/** The heading that is carried to another place. */
const carried = ref<number>()
const over = ref<number>()

function drop(at: number) {
  const from = carried.value
  carried.value = over.value = undefined
  if (from === undefined || from === at) return
  const next = props.columns.map((field) => field.id)
  const [moved] = next.splice(from, 1)
  if (moved !== undefined) next.splice(at, 0, moved)
  emit('order', next)
}

/** By keys: with Alt a heading grows and shrinks, with Shift it goes to another place. */
function keys(event: KeyboardEvent) {
  const at = props.here
  const field = at === undefined ? undefined : props.columns[at]
  const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (at === undefined || !field || !event.altKey || !by) return false
  const width = headings.value?.querySelector(`#heading-${at}`)?.getBoundingClientRect().width ?? 0
  if (!event.shiftKey) emit('widen', field.id, width + by * 16)
  else if (props.columns[at + by]) {
    carried.value = at
    drop(at + by)
  }
  return true
}
defineExpose({ openAt, keys })

const into = computed(() => (carried.value !== undefined && over.value !== undefined && over.value > carried.value ? 'behind' : 'before'))

function order(field: Field) {
  const sort = props.query.sorts?.[0]
  if (sort?.field !== field.id) return undefined
  return sort.descending ? 'descending' : 'ascending'
}
</script>

<template>
  <div ref="headings" class="headings" role="row" aria-rowindex="1" :style="{ gridTemplateColumns: template, width: `${width}px` }">
    <div role="columnheader" class="corner" aria-label="Place" />
    <div
      v-for="(field, column) in columns"
      :id="`heading-${column}`"
      :key="field.id"
      role="columnheader"
      :class="{ right: isRight(field), here: here === column, stays: column < stays.length, open: open?.id === field.id }"
      :style="{ left: column < stays.length ? `${stays[column]}px` : undefined }"
      :data-active="here === column"
      :aria-sort="order(field)"
      :title="field.help || undefined"
      draggable="true"
      :data-into="over === column && carried !== column ? into : undefined"
      @dragstart="carried = column"
      @dragend="carried = over = undefined"
      @dragover.prevent="over = column"
      @drop.prevent="drop(column)"
    >
      <v-icon :icon="facts(field).icon" size="14" class="kind" aria-hidden="true" />
      <button tabindex="-1" :data-heading="field.name" @click="openAt(column)">{{ field.name }}</button>
      <!-- For the pointer alone: by keys it is Alt with the arrows. -->
      <span
        class="grip"
        aria-hidden="true"
        :data-grip="field.name"
        draggable="true"
        @dragstart.prevent.stop
        @pointerdown.prevent.stop="grip($event, field)"
        @pointermove="pull"
        @pointerup="dragged = undefined"
        @pointercancel="dragged = undefined"
        @dblclick.stop="emit('fit', field.id)"
      />
    </div>
  </div>
</template>

<style scoped>
.headings {
  display: grid;
  position: sticky;
  top: 0;
  z-index: 3;
  background: var(--sheet);
  border-bottom: 1px solid var(--line-strong);
  color: var(--quiet);
  font-size: 12.5px;
  min-width: 100%;
}
.headings > div {
  padding: 7px 10px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  display: flex;
  align-items: center;
}
.headings > .stays {
  position: sticky;
  z-index: 1;
  background: var(--sheet);
}
.headings > .corner {
  position: sticky;
  left: 0;
  z-index: 2;
  padding: 0;
  background: var(--sheet);
}
.headings > .here {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
.kind {
  flex: none;
  margin-right: 5px;
  opacity: 0.75;
}
.headings > div {
  position: relative;
}
.grip {
  position: absolute;
  inset: 0 0 0 auto;
  width: 9px;
  cursor: col-resize;
  touch-action: none;
}
.grip:hover {
  border-right: 2px solid var(--moss);
}
.headings > [data-into='before'] {
  box-shadow: inset 2px 0 var(--copper);
}
.headings > [data-into='behind'] {
  box-shadow: inset -2px 0 var(--copper);
}
.headings > .right {
  justify-content: flex-end;
}
.headings > div > button {
  font: inherit;
  color: inherit;
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  overflow: hidden;
  text-overflow: ellipsis;
}
.headings > div > button:hover {
  color: var(--ink);
  text-decoration: underline;
}
</style>
