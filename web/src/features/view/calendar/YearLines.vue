<script setup lang="ts">
// A year as twelve lines: a line is a month, a stroke a day, as tall as what it holds, all at one scale.
import { computed } from 'vue'
import { plusDays, said } from './dates'

const props = defineProps<{ year: string; counts: ReadonlyMap<string, number>; today: string; many: string }>()
const emit = defineEmits<{ open: [day: string] }>()

const most = computed(() => Math.max(1, ...[...props.counts].filter(([day]) => day.startsWith(props.year)).map(([, count]) => count)))
const months = computed(() =>
  Array.from({ length: 12 }, (_, n) => {
    const month = `${props.year}-${String(n + 1).padStart(2, '0')}`
    const days: { day: string; count: number }[] = []
    for (let day = `${month}-01`; day.startsWith(month); day = plusDays(day, 1)) days.push({ day, count: props.counts.get(day) ?? 0 })
    return { month, days, count: days.reduce((sum, one) => sum + one.count, 0) }
  }),
)
const HEIGHT = 34
const height = (count: number) => (count ? Math.max(3, (count / most.value) * HEIGHT) : 0)
</script>

<template>
  <div class="year">
    <section v-for="one in months" :key="one.month" :aria-label="`${said(`${one.month}-01`, { month: 'long' })}: ${one.count} ${many}`">
      <h3>{{ said(`${one.month}-01`, { month: 'long' }) }}</h3>
      <div class="line">
        <button
          v-for="{ day, count } in one.days"
          :key="day"
          type="button"
          :tabindex="count ? 0 : -1"
          :class="{ past: day < today, now: day === today }"
          :title="`${said(day, { weekday: 'short', day: 'numeric', month: 'short' })}: ${count}`"
          :aria-label="`${said(day, { weekday: 'long', day: 'numeric', month: 'long' })}: ${count}`"
          @click="emit('open', day)"
          ><i :style="{ height: `${height(count)}px` }"
        /></button>
      </div>
      <span class="quiet">{{ one.count || '' }}</span>
    </section>
  </div>
</template>

<style scoped>
.year {
  overflow: auto;
}
section {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr) 56px;
  align-items: end;
  border-bottom: 1px solid var(--line-strong);
  min-height: 44px;
}
h3 {
  font: 600 14.5px var(--serif);
  margin: 0 0 4px;
}
.line {
  display: grid;
  grid-template-columns: repeat(31, minmax(0, 1fr));
  align-items: end;
}
button {
  height: 40px;
  display: flex;
  align-items: end;
  justify-content: center;
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
}
i {
  width: 5px;
  background: var(--moss);
}
.past i {
  background: var(--line-strong);
}
.now {
  border-bottom: 3px solid var(--moss);
}
span {
  text-align: right;
  font-size: 12.5px;
}
</style>
