<script setup lang="ts">
// One of the twelve hues, each drawn as it would look, by its name.
import type { Hue, Look } from '@/api/types'
import { lookClass, lookStyle } from '@/features/highlight/looks'

const props = defineProps<{
  /** Nothing: none is chosen. */
  modelValue: Hue | null | undefined
  /** How something in a hue looks. */
  as: (hue: Hue) => Look
  /** What they are called for the tests: *ink*, *edge*. */
  of: string
  /** What stands before a hue where it is read out. */
  says?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [hue: Hue | null] }>()

const HUES: Hue[] = ['heather', 'bracken', 'slate', 'gorse', 'lichen', 'peat', 'rowan', 'sky', 'fern', 'clay', 'plum', 'flint']
const put = (hue: Hue) => emit('update:modelValue', props.modelValue === hue ? null : hue)
</script>

<template>
  <span class="hues">
    <button
      v-for="hue in HUES"
      :key="hue"
      type="button"
      :aria-pressed="modelValue === hue"
      :class="lookClass(as(hue))"
      :style="lookStyle(as(hue))"
      :aria-label="says ? `${says} ${hue}` : undefined"
      v-bind="{ [`data-${of}`]: hue }"
      @click="put(hue)"
      >{{ hue }}</button
    >
  </span>
</template>

<style scoped>
.hues {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px;
}
button {
  border: 0;
  background: none;
  color: inherit;
  font: 13px var(--sans);
  cursor: pointer;
  padding: 3px 8px;
  min-height: 28px;
  border-radius: var(--corner);
}
.look-edge {
  padding-left: 10px;
}
button[aria-pressed='true'] {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
@media (pointer: coarse) {
  button {
    min-height: 40px;
    min-width: 40px;
  }
}
</style>
