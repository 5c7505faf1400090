<script setup lang="ts">
// What a lane may hold, and whether it stands among the others. Limits warn; they forbid nothing.
import { ref } from 'vue'
import type { LaneLimit } from '@/api/types'
import type { Lane } from './lanes'

const props = defineProps<{
  lane: Lane
  name: string
  many: string
  /** Whether it is known how long records have stood in it. */
  days: boolean
  /** Whether it can go to the left, and to the right. */
  moves: { left: boolean; right: boolean }
  /** Where the order of lanes is that of a field’s options. */
  ordered: string
}>()
const emit = defineEmits<{ limit: [limit: Omit<LaneLimit, 'lane'>]; away: []; narrow: []; move: [by: 1 | -1]; close: [] }>()

const most = ref(props.lane.limit?.most?.toString() ?? '')
const days = ref(props.lane.limit?.days?.toString() ?? '')
const MOST = 1_000_000
const whole = (text: string) => (text.trim() ? Math.min(MOST, Math.max(0, Math.floor(Number(text)))) : undefined)
const isNumber = (text: string) => !text.trim() || /^\d+$/.test(text.trim())
const fits = () => isNumber(most.value) && isNumber(days.value)

function keep() {
  if (!fits()) return
  emit('limit', { most: whole(most.value), days: whole(days.value) })
  emit('close')
}
</script>

<template>
  <form class="settings" @submit.prevent="keep">
    <h3>{{ name }}</h3>
    <p>
      should hold at most
      <input v-model="most" inputmode="numeric" size="4" :aria-label="`Most ${many}`" data-test="most" />
      {{ many
      }}<template v-if="days"
        >, and each for at most <input v-model="days" inputmode="numeric" size="4" aria-label="Most days" data-test="days" /> days</template
      >.
    </p>
    <p v-if="!fits()" class="fault-text" role="alert">A limit is a whole number, or nothing.</p>
    <p class="ways">
      <button type="button" class="link" :disabled="!moves.left" data-test="lane-left" @click="(emit('move', -1), emit('close'))"
        >to the left</button
      >
      <button type="button" class="link" :disabled="!moves.right" data-test="lane-right" @click="(emit('move', 1), emit('close'))"
        >to the right</button
      >
      <button type="button" class="link" data-test="lane-narrow" @click="(emit('narrow'), emit('close'))">{{
        lane.narrow ? 'wide again' : 'narrow'
      }}</button>
    </p>
    <p v-if="ordered" class="quiet">{{ ordered }}</p>
    <p class="quiet">More is shown in red, and not forbidden.</p>
    <p class="acts">
      <v-btn variant="text" data-test="put-away" @click="(emit('away'), emit('close'))">Put the lane away</v-btn>
      <v-btn type="submit" color="primary" data-test="keep-limit">Keep</v-btn>
    </p>
  </form>
</template>

<style scoped>
.settings {
  padding: var(--gap-3);
  max-width: 330px;
}
h3 {
  font: 600 17px var(--serif);
  margin: 0 0 var(--gap-2);
}
p {
  margin: 0 0 var(--gap-2);
}
input {
  width: 56px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: inherit;
  padding: 3px 6px;
  font: inherit;
}
.ways {
  display: flex;
  gap: var(--gap-4);
}
.ways button:disabled {
  color: var(--quiet);
  cursor: default;
}
.acts {
  display: flex;
  justify-content: space-between;
  margin: 0;
}
</style>
