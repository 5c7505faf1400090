<script setup lang="ts">
// Files looked at large, one after the other: pictures, PDFs, texts, recordings and films in their place; others are named, to be kept.
import { computed, ref, useTemplateRef, watch } from 'vue'
import { saying } from '@/api/client'
import { addressOf, facts, shownAs, type Attachment } from './files'

const props = defineProps<{
  files: readonly Attachment[]
  /** Whether pictures may be turned. */
  turns?: boolean
  /** A picture is being turned. */
  busy?: boolean
}>()
/** The place of the one that is looked at. */
const at = defineModel<number>({ required: true })
const emit = defineEmits<{ leave: []; turn: [file: Attachment, quarters: number] }>()

const file = computed(() => props.files[at.value])
const shown = computed(() => file.value && shownAs(file.value))
const turned = computed(() => props.turns && shown.value === 'picture')
const sheet = useTemplateRef<HTMLElement>('sheet')

const text = ref('')
watch(
  file,
  async (file) => {
    text.value = ''
    if (!file || shownAs(file) !== 'text') return
    const read = await fetch(addressOf(file))
      .then((answer) => answer.text())
      .catch(saying)
    if (props.files[at.value] === file) text.value = read
  },
  { immediate: true },
)

function walk(by: number) {
  const to = at.value + by
  if (to >= 0 && to < props.files.length) at.value = to
}

function keys(event: KeyboardEvent) {
  // What plays or scrolls has its own keys.
  if (event.target instanceof HTMLMediaElement || event.altKey || event.ctrlKey || event.metaKey) return
  if (event.key === 'ArrowRight' || event.key === 'PageDown') walk(1)
  else if (event.key === 'ArrowLeft' || event.key === 'PageUp') walk(-1)
  else return
  event.preventDefault()
}
</script>

<template>
  <v-dialog
    :model-value="!!file"
    fullscreen
    :transition="false"
    :aria-label="file ? `File ${at + 1} of ${files.length}` : undefined"
    @update:model-value="emit('leave')"
    @after-enter="sheet?.focus()"
  >
    <section v-if="file" ref="sheet" class="glass" tabindex="-1" @keydown="keys">
      <header>
        <h2>{{ file.name }}</h2>
        <span class="quiet">{{ facts(file) }}</span>
        <span class="gap" />
        <template v-if="turned">
          <button class="word" :disabled="busy" @click="emit('turn', file, 3)">turn left</button>
          <button class="word" :disabled="busy" @click="emit('turn', file, 1)">turn right</button>
        </template>
        <a v-if="shown !== 'address'" class="word" :href="addressOf(file, 'keep')" :download="file.name">keep a copy</a>
        <button class="word" @click="emit('leave')">close</button>
      </header>
      <div class="body" aria-live="polite">
        <img v-if="shown === 'picture'" :src="addressOf(file)" :alt="file.name" />
        <iframe v-else-if="shown === 'pdf'" :src="addressOf(file)" :title="file.name" />
        <!-- eslint-disable-next-line vuejs-accessibility/media-has-caption -- what somebody hung on a record comes without one -->
        <audio v-else-if="shown === 'sound'" :key="file.id" controls :src="addressOf(file)" :aria-label="file.name" />
        <!-- eslint-disable-next-line vuejs-accessibility/media-has-caption -- the same -->
        <video v-else-if="shown === 'film'" :key="file.id" controls :src="addressOf(file)" :aria-label="file.name" />
        <pre v-else-if="shown === 'text'" tabindex="0">{{ text }}</pre>
        <p v-else-if="shown === 'address'">
          <a :href="file.id" target="_blank" rel="noreferrer noopener">{{ file.id }}</a>
        </p>
        <p v-else>This kind of file is not shown here. Keep a copy to open it.</p>
      </div>
      <footer v-if="files.length > 1">
        <button class="word" :disabled="at === 0" @click="walk(-1)">before</button>
        <span class="figures">{{ at + 1 }} of {{ files.length }}</span>
        <button class="word" :disabled="at === files.length - 1" @click="walk(1)">next</button>
      </footer>
    </section>
  </v-dialog>
</template>

<style scoped>
.glass {
  display: flex;
  flex-direction: column;
  height: 100%;
  background: var(--stone);
  color: var(--ink);
}
.glass:focus {
  outline: none;
}
header,
footer {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 14px;
  padding: 10px var(--gap-4);
  border-bottom: 1px solid var(--line);
}
h2 {
  font: 600 18px/1.3 var(--serif);
  overflow-wrap: anywhere;
}
.gap {
  flex: 1;
}
footer {
  justify-content: center;
  border: 0;
  border-top: 1px solid var(--line);
}
.body {
  flex: 1;
  min-height: 0;
  display: flex;
  align-items: center;
  justify-content: center;
  padding: var(--gap-4);
  overflow: auto;
}
img,
video {
  max-width: 100%;
  max-height: 100%;
  object-fit: contain;
}
iframe {
  width: 100%;
  height: 100%;
  border: 1px solid var(--line);
  background: var(--sheet);
}
audio {
  width: min(100%, 560px);
}
pre {
  align-self: stretch;
  width: min(100%, 900px);
  overflow: auto;
  white-space: pre-wrap;
  font: 14px/1.5 var(--sans);
  background: var(--sheet);
  padding: var(--gap-4);
  border: 1px solid var(--line);
}
.word {
  min-height: 28px;
  padding: 2px 6px;
  border: 0;
  background: none;
  color: var(--moss);
  font: 14px var(--sans);
  cursor: pointer;
}
.word:disabled {
  color: var(--quiet);
  cursor: default;
}
</style>
