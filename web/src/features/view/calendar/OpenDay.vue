<script setup lang="ts">
// A busy day that lies open in its month: all that stands on it, and who is there more than once.
import { computed } from 'vue'
import type { AlmanacMark, DayHours } from '@/api/types'
import { said } from './dates'
import { useDesk } from './desk'
import MarkHead from './MarkHead.vue'

const props = defineProps<{ day: string; count: number; marks: AlmanacMark[]; hours: DayHours | undefined }>()
const emit = defineEmits<{ fold: []; hours: [] }>()
const desk = useDesk()

/** Who is there more than once, with what the day holds of them. */
const twice = computed(() =>
  (props.hours?.threads ?? []).flatMap((thread) => {
    const here = new Set(thread.strokes.map((stroke) => `${stroke.date === undefined} ${stroke.record}`)).size
    return thread.name && here > 1 ? [{ name: thread.name, says: [thread.says, ...thread.twice.map((one) => one.says)].join('; ') }] : []
  }),
)
</script>

<template>
  <section class="open-day" data-test="open-day">
    <header>
      <h3>{{ said(day, { weekday: 'long', day: 'numeric', month: 'long' }) }}</h3>
      <span class="quiet">{{ count }} {{ count === 1 ? desk.table.value.one : desk.table.value.many }}</span>
      <button type="button" class="link" data-test="by-the-hour" @click="emit('hours')">by the hour</button>
      <button v-if="desk.adds.value" type="button" class="link" @click="desk.begin({ day })">+ {{ desk.table.value.one }}</button>
      <button type="button" class="link" data-test="fold-day" @click="emit('fold')">fold</button>
    </header>
    <p v-for="one in twice" :key="one.name" class="twice" data-test="twice"
      ><b>{{ one.name }}</b> has {{ one.says }}</p
    >
    <ul>
      <li v-for="mark in marks" :key="`${mark.record} ${mark.date}`" :style="{ '--mark': desk.hueOf(desk.rows.value.get(mark.record)) }">
        <button type="button" @click="desk.open(mark.record)"
          ><MarkHead :date="mark.date" /> {{ desk.nameOf(desk.rows.value.get(mark.record)) }}</button
        >
        <span class="quiet">{{ desk.about(desk.rows.value.get(mark.record)).replaceAll('\n', ', ') }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.open-day {
  border: 1px solid var(--line-strong);
  background: var(--sheet);
  padding: var(--gap-3);
  margin-bottom: var(--gap-3);
}
header {
  display: flex;
  gap: 2px var(--gap-4);
  align-items: baseline;
  flex-wrap: wrap;
  padding-bottom: var(--gap-2);
}
header button:first-of-type {
  margin-left: auto;
}
h3 {
  font: 600 16px var(--serif);
  margin: 0;
}
.twice {
  margin: 0 0 4px;
  font-size: 13px;
  color: var(--copper);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 2 320px;
}
li {
  border-top: 1px solid var(--line);
  padding: 3px 0;
  font-size: 13px;
  break-inside: avoid;
  display: flex;
  gap: var(--gap-3);
}
li span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
li > button {
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
  padding: 0;
  display: inline-flex;
  gap: 5px;
  align-items: center;
  flex: none;
}
</style>
