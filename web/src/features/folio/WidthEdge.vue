<script setup lang="ts">
// The edge of a field in two columns: drawn out, it takes both, drawn in again, one; by arrow keys, or pressed, too.
import { ref } from 'vue'
import { isWideAt } from './arranging'

const props = defineProps<{ name: string; wide: boolean }>()
const emit = defineEmits<{ set: [wide: boolean] }>()

const edge = ref<HTMLElement>()
/** Where one took hold of it, and how wide the columns were together, in pixels. */
let begun: { x: number; whole: number } | undefined
let drawn = false

function hold(event: PointerEvent) {
  const columns = edge.value?.closest('.fields')
  begun = { x: event.clientX, whole: columns?.clientWidth ?? 0 }
  drawn = false
  edge.value?.setPointerCapture(event.pointerId)
}
function draw(event: PointerEvent) {
  if (!begun) return
  const wide = isWideAt(props.wide, event.clientX - begun.x, begun.whole)
  if (wide === props.wide) return
  drawn = true
  begun = { ...begun, x: event.clientX }
  emit('set', wide)
}
const letGo = () => (begun = undefined)
/** Drawing it ends in a press, too. */
const press = () => (drawn ? (drawn = false) : emit('set', !props.wide))
const say = (wide: boolean) => wide !== props.wide && emit('set', wide)
</script>

<template>
  <button
    ref="edge"
    type="button"
    class="edge"
    :aria-pressed="wide"
    :aria-label="`${name} takes both columns`"
    :title="wide ? 'Draw it in, and it takes one column' : 'Draw it out, and it takes both columns'"
    :data-edge="name"
    @pointerdown="hold"
    @pointermove="draw"
    @pointerup="letGo"
    @pointercancel="letGo"
    @click="press"
    @keydown.right.prevent="say(true)"
    @keydown.left.prevent="say(false)"
  />
</template>

<style scoped>
.edge {
  align-self: stretch;
  width: 24px;
  min-height: 34px;
  margin-left: auto;
  padding: 0;
  border: 0;
  background: linear-gradient(var(--line-strong), var(--line-strong)) 100% 50% / 3px 22px no-repeat;
  cursor: ew-resize;
  touch-action: none;
}
.edge:hover,
.edge:focus-visible {
  background-image: linear-gradient(var(--moss), var(--moss));
}
@media (pointer: coarse) {
  .edge {
    width: 44px;
  }
}
</style>
