<script setup lang="ts">
// Records of a shared page on their days: weeks as lines, month by month; where there is little room, day by day.
import { computed, ref, watch } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import type { Condition, PageDays, PageRow, PageShape, PageTable } from '@/api/types'
import { placed, weekOf } from '@/features/view/calendar/almanac'
import { plusDays, plusMonths, said } from '@/features/view/calendar/dates'
import { usePage } from './asking'
import PageEntry from './PageEntry.vue'

const props = defineProps<{
  part: PageTable
  shape: Extract<PageShape, { as: 'calendar' }>
  condition: Condition
  looks: number
}>()
const emit = defineEmits<{ open: [row: PageRow] }>()
const page = usePage()
const narrow = useMediaQuery('(max-width: 760px)')

/** Marks that have room on a week’s line; a day with more is opened. */
const LEVELS = 5
const month = ref(props.shape.today.slice(0, 7))
const first = computed(() => `${month.value}-01`)
const last = computed(() => plusDays(`${plusMonths(month.value, 1)}-01`, -1))
const weeks = computed(() => {
  const all: string[] = []
  for (let week = weekOf(first.value); week <= last.value; week = plusDays(week, 7)) all.push(week)
  return all
})
const until = computed(() => plusDays(weeks.value.at(-1)!, 6))

const told = ref<PageDays>()
const trouble = ref('')
let asked = 0
async function read() {
  const mine = ++asked
  const body = { condition: props.condition, from: weeks.value[0], to: until.value }
  const answer = await page.post<PageDays>(`/parts/${props.part.number}/days`, body)
  if (mine !== asked) return
  if (answer.ok) told.value = answer.body
  trouble.value = answer.ok ? '' : answer.says
}
watch(() => [props.condition, props.looks, month.value], read, { immediate: true, deep: true })

const rows = computed(() => new Map((told.value?.rows ?? []).map((row) => [row.id, row])))
const nameOf = (record: number) => rows.value.get(record)?.cells.find((cell) => cell?.text)?.text ?? props.part.one
const on = (day: string) => (told.value?.marks ?? []).filter((mark) => mark.start <= day && day <= mark.end)
const lines = computed(() =>
  weeks.value.map((week) => {
    const all = placed(week, told.value?.marks ?? [])
    const days = Array.from({ length: 7 }, (_, n) => plusDays(week, n))
    const more = days.map((day) => all.filter((one) => one.level >= LEVELS && one.mark.start <= day && day <= one.mark.end).length)
    // In the order in which one walks along them.
    const shown = all.filter((one) => one.level < LEVELS).sort((a, b) => a.from - b.from || a.level - b.level)
    return { week, days, shown, more }
  }),
)
/** The days of the month on which something stands. */
const busy = computed(() => {
  const all: string[] = []
  for (let day = first.value; day <= last.value; day = plusDays(day, 1)) if (on(day).length) all.push(day)
  return all
})
const opened = ref<string>()
/** By which of several dates something stands there. */
const by = (date: number) => (props.shape.dates.length > 1 ? `${props.shape.dates[date]}: ` : '')
const show = (record: number) => rows.value.has(record) && emit('open', rows.value.get(record)!)
function turn(months: number) {
  month.value = plusMonths(month.value, months)
  opened.value = undefined
}
</script>

<template>
  <div class="turn">
    <button type="button" class="link" aria-label="The month before" data-test="month-before" @click="turn(-1)">←</button>
    <b aria-live="polite">{{ said(first, { month: 'long', year: 'numeric' }) }}</b>
    <button type="button" class="link" aria-label="The month after" data-test="month-after" @click="turn(1)">→</button>
    <span v-if="shape.dates.length > 1 && !narrow" class="legend"
      ><span v-for="(date, n) in shape.dates" :key="n" class="mark" :class="`date-${n}`">{{ date }}</span></span
    >
    <button v-if="month !== shape.today.slice(0, 7)" type="button" class="link" @click="month = shape.today.slice(0, 7)">today</button>
  </div>
  <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  <template v-if="narrow">
    <section v-for="day in busy" :key="day" class="day-list" :data-day="day">
      <h3 :class="{ now: day === shape.today }">{{ said(day, { weekday: 'long', day: 'numeric', month: 'long' }) }}</h3>
      <template v-for="mark in on(day)" :key="`${mark.record} ${mark.date}`">
        <PageEntry v-if="rows.has(mark.record)" :part="part" :row="rows.get(mark.record)!" @open="emit('open', $event)" />
      </template>
    </section>
    <p v-if="told && !busy.length" class="quiet">Nothing stands in this month.</p>
  </template>
  <div v-else class="weeks">
    <div class="names" aria-hidden="true">
      <span v-for="day in lines[0]!.days" :key="day">{{ said(day, { weekday: 'short' }) }}</span>
    </div>
    <template v-for="line in lines" :key="line.week">
      <section class="week" :aria-label="`Week from ${said(line.week, { day: 'numeric', month: 'long' })}`">
        <span
          v-for="(day, column) in line.days"
          :key="day"
          class="day"
          :class="{ now: day === shape.today, beyond: !day.startsWith(month) }"
          :style="{ gridColumn: column + 1 }"
          :data-day="day"
          ><span>{{ Number(day.slice(8)) }}</span></span
        >
        <button
          v-for="one in line.shown"
          :key="`${one.mark.record} ${one.mark.date}`"
          type="button"
          class="mark"
          :class="[`date-${one.mark.date}`, { before: one.before, behind: one.behind }]"
          :aria-label="by(one.mark.date) + nameOf(one.mark.record)"
          :style="{ gridColumn: `${one.from + 1} / ${one.to + 2}`, gridRow: one.level + 2 }"
          :data-record="one.mark.record"
          :aria-description="rows.get(one.mark.record)?.looks?.says"
          @click="show(one.mark.record)"
          >{{ nameOf(one.mark.record) }}</button
        >
        <template v-for="(more, column) in line.more" :key="column">
          <button
            v-if="more"
            type="button"
            class="link more"
            :style="{ gridColumn: column + 1, gridRow: LEVELS + 2 }"
            @click="opened = opened === line.days[column] ? undefined : line.days[column]"
            >and {{ more }} more</button
          >
        </template>
      </section>
      <section
        v-if="opened && line.days.includes(opened)"
        class="open"
        :aria-label="said(opened, { weekday: 'long', day: 'numeric', month: 'long' })"
      >
        <PageEntry
          v-for="mark in on(opened)"
          :key="`${mark.record} ${mark.date}`"
          :part="part"
          :row="rows.get(mark.record)!"
          @open="emit('open', $event)"
        />
      </section>
    </template>
  </div>
  <section v-if="told?.waiting.length" class="waiting">
    <h3>{{ told.without }} without a day</h3>
    <PageEntry v-for="row in told.waiting" :key="row.id" :part="part" :row="row" @open="emit('open', $event)" />
  </section>
</template>

<style scoped>
.turn {
  display: flex;
  align-items: baseline;
  gap: 14px;
  margin-bottom: 8px;
}
.turn b {
  min-width: 9em;
  font: 600 17px var(--serif);
}
.turn .link {
  min-width: 24px;
}
.names,
.week {
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
}
.names {
  font-size: 12.5px;
  color: var(--quiet);
}
.week {
  grid-template-rows: 26px repeat(6, min-content) 1fr;
  min-height: 76px;
  padding-bottom: 8px;
  border-top: 1px solid var(--line-strong);
}
.day {
  grid-row: 1 / -1;
  padding-left: 6px;
  border-left: 1px solid var(--line);
  font: 600 14.5px/1.7 var(--serif);
}
.beyond {
  font-weight: 400;
  color: var(--quiet);
}
.now {
  color: var(--moss);
}
.day.now {
  border-left: 2px solid var(--moss);
}
.mark {
  z-index: 1;
  margin: 0 6px 3px;
  padding: 1px 0 1px 6px;
  border: 0;
  border-left: 3px solid var(--moss);
  border-bottom: 1px solid var(--line-strong);
  background: none;
  color: var(--ink);
  font: 13.5px/1.4 var(--sans);
  text-align: left;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
  min-height: 24px;
  cursor: pointer;
}
/* Each of several dates has a mark of its own, and the legend says which. */
.date-1 {
  border-left-style: double;
}
.date-2 {
  border-left-style: dotted;
}
.legend {
  display: flex;
  gap: 6px;
}
.legend .mark {
  border-bottom: 0;
  color: var(--quiet);
  cursor: default;
}
.mark:hover {
  text-decoration: underline;
}
.before {
  border-left: 0;
  margin-left: 0;
}
.behind {
  margin-right: 0;
}
.more {
  z-index: 1;
  justify-self: start;
  margin-left: 6px !important;
  font-size: 13px !important;
}
.open,
.waiting {
  padding: 6px 0 12px;
  columns: 260px;
}
h3 {
  margin: 14px 0 2px;
  font: 600 15px var(--serif);
  column-span: all;
}
.quiet {
  color: var(--quiet);
}
@media (max-width: 760px) {
  .turn .link {
    min-width: 44px;
    min-height: 44px;
  }
}
</style>
