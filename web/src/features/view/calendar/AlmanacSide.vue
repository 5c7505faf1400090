<script setup lang="ts">
// Beside an almanac: who carries how much of what is in sight, and the records that have no day, to be put on one.
import type { Carrier, Row } from '@/api/types'
import { useDesk } from './desk'

defineProps<{
  without: { count: number; counted: string; rows: Row[] }
  carriers: readonly Carrier[]
  /** What the days come to, and by how much that is too much. */
  week: { says: string; over: string } | undefined
  /** The field that says the day. */
  dateWithin: string
  phone: boolean
}>()
const desk = useDesk()

const HEIGHT = 18
const most = (carriers: readonly Carrier[]) => Math.max(1, ...carriers.flatMap((one) => one.days))
</script>

<template>
  <aside aria-label="Beside the days">
    <section v-if="carriers.length && carriers[0]!.days.length > 1" data-test="carriers">
      <h3>Who carries the week</h3>
      <div v-for="one in carriers" :key="JSON.stringify(one.who)" class="carrier">
        <span class="name">{{ one.name || 'nobody yet' }}</span>
        <svg :width="one.days.length * 9" :height="HEIGHT" aria-hidden="true">
          <path :d="`M0 .5h${one.days.length * 9}`" class="rule" />
          <path v-for="(day, n) in one.days" :key="n" :d="`M${4 + n * 9} 0v${(day / most(carriers)) * HEIGHT}`" />
        </svg>
        <b>{{ one.says }}</b>
      </div>
      <p v-if="week?.says" class="sum">{{ week.says }}</p>
      <p v-if="week?.over" class="sum too-much"><span aria-hidden="true">▲ </span>{{ week.over }}</p>
    </section>
    <section v-if="without.count" data-test="without">
      <h3>{{ without.counted }} without {{ dateWithin }}</h3>
      <p v-if="without.rows.some((row) => desk.isMoved(row, 0)) && !phone" class="quiet">drag one onto a day</p>
      <div
        v-for="row in without.rows"
        :key="row.id"
        class="waits"
        :draggable="desk.isMoved(row, 0)"
        :class="{ carried: desk.carried.value?.row.id === row.id }"
        @dragstart="desk.lift($event, row, {})"
        @dragend="desk.leave"
        @contextmenu.prevent="desk.menu($event, row, undefined)"
      >
        <button type="button" @click="desk.open(row.id)">{{ desk.nameOf(row) }}</button>
        <button
          v-if="desk.isMoved(row, 0)"
          type="button"
          class="link"
          :aria-label="`day … for ${desk.nameOf(row)}`"
          data-test="give-day"
          @click="desk.give(row, undefined)"
          >day …</button
        >
      </div>
      <p v-if="without.count > without.rows.length" class="quiet">and {{ without.count - without.rows.length }} more</p>
    </section>
  </aside>
</template>

<style scoped>
aside {
  flex: 0 0 224px;
  border-left: 1px solid var(--line-strong);
  padding-left: var(--gap-3);
  overflow: auto;
  font-size: 13px;
}
section + section {
  margin-top: var(--gap-4);
}
h3 {
  font: 600 16px var(--serif);
  margin: 0;
}
p {
  margin: 2px 0 6px;
}
.carrier {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 52px;
  gap: 6px;
  align-items: center;
  padding: 3px 0;
}
.carrier .name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.carrier b {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.carrier path {
  stroke: var(--ink);
  stroke-width: 3;
}
.carrier .rule {
  stroke-width: 1;
}
.sum {
  border-top: 1px solid var(--line-strong);
  padding-top: 4px;
  text-align: right;
}
.too-much {
  border-top: 0;
  color: var(--fault);
  font-weight: 600;
}
.waits {
  display: flex;
  justify-content: space-between;
  gap: 6px;
  border-top: 1px solid var(--line);
  padding: 5px 0;
}
.waits > button:first-child {
  flex: 1;
  font: inherit;
  font-weight: 600;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
  padding: 0;
}
.waits[draggable='true'] {
  cursor: grab;
}
.carried {
  opacity: 0.45;
}
@media print {
  aside {
    display: none;
  }
}
@media (max-width: 700px) {
  aside {
    flex: none;
    border-left: 0;
    border-top: 1px solid var(--line-strong);
    padding: var(--gap-3) 0;
  }
  .waits > button {
    min-height: 44px;
  }
}
</style>
