<script setup lang="ts">
// The sentence is the control: each phrase opens its editor right there.
import { nextTick, ref } from 'vue'
import type { Node, Phrase } from '@/api/types'

const props = defineProps<{ phrases: Phrase[] }>()
const emit = defineEmits<{ drop: [node: Node] }>()
defineSlots<{ editor(props: { node: Node; close: () => void }): unknown }>()

const open = ref<number>()
const line = ref<HTMLElement>()

function opened(place: number, is: boolean) {
  open.value = is ? place : undefined
}

function close() {
  const place = open.value
  open.value = undefined
  void nextTick(() => line.value?.querySelectorAll<HTMLElement>('[data-phrase]')[place ?? 0]?.focus())
}

/** Puts the focus on the first phrase that can be edited. */
function focus() {
  line.value?.querySelector<HTMLElement>('button')?.focus()
}
defineExpose({ focus, opened, props })
</script>

<template>
  <p ref="line" class="sentence">
    <template v-for="(phrase, place) in phrases" :key="place">
      <v-menu
        v-if="phrase.node"
        :model-value="open === place"
        :close-on-content-click="false"
        location="bottom start"
        offset="6"
        @update:model-value="opened(place, $event)"
      >
        <template #activator="{ props: activator }">
          <button
            v-bind="activator"
            data-phrase
            :class="phrase.tone === 'offer' ? 'offer' : 'phrase'"
            :data-part="phrase.node.part"
            @keydown.delete.prevent="phrase.tone === 'edit' && emit('drop', phrase.node)"
          >{{ phrase.text }}</button>
        </template>
        <div class="pop" role="dialog" :aria-label="phrase.text" @keydown.esc.stop="close">
          <slot name="editor" :node="phrase.node" :close="close" />
        </div>
      </v-menu>
      <b v-else-if="phrase.tone === 'strong'">{{ phrase.text }}</b>
      <span v-else>{{ phrase.text }}</span>
    </template>
  </p>
</template>

<style scoped>
.sentence {
  font: 17px/1.6 var(--serif);
  color: var(--quiet);
  margin: 0;
  white-space: pre-wrap;
}
.sentence b {
  font-weight: 600;
  color: var(--ink);
}
.phrase,
.offer {
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
}
.phrase {
  font: inherit;
  line-height: 1.15;
  color: var(--moss);
  border-bottom: 1px dashed currentColor;
  text-align: left;
}
.phrase:hover,
.phrase[aria-expanded='true'] {
  background: var(--moss-soft);
  border-bottom-style: solid;
}
.offer {
  font: 14px var(--sans);
  color: var(--quiet);
  margin-left: 10px;
}
.offer::before {
  content: '+ ';
  color: var(--moss);
}
.offer:hover {
  color: var(--ink);
}
.pop {
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  box-shadow: 0 6px 22px rgb(35 38 31 / 13%);
  padding: var(--gap-3) var(--gap-4);
  min-width: 300px;
  max-width: min(620px, 94vw);
}
</style>
