<script setup lang="ts">
// The days of a calendar one under the other, as a phone has room for them; with their hours where these are asked for.
import type { AlmanacMark, DayHours } from '@/api/types'
import { said } from './dates'
import { useDesk } from './desk'
import { clock, isTimed } from './hours'
import MarkHead from './MarkHead.vue'

const props = defineProps<{ days: { day: string; marks: AlmanacMark[] }[]; hours: readonly DayHours[] }>()
const emit = defineEmits<{ day: [day: string] }>()
const desk = useDesk()
const { rows, today } = desk

const dayOf = (day: string) => props.hours.find((one) => one.day === day)
/** When a mark is, where that is known. */
function whenOf(mark: AlmanacMark, day: string): string {
  const strokes = dayOf(day)?.threads.flatMap((thread) => thread.strokes) ?? []
  const stroke = strokes.find((one) => one.record === mark.record && one.date === mark.date)
  if (!stroke || !isTimed(stroke)) return ''
  return stroke.length === 'timed' ? `${clock(stroke.from)} to ${clock(stroke.to)}` : clock(stroke.from)
}
const inOrder = (one: { day: string; marks: AlmanacMark[] }) => {
  const minutes = (mark: AlmanacMark) => {
    const [hour, minute] = whenOf(mark, one.day).split(' ')[0]!.split(':').map(Number)
    return hour === undefined || minute === undefined ? -1 : hour * 60 + minute
  }
  return props.hours.length ? [...one.marks].sort((a, b) => minutes(a) - minutes(b)) : one.marks
}
</script>

<template>
  <div class="agenda">
    <section v-for="one in days" :key="one.day" :class="{ now: one.day === today }">
      <h3
        ><button type="button" data-test="agenda-day" @click="emit('day', one.day)"
          >{{ said(one.day, { weekday: 'long', day: 'numeric', month: 'long' })
          }}<template v-if="one.day === today">, today</template></button
        ></h3
      >
      <template v-for="thread in dayOf(one.day)?.threads ?? []" :key="thread.name"
        ><p v-for="twice in thread.twice" :key="twice.from" class="twice"
          ><b>{{ thread.name }}</b> has {{ twice.says }}</p
        ></template
      >
      <div
        v-for="mark in inOrder(one)"
        :key="`${mark.record} ${mark.date}`"
        class="told"
        :style="{ '--mark': desk.hueOf(rows.get(mark.record)) }"
      >
        <button type="button" @click="desk.open(mark.record)"
          ><MarkHead :date="mark.date" /> <span v-if="whenOf(mark, one.day)" class="when">{{ whenOf(mark, one.day) }}</span>
          {{ desk.nameOf(rows.get(mark.record)) }}</button
        >
        <button
          v-if="desk.isMoved(rows.get(mark.record), mark.date)"
          type="button"
          class="link"
          data-test="other-day"
          :aria-label="`move ${desk.nameOf(rows.get(mark.record))}`"
          @click="desk.give(rows.get(mark.record)!, mark)"
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
h3 button {
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  padding: 0;
  min-height: 36px;
  cursor: pointer;
}
.now h3 {
  color: var(--moss);
}
.when {
  flex: none;
  width: 92px;
  white-space: nowrap;
  font-size: 13px;
  color: var(--quiet);
  font-variant-numeric: tabular-nums;
}
.twice {
  margin: 0;
  font-size: 13px;
  color: var(--copper);
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
