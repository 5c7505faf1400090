<script setup lang="ts">
// The boundary behind the fields that stay in sight when rows are moved sideways. Drawn along, it keeps more of them or fewer.
import { computed, ref } from 'vue'

const props = defineProps<{
  /** How many fields stay. */
  keeps: number
  /** Where each field ends when nothing is moved sideways, in CSS pixels from the left. */
  ends: number[]
  /** Where the first field begins. */
  from: number
}>()
const emit = defineEmits<{ keep: [fields: number] }>()

const edge = ref<HTMLElement>()
const dragged = ref<number>()
/** The boundary that lies nearest to a point. */
function nearest(x: number): number {
  const edges = [props.from, ...props.ends.slice(0, -1)]
  return edges.reduce((best, end, n) => (Math.abs(end - x) < Math.abs(edges[best]! - x) ? n : best), 0)
}
const shown = computed(() => dragged.value ?? props.keeps)
const left = computed(() => (shown.value ? props.ends[shown.value - 1]! : props.from))
function grip(event: PointerEvent) {
  dragged.value = props.keeps
  edge.value?.setPointerCapture?.(event.pointerId)
}
function pull(event: PointerEvent) {
  const box = edge.value?.parentElement?.getBoundingClientRect()
  if (dragged.value !== undefined && box) dragged.value = nearest(event.clientX - box.left)
}
function letGo() {
  const now = dragged.value
  dragged.value = undefined
  if (now !== undefined && now !== props.keeps) emit('keep', now)
}
function keys(event: KeyboardEvent) {
  const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  const to = props.keeps + by
  if (!by || to < 0 || to >= props.ends.length) return
  event.preventDefault()
  event.stopPropagation()
  emit('keep', to)
}
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- a separator that is moved -->
  <div
    ref="edge"
    class="edge"
    role="separator"
    aria-orientation="vertical"
    tabindex="0"
    :aria-valuenow="keeps"
    :aria-valuemin="0"
    :aria-valuemax="ends.length - 1"
    :aria-label="`Fields that stay in place: ${keeps}`"
    title="Drag it: what stands before it stays in place"
    :class="{ dragged: dragged !== undefined }"
    :style="{ left: `${left}px` }"
    data-test="keep-edge"
    @pointerdown.prevent="grip"
    @pointermove="pull"
    @pointerup="letGo"
    @pointercancel="dragged = undefined"
    @keydown="keys"
  />
</template>

<style scoped>
.edge {
  position: absolute;
  top: 0;
  width: 7px;
  margin-left: -4px;
  height: 33px;
  z-index: 4;
  cursor: col-resize;
  touch-action: none;
}
.edge::after {
  content: '';
  position: absolute;
  inset: 6px 3px;
  border-left: 2px solid var(--line-strong);
}
.edge:hover::after,
.edge:focus-visible::after {
  border-left-color: var(--moss);
}
/* While it is drawn, it runs down all rows. */
.edge.dragged {
  height: 100%;
}
.edge.dragged::after {
  inset: 0 3px;
  border-left-color: var(--copper);
}
</style>
