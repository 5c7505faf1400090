<script setup lang="ts">
// Weeks as lines, days on ticks along them, each week weighed in the margin; a busy day lies open beneath its line.
import { computed } from 'vue'
import type { AlmanacMark, AlmanacWeek, DayHours } from '@/api/types'
import { hidden, placed } from './almanac'
import { plusDays, said } from './dates'
import DayMark from './DayMark.vue'
import { useDesk } from './desk'
import OpenDay from './OpenDay.vue'

const props = defineProps<{
  /** The first days of the weeks. */
  weeks: string[]
  marks: readonly AlmanacMark[]
  counts: ReadonlyMap<string, number>
  /** What each week holds; nothing where weeks are not counted so. */
  weights: readonly AlmanacWeek[]
  /** What the figures of a week are. */
  tallies: string[]
  /** The day that lies open, with its hours. */
  opened: string | undefined
  hours: DayHours | undefined
}>()
const emit = defineEmits<{ open: [day: string | undefined]; hours: [day: string] }>()
const desk = useDesk()

/** Marks of a day that have room on its line. */
const LEVELS = 4
const { over, saysDrop, today, adds, rows, table } = desk
const lines = computed(() =>
  props.weeks.map((start) => {
    const all = placed(start, props.marks)
    return {
      start,
      days: Array.from({ length: 7 }, (_, n) => plusDays(start, n)),
      shown: all.filter((one) => one.level < LEVELS),
      more: hidden(start, all, props.counts, LEVELS),
      weight: props.weights.find((week) => week.start === start),
    }
  }),
)
const openMarks = computed(() => props.marks.filter((mark) => props.opened && mark.start <= props.opened && mark.end >= props.opened))
function shift(mark: AlmanacMark, days: number) {
  desk.shift(mark.record, { date: mark.date, mark }, { day: plusDays(mark.start, days) })
}
</script>

<template>
  <div class="names" aria-hidden="true">
    <span>Week</span>
    <span v-for="day in lines[0]!.days" :key="day">{{ said(day, { weekday: 'long' }) }}</span>
  </div>
  <div class="weeks">
    <template v-for="line in lines" :key="line.start">
      <section class="week" :aria-label="`Week from ${said(line.start, { day: 'numeric', month: 'long' })}`">
        <div class="margin">
          <template v-if="line.weight">
            <b>{{ line.weight.number }}</b>
            <template v-if="line.weight.count">
              <span>{{ line.weight.counted }}</span>
              <span v-for="(tally, n) in line.weight.tallies" :key="n" :title="tallies[n]">{{ tally.text }}</span>
            </template>
            <em v-if="line.weight.over"><span aria-hidden="true">▲ </span>{{ line.weight.over }}</em>
          </template>
        </div>
        <div class="days">
          <div
            v-for="(day, column) in line.days"
            :key="day"
            class="day"
            :class="{ over: over?.day === day, now: day === today, past: day < today }"
            :style="{ gridColumn: column + 1 }"
            :data-day="day"
            @dragover.prevent="over = { day }"
            @drop.prevent="desk.drop({ day })"
          >
            <button type="button" class="number" @click="emit('open', opened === day ? undefined : day)"
              >{{ Number(day.slice(8)) }}<i v-if="day.endsWith('-01')"> {{ said(day, { month: 'long' }) }}</i
              ><i v-else-if="day === today"> today</i
              ><span class="d-sr-only">, {{ said(day, { weekday: 'long', month: 'long' }) }}, {{ counts.get(day) ?? 0 }}</span></button
            >
            <button
              v-if="adds"
              type="button"
              class="add"
              :aria-label="`Add ${table.one} on ${said(day, { day: 'numeric', month: 'long' })}`"
              :data-add="day"
              @click="desk.begin({ day })"
              >+</button
            >
          </div>
          <DayMark
            v-for="one in line.shown"
            :key="`${one.mark.record} ${one.mark.date}`"
            :placed="one"
            :data-record="one.mark.record"
            :name="desk.nameOf(rows.get(one.mark.record))"
            :about="desk.about(rows.get(one.mark.record))"
            :hue="desk.hueOf(rows.get(one.mark.record))"
            :look="desk.lookOf(rows.get(one.mark.record))"
            :moves="desk.isMoved(rows.get(one.mark.record), one.mark.date)"
            :stretches="desk.isMoved(rows.get(one.mark.record), one.mark.date)"
            :carried="desk.carried.value?.row.id === one.mark.record"
            @open="desk.open(one.mark.record)"
            @lift="(event, end) => desk.lift(event, rows.get(one.mark.record), { mark: one.mark, date: one.mark.date, end })"
            @leave="desk.leave"
            @shift="shift(one.mark, $event)"
            @menu="desk.menu($event, rows.get(one.mark.record), one.mark)"
          />
          <button
            v-for="[day, count] in line.more"
            :key="`more ${day}`"
            type="button"
            class="link more"
            :style="{ gridColumn: line.days.indexOf(day) + 1, gridRow: LEVELS + 2 }"
            :data-more="day"
            @click="emit('open', day)"
            >and {{ count }} more</button
          >
          <p
            v-if="over && saysDrop && line.days.includes(over.day)"
            class="land"
            role="status"
            :style="{ gridColumn: `${line.days.indexOf(over.day) + 1} / span 2` }"
            >{{ saysDrop }}</p
          >
        </div>
      </section>
      <OpenDay
        v-if="opened && line.days.includes(opened)"
        :day="opened"
        :count="counts.get(opened) ?? 0"
        :marks="openMarks"
        :hours="hours"
        @fold="emit('open', undefined)"
        @hours="emit('hours', opened)"
      />
    </template>
  </div>
</template>

<style scoped>
.names,
.week {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
}
.names {
  grid-template-columns: 84px repeat(7, minmax(0, 1fr));
  font-size: 12.5px;
  color: var(--quiet);
}
.weeks {
  flex: 1;
  min-height: 0;
  overflow: hidden auto;
}
.week {
  border-top: 1px solid var(--line-strong);
  min-height: 84px;
}
.margin {
  display: grid;
  align-content: start;
  font-size: 12px;
  color: var(--quiet);
  line-height: 1.4;
  padding: 3px 6px 6px 0;
}
.margin b {
  font: 600 15px var(--serif);
  color: var(--ink);
}
.margin em {
  font-style: normal;
  font-weight: 600;
  color: var(--fault);
}
.days {
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
  grid-template-rows: 24px repeat(6, min-content) 1fr;
  min-height: 84px;
  padding-bottom: 8px;
  position: relative;
}
/* A day reaches down its whole line, so that one drops on it anywhere. */
.day {
  grid-row: 1 / -1;
  position: relative;
  padding-left: 6px;
  margin-left: -6px;
}
.day::before {
  content: '';
  position: absolute;
  left: 0;
  top: 0;
  height: 6px;
  border-left: 1px solid var(--line-strong);
}
.day.now {
  border-left: 2px solid var(--moss);
}
.number {
  font: 600 14.5px var(--serif);
  border: 0;
  background: none;
  color: inherit;
  padding: 2px 0 0;
  text-align: left;
  cursor: pointer;
}
.number i {
  font-weight: 400;
  margin-left: 5px;
  color: var(--quiet);
}
.past .number {
  font-weight: 400;
  color: var(--quiet);
}
.now .number {
  color: var(--moss);
}
.day.over {
  background: var(--copper-soft);
}
.add {
  position: absolute;
  right: 6px;
  top: 0;
  min-width: 24px;
  min-height: 24px;
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  opacity: 0;
}
.day:hover .add,
.add:focus-visible {
  opacity: 1;
}
.more {
  font-size: 12.5px;
  justify-self: start;
  z-index: 1;
}
.land {
  grid-row: 7;
  z-index: 2;
  margin: 0;
  border-top: 3px solid var(--copper);
  color: var(--copper);
  font: 600 13.5px var(--serif);
  background: var(--stone);
  pointer-events: none;
}
/* On paper the weeks stand whole, without what is only to be pressed. */
@media print {
  .weeks {
    overflow: visible;
  }
  .week {
    break-inside: avoid;
  }
  .add {
    display: none;
  }
}
</style>
