<script setup lang="ts">
// A day by its hours, down the page: a thread for each, thick where they are bound, dotted where they are free.
import { computed, ref } from 'vue'
import { useNow } from '@vueuse/core'
import type { DayHours, HourStroke, Thread, Value } from '@/api/types'
import PickOne from '@/features/menu/PickOne.vue'
import { plusDays, said } from './dates'
import { useBars } from './bars'
import { useDesk } from './desk'
import HourBar from './HourBar.vue'
import { clock, hoursOf, isTimed, keyOf, laid, span, within } from './hours'
import { isHeldByOne, minutesNow } from './placing'

const props = defineProps<{
  day: DayHours
  stretches: boolean
  whose: string
  /** One thread at a time; of the others, what is free. */
  phone: boolean
}>()
const desk = useDesk()
const bars = useBars(desk)
const { nameOf, mayMove, held, along } = bars
const { today, over, carried, saysDrop } = desk

/** Pixels of an hour, and the least width of what stands beside another. */
const HOUR = 58
const range = computed(() => span([props.day], desk.shape.value.working ?? { from: 8, to: 17 }))
const hours = computed(() => hoursOf(range.value))
const y = (minutes: number) => ((minutes - range.value.from) / 60) * HOUR
const now = useNow({ interval: 60_000 })
const needle = computed(() => minutesNow(now.value, desk.zone.value))

const keyOfWho = (who: Value) => JSON.stringify(who)
const threads = computed(() =>
  props.day.threads.map((thread) => {
    const untimed = thread.strokes.filter((stroke) => stroke.length === 'untimed')
    const others = thread.strokes.filter((stroke) => stroke.length !== 'untimed')
    return { thread, untimed, ...laid(others, () => 30) }
  }),
)
const turned = ref<string>()
const inSight = computed(() => {
  if (!props.phone) return threads.value
  const one = threads.value.find(({ thread }) => keyOfWho(thread.who) === turned.value) ?? threads.value[0]
  return one ? [one] : []
})
/** How many are out at an hour. */
const outAt = (hour: number) =>
  props.day.threads.filter((thread) =>
    thread.strokes.some((stroke) => stroke.length !== 'untimed' && stroke.from < hour + 60 && Math.max(stroke.to, stroke.from + 1) > hour),
  ).length
const who = computed(() => desk.fieldOf(desk.shape.value.who))
const isOver = (thread: Thread) => over.value?.day === props.day.day && keyOfWho(over.value.who ?? 'empty') === keyOfWho(thread.who)

function lift(event: DragEvent, stroke: HourStroke, thread: Thread, end: 'end' | undefined) {
  bars.lift(event, stroke, held(stroke, thread, props.day.day), end, (box) => ((event.clientY - box.top) / HOUR) * 60)
}
function spot(event: DragEvent, thread: Thread) {
  const mine = who.value?.writes && isHeldByOne(who.value) && carried.value?.end === undefined ? { who: thread.who } : {}
  const field = desk.fieldOf(desk.shape.value.dates[carried.value?.date ?? 0]?.start)
  if (field?.shows.type !== 'date_time') return { day: props.day.day, ...mine }
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const minutes = range.value.from + ((event.clientY - box.top) / HOUR) * 60 - (carried.value?.grab ?? 0)
  return { day: props.day.day, minutes: within(minutes, range.value), ...mine }
}
/** To the thread beside; where a thread is not somebody’s alone, to the next day. */
function aside(stroke: HourStroke, thread: Thread, step: number) {
  const minutes = isTimed(stroke) ? stroke.from : undefined
  const next = props.day.threads[props.day.threads.indexOf(thread) + step]
  if (who.value?.writes && isHeldByOne(who.value)) {
    if (next) desk.shift(stroke.record, held(stroke, thread, props.day.day), { day: props.day.day, minutes, who: next.who })
  } else desk.shift(stroke.record, held(stroke, thread, props.day.day), { day: plusDays(props.day.day, step), minutes })
}
const others = computed(() => props.day.free.map((free) => `${free.names.join(', ')} ${free.says}`).join('; '))
</script>

<template>
  <div class="day-hours" data-test="day-hours">
    <p v-if="!threads.length" class="quiet">Nothing stands on this day.</p>
    <p v-if="phone && threads.length > 1" class="turns"
      ><span class="quiet">{{ whose }}</span
      >{{ ' ' }}
      <PickOne
        said
        :model-value="keyOfWho(inSight[0]!.thread.who)"
        :aria-label="whose"
        :items="threads.map(({ thread }) => ({ value: keyOfWho(thread.who), title: thread.name || 'nobody yet' }))"
        @update:model-value="turned = $event"
    /></p>
    <div v-if="threads.length" class="sheet" :style="{ '--threads': inSight.length }">
      <span class="corner" />
      <header v-for="{ thread } in inSight" :key="keyOfWho(thread.who)" class="head" :class="{ over: isOver(thread) && !!carried }">
        <h3>{{ thread.name || (whose ? 'nobody yet' : said(day.day, { weekday: 'long' })) }}</h3>
        <span class="quiet">{{ thread.says || (day.day < today ? 'not out' : 'nothing') }}</span>
        <em v-for="twice in thread.twice" :key="twice.from" data-test="twice">{{ twice.says }}</em>
      </header>
      <template v-if="inSight.some((one) => one.untimed.length)">
        <span class="corner quiet small">at no hour</span>
        <div v-for="one in inSight" :key="`u ${keyOfWho(one.thread.who)}`" class="untimed">
          <button v-for="stroke in one.untimed" :key="keyOf(stroke)" type="button" class="link" @click="desk.open(stroke.record)">{{
            nameOf(stroke)
          }}</button>
        </div>
      </template>
      <div class="margin" :style="{ height: `${y(range.to)}px` }">
        <span v-for="hour in hours.slice(0, -1)" :key="hour" :style="{ top: `${y(hour)}px` }"
          ><b>{{ clock(hour) }}</b
          ><template v-if="whose && outAt(hour)">{{ outAt(hour) }} out</template></span
        >
      </div>
      <div
        v-for="one in inSight"
        :key="`t ${keyOfWho(one.thread.who)}`"
        class="thread"
        :style="{ height: `${y(range.to)}px` }"
        :data-thread="one.thread.name"
        :aria-label="one.thread.name || 'nobody yet'"
        role="group"
        @dragover.prevent="over = spot($event, one.thread)"
        @drop.prevent="desk.drop(spot($event, one.thread))"
      >
        <i v-for="hour in hours" :key="hour" class="hour" :style="{ top: `${y(hour)}px` }" />
        <template v-if="one.thread.name">
          <div
            v-for="free in one.thread.free"
            :key="free.from"
            class="free"
            :style="{ top: `${y(free.from)}px`, height: `${y(free.to) - y(free.from)}px` }"
          >
            <button
              v-if="desk.adds.value"
              type="button"
              class="link"
              :aria-label="`${free.says}: add ${desk.table.value.one} for ${one.thread.name} at ${clock(free.from)}`"
              :data-free="clock(free.from)"
              @click="desk.begin({ day: day.day, minutes: free.from, who: one.thread.who })"
              >{{ free.says }}</button
            >
            <span v-else>{{ free.says }}</span>
          </div>
        </template>
        <HourBar
          v-for="{ stroke, level } in one.all"
          :key="keyOf(stroke)"
          down
          :stroke="stroke"
          :day="day.day"
          :name="nameOf(stroke)"
          :moves="mayMove(stroke)"
          :stretches="stretches && mayMove(stroke)"
          :style="{
            top: `${y(stroke.from)}px`,
            height: `${Math.max(24, y(stroke.to) - y(stroke.from))}px`,
            left: `calc(8px + (100% - 8px) * ${level / one.levels})`,
            width: `calc((100% - 8px) / ${one.levels})`,
          }"
          @lift="(event, end) => lift(event, stroke, one.thread, end)"
          @along="(step, lasts) => along(stroke, one.thread, day.day, step, lasts)"
          @aside="aside(stroke, one.thread, $event)"
        />
        <i
          v-for="twice in one.thread.twice"
          :key="twice.from"
          class="twice"
          aria-hidden="true"
          :style="{ top: `${y(twice.from)}px`, height: `${y(twice.to) - y(twice.from)}px` }"
        />
        <i
          v-if="day.day === today && needle >= range.from && needle <= range.to"
          class="needle"
          :style="{ top: `${y(needle)}px` }"
          aria-hidden="true"
        />
        <p
          v-if="carried && isOver(one.thread) && over?.minutes !== undefined"
          class="land"
          role="status"
          :style="{ top: `${y(over.minutes)}px` }"
          >{{ saysDrop }}</p
        >
      </div>
    </div>
    <p v-if="phone && others" class="quiet">Free: {{ others }}.</p>
  </div>
</template>

<style scoped>
.day-hours {
  flex: 1;
  min-height: 0;
  overflow: auto;
}
.sheet {
  display: grid;
  grid-template-columns: 64px repeat(var(--threads), minmax(150px, 1fr));
  gap: 0 12px;
}
.corner {
  grid-column: 1;
}
.head {
  padding: 2px 0 8px 8px;
  font-size: 13px;
  display: grid;
  align-content: start;
  position: sticky;
  top: 0;
  background: var(--stone);
  z-index: 3;
}
.head h3 {
  font: 600 16px var(--serif);
  margin: 0;
}
.head em {
  font-style: normal;
  font-weight: 600;
  color: var(--copper);
}
.head.over h3 {
  color: var(--copper);
}
.small {
  font-size: 12.5px;
}
.untimed {
  padding: 0 0 6px 8px;
  display: grid;
  justify-items: start;
}
.margin,
.thread {
  position: relative;
  margin: 8px 0;
}
.margin {
  grid-column: 1;
}
.margin span {
  position: absolute;
  transform: translateY(-9px);
  display: grid;
  font-size: 12.5px;
  color: var(--quiet);
  line-height: 17px;
}
.margin b {
  font: 600 15px var(--serif);
  color: var(--ink);
}
.hour {
  position: absolute;
  left: -12px;
  right: 0;
  border-top: 1px solid var(--line);
}
.free {
  position: absolute;
  left: 8px;
  border-left: 3px dotted var(--moss);
  padding-left: 8px;
  display: flex;
  align-items: center;
  font-size: 12.5px;
  color: var(--quiet);
}
.twice {
  position: absolute;
  left: 0;
  border-left: 4px solid var(--copper);
}
.needle {
  position: absolute;
  left: -12px;
  right: 0;
  border-top: 2px solid var(--moss);
  z-index: 2;
  pointer-events: none;
}
.land {
  position: absolute;
  left: 8px;
  right: 0;
  margin: 0;
  border-top: 3px solid var(--copper);
  background: var(--sheet);
  padding: 4px 6px;
  font: 600 13.5px/1.3 var(--serif);
  color: var(--copper);
  z-index: 4;
  pointer-events: none;
}
.turns {
  margin: 0 0 4px;
}
@media print {
  .day-hours {
    overflow: visible;
  }
}
</style>
