<script setup lang="ts">
// The team's texts of this tracker, each with what is written by it: changed here for all of it, or made anew.
import { computed, nextTick, ref } from 'vue'
import type { StoredText } from '@/api/types'
import { useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import { alsoWritten, useTexts } from './texts'
import WordingBox from './WordingBox.vue'

const props = defineProps<{ tracker: number; readonly: boolean }>()
const { tracker: known } = useTracker()
const { texts, again } = useTexts(() => props.tracker)
const parts = useParts(() => props.tracker)
const { trouble, busy, attempt, at, problem } = useDoing()
const root = ref<HTMLElement>()

type Draft = Pick<StoredText, 'table' | 'name' | 'subject' | 'body'> & { id?: number }
const draft = ref<Draft>()
const table = computed(() => known.value?.tables.find((one) => one.id === draft.value?.table))
const tables = computed(() => (known.value?.tables ?? []).map((one) => ({ value: one.id, title: one.many })))

async function begin(text?: StoredText) {
  problem.value = undefined
  draft.value = text ? { ...text } : { table: tables.value[0]?.value ?? 0, name: '', subject: '', body: '' }
  await nextTick()
  root.value?.querySelector<HTMLElement>('[data-test=text-name] input')?.focus()
}
async function keep() {
  const now = draft.value
  if (!now) return
  const { id, table, name, subject, body } = now
  const text = { table, name, subject, body }
  const done = await attempt(() => (id === undefined ? parts.make({ text }) : parts.save('text', id, { text })))
  if (!done) return
  draft.value = undefined
  await again()
}
async function drop(text: StoredText) {
  if (await attempt(() => parts.drop('text', text.id))) await again()
}
</script>

<template>
  <details ref="root" class="texts" data-test="texts">
    <summary>
      Texts that messages are written by<template v-if="texts.length">: {{ texts.length }}</template>
    </summary>
    <p class="quiet">Several messages can be written by one text. Changed here, all of them follow.</p>
    <ul v-if="texts.length">
      <li v-for="text in texts" :key="text.id" :data-text="text.name">
        <b>{{ text.name }}</b>
        <span>“{{ text.subject }}”</span>
        <span class="quiet">{{ alsoWritten(text).replace('Also written', 'Written') || 'Nothing is written by it yet.' }}</span>
        <template v-if="!readonly">
          <button type="button" class="link" :aria-label="`change it: ${text.name}`" @click="begin(text)">change it</button>
          <button type="button" class="link" :disabled="busy" :aria-label="`take it away: ${text.name}`" @click="drop(text)"
            >take it away</button
          >
        </template>
      </li>
    </ul>
    <p v-if="trouble && !draft" class="fault-text" role="alert">{{ trouble }}</p>
    <form v-if="draft" class="draft" @submit.prevent="keep">
      <p v-if="draft.id === undefined" class="of"
        >A text about <PickOne v-model="draft.table" said :items="tables" aria-label="About which records" data-test="text-table"
      /></p>
      <p class="label" aria-hidden="true">What it is called</p>
      <v-text-field v-model="draft.name" aria-label="What it is called" :error-messages="at('/name')" data-test="text-name" />
      <p class="label" aria-hidden="true">Heading</p>
      <v-text-field v-model="draft.subject" aria-label="Heading" :error-messages="at('/subject')" data-test="text-subject" />
      <WordingBox v-if="table" v-model="draft.body" :table="table" label="Text" :rows="6" :fault="at('/body')" test="text-body" />
      <p v-if="trouble && !at('/name') && !at('/subject') && !at('/body')" class="fault-text" role="alert">{{ trouble }}</p>
      <div class="acts">
        <v-btn variant="text" @click="draft = undefined">Leave it</v-btn>
        <v-btn type="submit" color="primary" :disabled="busy || !draft.name.trim()" data-test="keep-text">Keep the text</v-btn>
      </div>
    </form>
    <button v-else-if="!readonly" type="button" class="link" data-test="new-text" @click="begin()">+ a text</button>
  </details>
</template>

<style scoped>
.texts {
  border-top: 1px solid var(--line);
  padding-top: var(--gap-3);
}
summary {
  min-height: 32px;
  cursor: pointer;
}
ul {
  list-style: none;
  margin: 0 0 var(--gap-2);
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px var(--gap-3);
  padding: 6px 0;
  border-top: 1px solid var(--line);
  overflow-wrap: anywhere;
}
.draft {
  display: grid;
  gap: var(--gap-3);
  width: min(520px, 100%);
  border-left: 3px solid var(--copper);
  padding-left: var(--gap-3);
}
.label {
  margin: 0 0 -8px;
  color: var(--quiet);
  font-size: 12.5px;
}
.of {
  margin: 0;
  font: 16px/1.5 var(--serif);
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
}
@media (max-width: 700px) {
  summary,
  .link {
    min-height: 44px;
  }
}
</style>
