<script setup lang="ts">
// The years in which there are days, each with its months: one or several that follow each other are chosen by name.
import { computed, ref } from 'vue'
import type { SlipRun, SlipYear } from '@/api/types'

const props = defineProps<{ years: SlipYear[] }>()
const span = defineModel<[SlipRun, SlipRun]>()

/** The years whose months are shown: of one, it is. */
const open = ref(new Set(props.years.length === 1 ? [props.years[0]!.year.from] : []))
function toggle(year: string) {
  const next = new Set(open.value)
  if (!next.delete(year)) next.add(year)
  open.value = next
}
/** All that can be chosen, in their order: a year holds its months. */
const all = computed(() => props.years.flatMap(({ months }) => months))
const place = (run: SlipRun) => all.value.indexOf(run)
const isChosen = (first: SlipRun, last: SlipRun) => {
  const [from, to] = [span.value && startOf(span.value[0]), span.value && endOf(span.value[1])]
  return from !== undefined && to !== undefined && from >= 0 && place(first) >= from && place(last) <= to
}
const yearOf = (run: SlipRun) => props.years.find(({ year }) => year === run)
const startOf = (run: SlipRun) => place(yearOf(run)?.months[0] ?? run)
const endOf = (run: SlipRun) => place(yearOf(run)?.months.at(-1) ?? run)

/** With Shift from what was chosen on. */
function choose(run: SlipRun, event: MouseEvent | KeyboardEvent) {
  const now = span.value
  if (event.shiftKey && now && startOf(now[0]) >= 0) {
    const before = startOf(run) < startOf(now[0])
    span.value = before ? [run, now[1]] : [now[0], run]
  } else span.value = [run, run]
}
</script>

<template>
  <ul class="years" aria-label="Years and months" data-test="slip-years">
    <li v-for="{ year, months } in years" :key="year.from">
      <button
        type="button"
        class="fold"
        :aria-expanded="open.has(year.from)"
        :aria-label="`Months of ${year.from}`"
        :data-fold="year.from"
        @click="toggle(year.from)"
        >{{ open.has(year.from) ? '▾' : '▸' }}</button
      >
      <button
        type="button"
        :aria-pressed="isChosen(months[0]!, months.at(-1)!)"
        :data-year="year.from"
        title="With Shift, up to it"
        @click="choose(year, $event)"
        ><b>{{ year.from }}</b> <span>{{ year.count }}</span></button
      >
      <template v-if="open.has(year.from)">
        <button
          v-for="month in months"
          :key="month.from"
          type="button"
          :aria-pressed="isChosen(month, month)"
          :data-month="`${year.from} ${month.from}`"
          @click="choose(month, $event)"
          >{{ month.from }} <span>{{ month.count }}</span></button
        >
      </template>
    </li>
  </ul>
</template>

<style scoped>
.years {
  list-style: none;
  margin: 0 0 var(--gap-2);
  padding: 0;
  font-size: 13px;
  max-height: 150px;
  overflow-y: auto;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 2px;
  align-items: baseline;
}
button {
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  padding: 2px 6px;
  min-height: 26px;
  cursor: pointer;
  border-radius: var(--corner);
}
.fold {
  width: 24px;
  padding: 0;
  color: var(--quiet);
}
span {
  color: var(--quiet);
  font-variant-numeric: tabular-nums;
}
button:hover {
  text-decoration: underline;
}
button[aria-pressed='true'] {
  background: var(--moss-soft);
  outline: 1px solid var(--moss);
}
@media (max-width: 700px) {
  button {
    min-height: 40px;
    min-width: 40px;
  }
}
</style>
