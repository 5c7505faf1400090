<script setup lang="ts">
// A record of a shared page where it stands for itself: what it is called, which opens it, and what else is said of it.
import { computed } from 'vue'
import type { PageRow, PageTable } from '@/api/types'
import LookMark from '@/features/highlight/LookMark.vue'
import { cellLook, lookClass, lookStyle } from '@/features/highlight/looks'
import PageShown from './PageShown.vue'

const props = defineProps<{
  part: PageTable
  row: PageRow
  /** Fields that are seen already: the lane’s, the picture. */
  without?: number[]
}>()
const emit = defineEmits<{ open: [row: PageRow] }>()

const title = computed(() => props.row.cells.findIndex((cell) => cell?.text))
const name = computed(() => props.row.cells[title.value]?.text ?? props.part.one)
const said = computed(() =>
  props.part.columns.flatMap((column, n) => {
    const cell = props.row.cells[n]
    return n === title.value || !cell?.text || props.without?.includes(column.field) ? [] : [{ column, cell, n }]
  }),
)
/** Something of it is theirs to write: they are told before they open it. */
const fills = computed(() => props.row.change && props.part.columns.some((column) => column.question))
const look = (n: number) => cellLook(props.row, props.part.columns[n]!.field, n)
</script>

<template>
  <article class="entry" :class="{ fills }" :data-record="row.id" :aria-description="row.looks?.says">
    <p class="name" :class="lookClass(look(title))" :style="lookStyle(look(title))">
      <LookMark :look="look(title)" /><button type="button" @click="emit('open', row)">{{ name }}</button>
    </p>
    <dl v-if="said.length">
      <template v-for="one in said" :key="one.column.field">
        <dt>{{ one.column.name }}</dt>
        <dd :class="lookClass(look(one.n))" :style="lookStyle(look(one.n))">
          <LookMark :look="look(one.n)" /><PageShown :cell="one.cell" :column="one.column" />
        </dd>
      </template>
    </dl>
  </article>
</template>

<style scoped>
.entry {
  padding: 8px 0 10px;
  border-top: 1px solid var(--line);
}
/* White is what may be written. */
.fills {
  background: var(--sheet);
  padding-inline: 8px;
}
.name {
  display: flex;
  align-items: baseline;
  margin: 0;
}
.look-edge {
  padding-left: 9px;
}
.look-sign {
  flex: none;
}
.name button {
  border: 0;
  background: none;
  padding: 0;
  min-height: 28px;
  color: inherit;
  font: inherit;
  font-weight: 600;
  text-align: left;
  cursor: pointer;
}
.name button:hover {
  text-decoration: underline;
}
dl {
  display: grid;
  grid-template-columns: minmax(64px, auto) minmax(0, 1fr);
  gap: 0 10px;
  margin: 2px 0 0;
  font-size: 13.5px;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
@media (max-width: 760px) {
  .name button {
    min-height: 44px;
  }
}
</style>
