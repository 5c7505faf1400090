<script setup lang="ts">
// On a phone: all lanes as one line at one scale, the one in sight standing out, and the way to its neighbours. Something that is
// carried is put into one of them there.
import { computed } from 'vue'
import { combOf, type Lane } from './lanes'

const props = defineProps<{ lanes: Lane[]; here: Lane; per: number; nameOf: (lane: Lane) => string }>()
const emit = defineEmits<{ turn: [to: Lane] }>()

const beside = (by: 1 | -1) => props.lanes[props.lanes.indexOf(props.here) + by]
const before = computed(() => beside(-1))
const behind = computed(() => beside(1))
const share = (lane: Lane) => Math.max(1, combOf(lane, props.per).plain + combOf(lane, props.per).stuck)
</script>

<template>
  <nav class="turns" aria-label="Lanes">
    <div class="line" aria-hidden="true">
      <i
        v-for="lane in lanes"
        :key="lane.head.key"
        :class="{ here: lane === here }"
        :style="{ flexGrow: share(lane), background: lane.hue ?? 'var(--quiet)' }"
      />
    </div>
    <button v-if="before" type="button" data-test="lane-before" :data-lane-key="before.head.key" @click="emit('turn', before)"
      >‹ {{ before.group.count }} {{ nameOf(before) }}</button
    >
    <span />
    <button v-if="behind" type="button" data-test="lane-behind" :data-lane-key="behind.head.key" @click="emit('turn', behind)"
      >{{ behind.group.count }} {{ nameOf(behind) }} ›</button
    >
  </nav>
</template>

<style scoped>
.turns {
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 2px 8px;
}
.turns .line {
  grid-column: 1 / -1;
  display: flex;
  gap: 2px;
  height: 5px;
}
.turns i {
  opacity: 0.45;
}
.turns i.here {
  opacity: 1;
}
.turns button:last-child {
  grid-column: 3;
  text-align: right;
}
.turns button {
  border: 0;
  background: none;
  color: var(--moss);
  min-height: 40px;
  padding: 0;
  max-width: 44vw;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
