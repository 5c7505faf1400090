<script setup lang="ts">
// When things happened: a stroke for each part of the time in which something did, the higher the more.
import { computed } from 'vue'

const props = defineProps<{
  /** How many things happened in each part of the time. */
  strokes: readonly number[]
  /** Where it begins, in words. */
  since: string
}>()

const HIGH = 20
const LOW = 6
const most = computed(() => Math.max(1, ...props.strokes))
/** One thing is seen, and many do not rise out of the line. */
const height = (count: number) => LOW + ((HIGH - LOW) * Math.log(count)) / Math.max(1, Math.log(most.value))
const drawn = computed(() =>
  props.strokes.flatMap((count, place) =>
    count ? [{ left: `${(100 * (place + 0.5)) / props.strokes.length}%`, height: `${height(count)}px` }] : [],
  ),
)
</script>

<template>
  <div class="line" aria-hidden="true">
    <span class="rule"><i v-for="(stroke, place) in drawn" :key="place" :style="stroke" /></span>
    <span class="ends"
      ><span>{{ since }}</span
      ><span>now</span></span
    >
  </div>
</template>

<style scoped>
.line {
  max-width: 560px;
  margin: var(--gap-2) 0 var(--gap-1);
}
.rule {
  display: block;
  position: relative;
  height: 22px;
  border-bottom: 1px solid var(--line-strong);
}
i {
  position: absolute;
  bottom: 0;
  width: 2px;
  background: var(--moss);
}
.ends {
  display: flex;
  justify-content: space-between;
  font-size: 12px;
  color: var(--quiet);
}
</style>
