<script setup lang="ts">
// The life of a record: a stroke for each change, until now. What each was stands in the trail, to which a stroke leads.
import { computed } from 'vue'
import type { TrailEntry } from '@/api/types'
import { lifeOf } from './life'

const props = defineProps<{ trail: TrailEntry[]; made: string; changed: string }>()
const emit = defineEmits<{ to: [seq: number] }>()

const strokes = computed(() => lifeOf(props.trail, Date.now()))
const entry = (seq: number) => props.trail.find((one) => one.seq === seq)
const told = (seq: number) => [entry(seq)?.who, entry(seq)?.at_text].filter(Boolean).join(', ')
</script>

<template>
  <div class="life" data-test="life">
    <!-- The trail says the same in words, for whom this picture is none. -->
    <div class="line" aria-hidden="true">
      <button
        v-for="one in strokes"
        :key="one.seq"
        type="button"
        tabindex="-1"
        :class="{ tall: one.tall }"
        :style="{ left: `${one.far * 100}%` }"
        :title="told(one.seq)"
        @click="emit('to', one.seq)"
      />
      <i />
    </div>
    <p>
      <span>{{ made && `made ${made}` }}</span>
      <span v-if="changed && changed !== made" class="last">last changed {{ changed }}</span>
      <b>now</b>
    </p>
  </div>
</template>

<style scoped>
.life {
  margin: var(--gap-2) 0 var(--gap-4);
}
.line {
  position: relative;
  height: 22px;
  border-bottom: 2px solid var(--moss);
}
.line :is(button, i) {
  position: absolute;
  bottom: 0;
}
/* As wide as can be pressed, drawn as a stroke. */
.line button {
  width: 11px;
  height: 22px;
  margin-left: -5px;
  padding: 0;
  border: 0;
  background: linear-gradient(var(--moss), var(--moss)) 50% 100% / 2px 7px no-repeat;
  cursor: pointer;
}
.line .tall {
  background-size: 2px 15px;
}
.line button:hover {
  background-size: 4px 15px;
}
.line i {
  right: 0;
  bottom: -7px;
  width: 2px;
  height: 28px;
  background: var(--ink);
}
p {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-4);
  margin: 6px 0 0;
  font-size: 12.5px;
  color: var(--quiet);
}
p b {
  margin-left: auto;
  color: var(--ink);
}
</style>
