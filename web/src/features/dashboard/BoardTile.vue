<script setup lang="ts">
// A tile on its dashboard: its title is its sentence, which opens its editor; and what can be done with it.
import { computed, ref } from 'vue'
import type { Tile, TileReply } from '@/api/types'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import TileBody from './TileBody.vue'

const props = defineProps<{
  tile: Tile
  told: TileReply
  columns: number
  /** Whether whoever looks may change it. */
  changes: boolean
  first: boolean
  last: boolean
}>()
const emit = defineEmits<{
  edit: [at: string | undefined]
  move: [by: number]
  width: [width: number]
  copy: []
  drop: []
  cell: [row: number, column: number]
}>()
const menu = ref<{ x: number; y: number }>()
const phrases = computed(() => props.told.sentence.filter((phrase) => phrase.tone !== 'offer'))
const name = computed(() => props.tile.title || phrases.value.map((phrase) => phrase.text).join('') || 'Words')

function openMenu(event: MouseEvent) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  menu.value = { x: box.left, y: box.bottom }
}
function act(does: () => void) {
  menu.value = undefined
  does()
}
function key(event: KeyboardEvent) {
  if (!props.changes || !event.altKey) return
  const by = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[event.key]
  if (!by) return
  event.preventDefault()
  emit('move', by)
}
</script>

<template>
  <article :aria-label="name" :data-tile="tile.key" @keydown="key">
    <header>
      <h2>
        <template v-if="tile.title">{{ tile.title }}</template>
        <template v-for="(phrase, n) in tile.title ? [] : phrases" :key="n"
          ><span
            v-if="changes && phrase.at"
            role="button"
            tabindex="0"
            class="phrase"
            @click="emit('edit', phrase.at)"
            @keydown.enter.prevent="emit('edit', phrase.at)"
            @keydown.space.prevent="emit('edit', phrase.at)"
            >{{ phrase.text }}</span
          ><b v-else-if="phrase.tone === 'strong'">{{ phrase.text }}</b
          ><template v-else>{{ phrase.text }}</template></template
        >
      </h2>
      <button
        v-if="changes"
        type="button"
        class="more"
        :aria-label="`What can be done with: ${name}`"
        aria-haspopup="menu"
        data-test="tile-menu"
        @click="openMenu"
        >⋯</button
      >
    </header>
    <p v-if="tile.title && phrases.length" class="quiet says"
      ><button v-if="changes" type="button" class="phrase" @click="emit('edit', undefined)">{{
        phrases.map((phrase) => phrase.text).join('')
      }}</button
      ><template v-else>{{ phrases.map((phrase) => phrase.text).join('') }}</template></p
    >
    <TileBody :tile="tile" :told="told" @cell="(row, column) => emit('cell', row, column)" />
    <PopupMenu :at="menu" :label="name" @close="menu = undefined">
      <button data-test="tile-edit" @click="act(() => emit('edit', undefined))">Change it</button>
      <button :disabled="first" data-test="tile-back" @click="act(() => emit('move', -1))">Move it back <kbd>Alt ←</kbd></button>
      <button :disabled="last" data-test="tile-on" @click="act(() => emit('move', 1))">Move it on <kbd>Alt →</kbd></button>
      <button :disabled="tile.width >= columns" data-test="tile-wider" @click="act(() => emit('width', tile.width + 1))"
        >Make it wider</button
      >
      <button :disabled="tile.width <= 1" data-test="tile-narrower" @click="act(() => emit('width', tile.width - 1))"
        >Make it narrower</button
      >
      <button data-test="tile-copy" @click="act(() => emit('copy'))">Put another like it beside it</button>
      <button data-test="tile-drop" @click="act(() => emit('drop'))">Take it off the page</button>
    </PopupMenu>
  </article>
</template>

<style scoped>
article {
  min-width: 0;
  padding: var(--gap-3) 0 var(--gap-4);
}
header {
  display: flex;
  gap: var(--gap-2);
  align-items: flex-start;
}
h2 {
  flex: 1;
  margin: 0 0 var(--gap-2);
  font: 400 17px/1.4 var(--serif);
}
.phrase {
  display: inline;
  border: 0;
  padding: 0;
  background: none;
  color: var(--moss);
  font: inherit;
  text-align: left;
  border-bottom: 1px dashed currentColor;
  cursor: pointer;
}
.says {
  margin: -4px 0 var(--gap-2);
  font-size: 13px;
}
.says .phrase {
  color: inherit;
}
.more {
  border: 0;
  background: none;
  color: var(--quiet);
  font-size: 18px;
  line-height: 1;
  min-width: 32px;
  min-height: 28px;
  cursor: pointer;
}
@media print {
  .more {
    display: none;
  }
  article {
    break-inside: avoid;
  }
}
</style>
