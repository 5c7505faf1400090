<script setup lang="ts">
// The head of a lane: its comb, how many it holds, its figure, and what is amiss.
import { computed } from 'vue'
import type { Field } from '@/api/types'
import LaneComb from './LaneComb.vue'
import type { Lane } from './lanes'

const props = defineProps<{
  lane: Lane
  per: number
  field: Field | undefined
  /** Records that are carried over it. */
  coming: number
  tallies: { key: string; name: string }[]
}>()
const emit = defineEmits<{ settings: [event: MouseEvent] }>()

const name = computed(() => props.lane.group.text || `no ${props.field?.within ?? 'value'}`)
const over = computed(() => Math.max(0, props.lane.group.count + props.coming - (props.lane.limit?.most ?? Infinity)))
const amiss = computed(() => {
  const { most, days } = props.lane.limit ?? {}
  const { stuck, count } = props.lane.group
  return [
    over.value
      ? { bad: true, text: `${over.value} over its limit of ${most}` }
      : most != null && count === most
        ? { bad: false, text: `at its limit of ${most}` }
        : undefined,
    stuck ? { bad: true, text: `${stuck} ${stuck === 1 ? 'stands' : 'stand'} over ${days} days` } : undefined,
  ].filter((one) => one !== undefined)
})
</script>

<template>
  <div class="head" :class="{ narrow: lane.narrow }" :data-lane="lane.group.text">
    <LaneComb :lane="lane" :per="per" :coming="coming" />
    <h2>
      <button type="button" :aria-label="`What this lane may hold: ${lane.group.count} ${name}`" @click="emit('settings', $event)"
        >{{ lane.group.count }} <span class="name">{{ name }}</span></button
      >
      <em v-if="coming"> → {{ lane.group.count + coming }}</em>
      <span v-if="lane.group.tallies[0]?.text" class="figure" :title="tallies[0]?.name">{{ lane.group.tallies[0].text }}</span>
    </h2>
    <p v-for="one in amiss" :key="one.text" :class="{ bad: one.bad }"><span v-if="one.bad" aria-hidden="true">▲ </span>{{ one.text }}</p>
    <p v-for="(tally, n) in lane.group.tallies.slice(1)" :key="tallies[n + 1]?.key"
      >{{ tallies[n + 1]?.name }} <b>{{ tally.text || '–' }}</b></p
    >
  </div>
</template>

<style scoped>
.head {
  border-top: 1px solid var(--line-strong);
  padding: 0 10px 6px 0;
  min-width: 0;
}
h2 {
  font: 600 19px/1.25 var(--serif);
  margin: 2px 0 0;
  display: flex;
  align-items: baseline;
  gap: 6px;
}
h2 button {
  font: inherit;
  color: inherit;
  border: 0;
  background: none;
  padding: 0;
  text-align: left;
  cursor: pointer;
  overflow-wrap: anywhere;
}
h2 button:hover .name {
  text-decoration: underline;
}
h2 em {
  font-style: normal;
  color: var(--copper);
}
.narrow h2 {
  font-size: 16px;
  flex-wrap: wrap;
}
.narrow .figure {
  margin-left: 0;
}
.figure {
  margin-left: auto;
  font: 500 13.5px var(--sans);
  white-space: nowrap;
}
p {
  margin: 1px 0 0;
  font-size: 12.5px;
  color: var(--quiet);
}
p b {
  font-weight: 600;
  color: var(--ink);
}
.bad {
  color: var(--fault);
  font-weight: 600;
}
</style>
