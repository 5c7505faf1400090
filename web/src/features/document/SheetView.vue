<script setup lang="ts">
// The true sheet: its pages as they are printed, tied to the running order by the numbers in its margin, which are not.
import { computed, onUnmounted, ref, watch } from 'vue'
import type { PlacedBlock, PreviewView } from '@/api/types'

const props = defineProps<{
  preview: PreviewView
  /** The open block, from 1. */
  open: number | undefined
}>()
const emit = defineEmits<{ open: [number: number] }>()

const pages = ref<string[]>([])
const forget = () => pages.value.forEach((page) => URL.revokeObjectURL(page))
watch(
  () => props.preview.pages,
  (drawn) => {
    const before = pages.value
    pages.value = drawn.map((page) => URL.createObjectURL(new Blob([page], { type: 'image/svg+xml' })))
    // The old ones stay until the new ones stand there.
    requestAnimationFrame(() => requestAnimationFrame(() => before.forEach((page) => URL.revokeObjectURL(page))))
  },
  { immediate: true },
)
onUnmounted(forget)

const more = computed(() => props.preview.count - props.preview.pages.length)
const on = (page: number) => props.preview.blocks.filter((block) => block.page === page)
/** A number stands where its block begins. */
const begins = (block: PlacedBlock) => props.preview.blocks.find((one) => one.number === block.number) === block
const across = (mm: number) => `${(100 * mm) / props.preview.width}%`
const down = (mm: number) => `${(100 * mm) / props.preview.height}%`
const label = (page: number) => `${props.preview.name}, page ${page + 1} of ${props.preview.count}`
</script>

<template>
  <div class="pages">
    <div
      v-for="(page, n) in pages"
      :key="n"
      class="page"
      :style="{ aspectRatio: `${preview.width} / ${preview.height}`, '--shape': preview.width / preview.height }"
      data-test="page"
    >
      <img :src="page" :alt="label(n)" />
      <template v-for="block in on(n)" :key="block.number">
        <span
          v-if="block.number === open"
          class="frame"
          :style="{
            left: across(block.left - 2),
            top: down(block.top - 1.5),
            width: across(block.width + 4),
            height: down(block.height + 3),
          }"
        />
        <button
          v-if="begins(block)"
          type="button"
          class="number"
          :class="{ open: block.number === open }"
          :style="{ left: across(Math.max(1, block.left - 8)), top: down(block.top) }"
          :aria-label="`Block ${block.number}`"
          @click="emit('open', block.number)"
          >{{ block.number }}</button
        >
      </template>
    </div>
    <p v-if="more > 0" class="quiet">and {{ more }} more pages</p>
  </div>
</template>

<style scoped>
.pages {
  display: grid;
  gap: var(--gap-5);
  justify-items: center;
}
.page {
  position: relative;
  /* As large as there is room for it to be seen whole. */
  width: min(100%, calc((100dvh - var(--band) - 90px) * var(--shape)));
  /* Paper is white, whatever the screen is. */
  background: #fff;
  border: 1px solid var(--line-strong);
}
img {
  display: block;
  width: 100%;
  height: 100%;
}
.frame {
  position: absolute;
  border: 1.5px solid #4e5b1e;
  pointer-events: none;
}
.number {
  position: absolute;
  min-width: 24px;
  min-height: 24px;
  padding: 0;
  border: 0;
  background: none;
  color: #4e5b1e;
  font: 700 12px/1 var(--sans);
  text-align: left;
  translate: 0 -5px;
  cursor: pointer;
}
.number.open {
  text-decoration: underline;
}
@media (max-width: 800px) {
  .page {
    width: 100%;
  }
  .number {
    translate: -4px -5px;
  }
}
</style>
