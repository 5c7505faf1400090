<script setup lang="ts">
// The fields' names over the rows. Each opens the slip of its field: what is in it, and what can be done with it.
import { ref } from 'vue'
import type { Field, Query } from '@/api/types'
import { isRight } from '@/features/cell/kinds'
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
const emit = defineEmits<{ slip: [at: SlipPlace] }>()

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
defineExpose({ openAt })

function order(field: Field) {
  const sort = props.query.sorts?.[0]
  if (sort?.field !== field.id) return undefined
  return sort.descending ? 'descending' : 'ascending'
}
</script>

<template>
  <div ref="headings" class="headings" role="row" aria-rowindex="1" :style="{ gridTemplateColumns: template, width: `${width}px` }">
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
    >
      <button tabindex="-1" :data-heading="field.name" @click="openAt(column)">{{ field.name }}</button>
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
.headings > .here {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
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
