<script setup lang="ts">
// The records behind a cell, under what is told apart within it; and the ways on with them.
import { computed } from 'vue'
import type { CrossBehind, Row } from '@/api/types'

const props = defineProps<{
  behind: CrossBehind
  /** What stands beside the name, of those that are told. */
  fields: readonly { id: number }[]
  /** The field that names a record. */
  standing: number
  /** The colours of what is told apart, by its words. */
  hues: ReadonlyMap<string, string>
  one: string
}>()
const emit = defineEmits<{ open: [record: number]; rows: []; pick: [records: number[]]; close: [] }>()

const place = (id: number) => props.behind.fields.indexOf(id)
const title = computed(() => Math.max(0, place(props.standing)))
const nameOf = (row: Row) => row.cells[title.value]?.text || props.one
/** What stands beside the name, and what beneath it. */
const beside = (row: Row) =>
  props.fields.flatMap((field) => (place(field.id) === title.value ? [] : [row.cells[place(field.id)]?.text ?? ''])).filter(Boolean)
const groups = computed(() => {
  let at = 0
  const { parts, rows } = props.behind
  if (!parts.length) return [{ text: '', count: props.behind.count, rows }]
  return parts.map((part) => {
    const own = rows.slice(at, at + part.count)
    at += part.count
    return { text: part.text, count: part.count, rows: own }
  })
})
</script>

<template>
  <aside class="behind" :aria-label="behind.title" data-test="behind">
    <div class="top">
      <h2>{{ behind.counted }}</h2>
      <button type="button" class="close" aria-label="Close" data-test="close-behind" @click="emit('close')">×</button>
    </div>
    <p class="quiet">{{ behind.title }}</p>
    <!-- On a phone it stands alone: what the cell says stands with it. -->
    <p class="says">{{ behind.says }}</p>
    <section v-for="group in groups" :key="group.text">
      <h3 v-if="behind.parts.length" :style="{ '--hue': hues.get(group.text) ?? 'var(--quiet)' }"
        >{{ group.text || 'nothing said' }} <span class="quiet">{{ group.count }}</span></h3
      >
      <ul>
        <li v-for="row in group.rows" :key="row.id">
          <button type="button" @click="emit('open', row.id)">
            <b>{{ nameOf(row) }}</b>
            <span class="quiet">{{ beside(row).join(', ') }}</span>
          </button>
        </li>
      </ul>
    </section>
    <p v-if="behind.count > behind.rows.length" class="quiet">The first {{ behind.rows.length }} are shown.</p>
    <p class="ways">
      <button v-if="behind.only" type="button" class="link" data-test="as-rows" @click="emit('rows')">Open as rows</button>
      <button
        v-if="behind.count && behind.count === behind.rows.length"
        type="button"
        class="link"
        data-test="pick-behind"
        @click="
          emit(
            'pick',
            behind.rows.map((row) => row.id),
          )
        "
        >Select all {{ behind.count }}</button
      >
    </p>
  </aside>
</template>

<style scoped>
.behind {
  min-width: 0;
  padding-left: var(--gap-4);
  border-left: 1px solid var(--line-strong);
  overflow-y: auto;
}
.top {
  display: flex;
  align-items: baseline;
}
h2 {
  font: 600 18px/1.3 var(--serif);
  margin: 0;
}
.close {
  margin-left: auto;
  border: 0;
  background: none;
  color: var(--quiet);
  font-size: 18px;
  min-width: 32px;
  min-height: 32px;
  cursor: pointer;
}
h3 {
  margin: var(--gap-3) 0 0;
  padding-left: 8px;
  border-left: 3px solid var(--hue);
  font: 14px/1.35 var(--sans);
}
p {
  margin: 0 0 var(--gap-2);
}
.says {
  display: none;
  font: 16px/1.45 var(--serif);
}
@media (max-width: 700px) {
  .says {
    display: block;
  }
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-bottom: 1px solid var(--line);
}
li button {
  display: grid;
  width: 100%;
  padding: 6px 0;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  font: 14px/1.4 var(--sans);
  cursor: pointer;
}
li button:hover b {
  color: var(--moss);
}
li .quiet {
  font-size: 13px;
}
.ways {
  display: flex;
  gap: var(--gap-4);
  margin-top: var(--gap-3);
}
</style>
