<script setup lang="ts">
// The margin of a row. As in an edition every fifth line bears its number; the others say theirs when one is at them. Pressed, it
// selects the row; carried, it takes the row along.
const props = defineProps<{
  /** From 0. */
  place: number
  /** What the row is called. */
  name: string
  selected: boolean
  /** It is chosen. */
  picked: boolean
  carries: boolean
}>()
const emit = defineEmits<{ press: [event: MouseEvent]; lift: [event: DragEvent]; leave: [] }>()

function lift(event: DragEvent) {
  event.dataTransfer?.setData('text/plain', props.name)
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move'
  emit('lift', event)
}
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events, vuejs-accessibility/interactive-supports-focus -- the grid hears the keys: Shift and space selects, Alt and Shift with arrows carries -->
  <div
    role="rowheader"
    class="margin"
    :class="{ selected, carries, picked }"
    :aria-selected="picked || undefined"
    :draggable="carries"
    :data-margin="place + 1"
    :title="carries ? 'Press to select the row, drag to put it elsewhere' : 'Press to select the row'"
    @mousedown.stop
    @click="emit('press', $event)"
    @dragstart="lift"
    @dragend="emit('leave')"
    ><span v-if="picked" class="said" aria-label="chosen">✓</span
    ><span v-else :class="{ said: (place + 1) % 5 === 0 }">{{ place + 1 }}</span></div
  >
</template>

<style scoped>
.margin {
  position: sticky;
  left: 0;
  z-index: 1;
  padding: 0 8px 0 0;
  text-align: right;
  font: italic 13px / 32px var(--serif);
  font-variant-numeric: tabular-nums;
  color: var(--quiet);
  background: var(--sheet);
  cursor: default;
  user-select: none;
  overflow: hidden;
}
.margin > span:not(.said) {
  opacity: 0;
}
.margin:hover > span,
.selected > span,
:global(.here > .margin > span) {
  opacity: 1 !important;
}
.carries {
  cursor: grab;
}
/* What can be carried shows where it is taken hold of. */
.carries:hover {
  color: var(--ink);
}
.carries:hover::before {
  content: '';
  position: absolute;
  inset: 9px auto 9px 3px;
  width: 5px;
  background: radial-gradient(circle, var(--quiet) 1px, transparent 1.4px) 0 0 / 3px 4px;
}
.picked,
.selected {
  background: var(--moss-soft);
  color: var(--ink);
  font-weight: 600;
}
</style>
