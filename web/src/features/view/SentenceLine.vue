<script setup lang="ts">
// The sentence is the control: each phrase opens its editor right there.
import { computed, nextTick, ref } from 'vue'
import { isIn, ruleOf } from '@/app/pointer'
import type { Fault, Look, Phrase } from '@/api/types'
import { lookClass, lookStyle } from '@/features/highlight/looks'

const props = defineProps<{
  phrases: Phrase[]
  /** Set large, where the sentence is the page. */
  large?: boolean
  /** How a phrase that says how something looks is set: as that looks. */
  looks?: (at: string) => Look | undefined
  /** What is wrong with the rule, at the places that phrases stand for. */
  faults?: Pick<Fault, 'pointer' | 'message'>[]
}>()
const emit = defineEmits<{ drop: [at: string]; closed: [] }>()
defineOptions({ inheritAttrs: false })
defineSlots<{ editor(props: { at: string; close: () => void }): unknown }>()

// The editor belongs to the part of the rule and stays where it was opened: the sentence is rewritten beneath it while one edits.
const open = ref<{ at: string; target: [number, number] }>()
const line = ref<HTMLElement>()
const shown = computed({
  get: () => !!open.value,
  set: (is) => {
    if (!is) close()
  },
})

function press(event: MouseEvent, at: string) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  open.value = { at, target: [box.left, box.bottom + 6] }
}

function close() {
  const at = open.value?.at
  open.value = undefined
  emit('closed')
  if (at !== undefined) void nextTick(() => (phraseAt(`="${at}"`) ?? phraseAt(`^="${ruleOf(at)}"`))?.focus())
}

/** Puts the focus on the first phrase that can be edited. */
function focus() {
  line.value?.querySelector<HTMLElement>('button')?.focus()
}

const phraseAt = (which: string) => line.value?.querySelector<HTMLElement>(`[data-at${which}]`)

/** Opens the editor of a rule: at its first phrase, or at what offers it. */
function openRule(at: string) {
  phraseAt(`^="${at}"`)?.click()
}
defineExpose({ focus, open: openRule })

/** What is wrong with what a phrase says. Of what is wrong with no single phrase, its offer tells. */
function wrong(phrase: Phrase): string {
  const here = props.faults?.filter(({ pointer }) => (phrase.tone === 'offer' ? pointer === phrase.at : isIn(pointer, phrase.at ?? '-')))
  return here?.map(({ message }) => message).join(' ') ?? ''
}
const isOpen = (phrase: Phrase) => !!open.value && ruleOf(open.value.at) === ruleOf(phrase.at ?? '')
</script>

<template>
  <p ref="line" v-bind="$attrs" class="sentence" :class="{ large }">
    <template v-for="(phrase, place) in phrases" :key="place">
      <button
        v-if="phrase.at"
        :class="[phrase.tone === 'offer' ? 'offer' : 'phrase as-looks', { wrong: wrong(phrase) }, lookClass(looks?.(phrase.at))]"
        :style="lookStyle(looks?.(phrase.at))"
        :data-at="phrase.at"
        :title="wrong(phrase) || undefined"
        aria-haspopup="dialog"
        :aria-expanded="isOpen(phrase)"
        @click="press($event, phrase.at)"
        @keydown.delete.prevent="phrase.tone === 'edit' && emit('drop', phrase.at)"
        >{{ phrase.text }}</button
      >
      <b v-else-if="phrase.tone === 'strong'">{{ phrase.text }}</b>
      <span v-else>{{ phrase.text }}</span>
    </template>
  </p>
  <v-menu v-model="shown" :target="open?.target" :close-on-content-click="false" location="bottom start" scroll-strategy="none">
    <div v-if="open" class="pop" role="dialog" aria-label="Edit this part of the sentence" @keydown.esc.stop="close">
      <slot name="editor" :at="open.at" :close="close" />
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
.phrase.wrong {
  color: var(--fault);
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
  /* The menu is as high as there is room; what is longer is walked within. */
  max-height: inherit;
  overflow: auto;
}
</style>
