<script setup lang="ts">
// The sentence is the control: each phrase opens its editor right there.
import { computed, nextTick, ref } from 'vue'
import type { Node, Phrase } from '@/api/types'

defineProps<{
  phrases: Phrase[]
  /** Set large, where the sentence is the page. */
  large?: boolean
}>()
const emit = defineEmits<{ drop: [node: Node]; closed: [] }>()
defineSlots<{ editor(props: { node: Node; close: () => void }): unknown }>()

// The editor belongs to the part of the rule and stays where it was opened: the sentence is rewritten beneath it while one edits.
const open = ref<{ node: Node; at: [number, number] }>()
const line = ref<HTMLElement>()
const shown = computed({
  get: () => !!open.value,
  set: (is) => {
    if (!is) close()
  },
})

function press(event: MouseEvent, node: Node) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  open.value = { node, at: [box.left, box.bottom + 6] }
}

function close() {
  const part = open.value?.node.part
  open.value = undefined
  emit('closed')
  void nextTick(() => line.value?.querySelector<HTMLElement>(`[data-part=${part}]`)?.focus())
}

/** Puts the focus on the first phrase that can be edited. */
function focus() {
  line.value?.querySelector<HTMLElement>('button')?.focus()
}

/** Opens the editor of a part: at its phrase, or at what offers it. */
function openPart(part: Node['part']) {
  line.value?.querySelector<HTMLElement>(`[data-part=${part}]`)?.click()
}
defineExpose({ focus, open: openPart })
</script>

<template>
  <p ref="line" class="sentence" :class="{ large }">
    <template v-for="(phrase, place) in phrases" :key="place">
      <button
        v-if="phrase.node"
        :class="phrase.tone === 'offer' ? 'offer' : 'phrase'"
        :data-part="phrase.node.part"
        aria-haspopup="dialog"
        :aria-expanded="open?.node.part === phrase.node.part"
        @click="press($event, phrase.node)"
        @keydown.delete.prevent="phrase.tone === 'edit' && emit('drop', phrase.node)"
        >{{ phrase.text }}</button
      >
      <b v-else-if="phrase.tone === 'strong'">{{ phrase.text }}</b>
      <span v-else>{{ phrase.text }}</span>
    </template>
  </p>
  <v-menu v-model="shown" :target="open?.at" :close-on-content-click="false" location="bottom start" scroll-strategy="none">
    <div v-if="open" class="pop" role="dialog" aria-label="Edit this part of the sentence" @keydown.esc.stop="close">
      <slot name="editor" :node="open.node" :close="close" />
    </div>
  </v-menu>
</template>

<style scoped>
.sentence {
  font: 17px/1.6 var(--serif);
  color: var(--quiet);
  margin: 0;
  white-space: pre-wrap;
}
.large {
  font-size: 22px;
  line-height: 1.55;
  color: var(--ink);
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
