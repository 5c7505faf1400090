<script setup lang="ts">
// A highlight in the list: its number, which is also its handle, and its sentence, set as what it does.
import { computed } from 'vue'
import type { HighlightView } from '@/api/types'
import { lookSaidAt, type Drafted } from './drafting'
import SaidPhrase from './SaidPhrase.vue'

const props = defineProps<{
  one: HighlightView
  /** Nothing stands higher. */
  first: boolean
  builds: boolean
  /** The view in which it is off, by its name. */
  off: string
}>()
const emit = defineEmits<{
  point: []
  /** So many places down. */
  move: [by: number]
  /** Its number is carried, or let go. */
  lift: [is: boolean]
  write: []
  /** It is to be taken to another field, table or tracker. */
  copy: []
}>()

const read = computed<Drafted>(() => ({
  condition: props.one.highlight.condition ?? { all: [] },
  touches: props.one.highlight.touches ?? [],
}))
function keys(event: KeyboardEvent) {
  const by = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (!event.altKey || !by) return
  event.preventDefault()
  emit('move', by)
}
</script>

<template>
  <div class="line" :class="{ off: !!off }">
    <button
      :id="`highlight-${one.highlight.id}`"
      type="button"
      class="number"
      :draggable="builds"
      :aria-label="`Highlight ${one.number}`"
      :aria-keyshortcuts="builds ? 'Alt+ArrowUp Alt+ArrowDown' : undefined"
      :title="builds ? 'Drag it, or Alt with ↑ and ↓: what stands higher goes before' : undefined"
      @click="emit('point')"
      @keydown="keys"
      @dragstart="emit('lift', true)"
      @dragend="emit('lift', false)"
      >{{ one.number }}</button
    >
    <div>
      <p class="said"
        ><template v-for="(phrase, n) in one.words.sentence" :key="n"
          ><SaidPhrase v-if="phrase.tone !== 'offer'" :phrase="phrase" :look="lookSaidAt(read, phrase.at ?? '')" /></template
      ></p>
      <p class="quiet small"
        ><b>{{ one.words.matching }}</b> now<template v-if="off">, off in {{ off }}</template></p
      >
    </div>
    <div v-if="builds" class="ways">
      <button type="button" class="link" data-test="write-highlight" :aria-label="`change highlight ${one.number}`" @click="emit('write')"
        >change</button
      >
      <button
        type="button"
        class="link"
        data-test="copy-highlight-to"
        :aria-label="`copy to …: highlight ${one.number}`"
        @click="emit('copy')"
        >copy to …</button
      >
      <button v-if="!first" type="button" class="link" :aria-label="`highlight ${one.number} higher`" @click="emit('move', -1)"
        >higher</button
      >
    </div>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr) auto;
  gap: 0 var(--gap-2);
  padding: var(--gap-2) 0;
  align-items: start;
}
.off {
  color: var(--quiet);
}
.number {
  border: 1px solid transparent;
  background: none;
  color: var(--ink);
  font: 600 16px/1.5 var(--serif);
  cursor: grab;
  min-height: 28px;
}
.number:hover,
.pointed .number {
  border-color: var(--line-strong);
  background: var(--sheet);
}
.said {
  font: 17px/1.5 var(--serif);
  margin: 0;
}
.small {
  font-size: 12.5px;
  margin: 2px 0 0;
}
.ways {
  display: grid;
  justify-items: end;
}
@media (pointer: coarse) {
  .number,
  .link {
    min-height: 40px;
    min-width: 40px;
  }
}
</style>
