<script setup lang="ts">
// The days of a calendar one under the other, as a phone has room for them.
import type { AlmanacMark, Row } from '@/api/types'
import MarkHead from './MarkHead.vue'

defineProps<{
  days: { day: string; marks: AlmanacMark[] }[]
  rows: ReadonlyMap<number, Row>
  today: string | undefined
  /** A day in words. */
  said: (day: string, how: Intl.DateTimeFormatOptions) => string
  nameOf: (row: Row | undefined) => string
  hueOf: (row: Row | undefined) => string | undefined
  isMoved: (row: Row | undefined, date: number) => boolean
}>()
const emit = defineEmits<{ open: [record: number]; move: [row: Row, mark: AlmanacMark] }>()
</script>

<template>
  <div class="agenda">
    <section v-for="one in days" :key="one.day" :class="{ now: one.day === today }">
      <h3>{{ said(one.day, { weekday: 'long', day: 'numeric', month: 'long' }) }}<template v-if="one.day === today">, today</template></h3>
      <div v-for="mark in one.marks" :key="`${mark.record} ${mark.date}`" class="told" :style="{ '--mark': hueOf(rows.get(mark.record)) }">
        <button type="button" @click="emit('open', mark.record)"><MarkHead :date="mark.date" /> {{ nameOf(rows.get(mark.record)) }}</button>
        <button
          v-if="isMoved(rows.get(mark.record), mark.date)"
          type="button"
          class="link"
          data-test="other-day"
          :aria-label="`move ${nameOf(rows.get(mark.record))}`"
          @click="emit('move', rows.get(mark.record)!, mark)"
          >move</button
        >
      </div>
    </section>
    <p v-if="!days.length" class="quiet">Nothing stands on these days.</p>
  </div>
</template>

<style scoped>
.agenda {
  overflow: auto;
}
section {
  border-top: 1px solid var(--line-strong);
  padding: 6px 0;
}
h3 {
  font: 600 16px var(--serif);
  margin: 0;
}
.now h3 {
  color: var(--moss);
}
.told {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 44px;
}
.told > button {
  min-height: 44px;
}
.told > button:first-child {
  flex: 1;
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
}
</style>
