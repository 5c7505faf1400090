<script setup lang="ts">
// One question, with the means to answer it.
import { computed, ref, useId } from 'vue'
import type { QuestionView, RecordName } from '@/api/types'
import type { Answer } from './answers'

const props = defineProps<{ question: QuestionView; link: string; fault?: string; preview?: boolean }>()
const answer = defineModel<Answer>({ required: true })

const id = useId()
const kind = computed(() => props.question.answer)
const described = computed(() => [props.question.help && `${id}-help`, props.fault && `${id}-fault`].filter(Boolean).join(' ') || undefined)
const grouped = computed(() => kind.value.type === 'choice')

const search = ref('')
const found = ref<RecordName[]>()
const at = ref(0)
let round = 0

async function look() {
  if (props.preview) return
  const mine = ++round
  try {
    const response = await fetch(`/api/public/forms/${encodeURIComponent(props.link)}/questions/${props.question.field}/names?search=${encodeURIComponent(search.value)}`)
    const names = response.ok ? ((await response.json()) as RecordName[]) : []
    if (mine === round) {
      found.value = names
      at.value = 0
    }
  } catch {
    if (mine === round) found.value = []
  }
}

function take(name: RecordName) {
  const many = kind.value.type === 'link' && kind.value.many
  answer.value.links = many ? [...answer.value.links.filter((l) => l.id !== name.id), name] : [name]
  search.value = ''
  found.value = undefined
}

function linkKeys(event: KeyboardEvent) {
  const names = found.value ?? []
  if (event.key === 'ArrowDown') at.value = Math.min(names.length - 1, at.value + 1)
  else if (event.key === 'ArrowUp') at.value = Math.max(0, at.value - 1)
  else if (event.key === 'Enter' && names[at.value]) take(names[at.value]!)
  else if (event.key === 'Escape') found.value = undefined
  else return
  event.preventDefault()
}

function addFiles(event: Event) {
  const input = event.target as HTMLInputElement
  answer.value.files = [...answer.value.files, ...(input.files ?? [])]
  input.value = ''
}

const inputType = computed(() => ({ mail: 'email', phone: 'tel', number: 'text', date: 'date', moment: 'datetime-local' })[kind.value.type as string] ?? 'text')
</script>

<template>
  <div class="question" :data-faulty="fault ? '' : undefined" :data-question="question.label" :role="grouped ? 'radiogroup' : undefined" :aria-labelledby="grouped ? `${id}-label` : undefined" :aria-describedby="grouped ? described : undefined">
    <component :is="grouped ? 'span' : 'label'" :id="`${id}-label`" class="label" :for="grouped ? undefined : id">
      {{ question.label }}<span v-if="!question.required" class="optional"> if you like</span>
    </component>
    <span v-if="question.help" :id="`${id}-help`" class="help">{{ question.help }}</span>

    <textarea v-if="kind.type === 'long'" :id="id" v-model="answer.text" rows="3" :maxlength="kind.limit" :aria-invalid="!!fault" :aria-describedby="described" :aria-required="question.required" />
    <div v-else-if="kind.type === 'choice'" class="options">
      <label v-for="option in kind.options" :key="option.id" :class="{ on: answer.choice === option.id }" :style="{ '--hue': `var(--${option.hue})` }">
        <input v-model="answer.choice" type="radio" :name="id" :value="option.id" class="unseen" />
        {{ option.name }}
      </label>
    </div>
    <div v-else-if="kind.type === 'link'" class="link">
      <p v-for="name in answer.links" :key="name.id" class="taken">
        {{ name.name }}
        <button type="button" :aria-label="`Take out ${name.name}`" @click="answer.links = answer.links.filter((l) => l.id !== name.id)">×</button>
      </p>
      <input
        v-if="kind.many || !answer.links.length"
        :id="id"
        v-model="search"
        role="combobox"
        :aria-expanded="!!found"
        :aria-controls="`${id}-list`"
        :aria-activedescendant="found?.[at] && `${id}-${found[at]?.id}`"
        aria-autocomplete="list"
        autocomplete="off"
        :aria-invalid="!!fault"
        :aria-describedby="described"
        :aria-required="question.required"
        @focus="look"
        @input="look"
        @keydown="linkKeys"
        @blur="found = undefined"
      />
      <ul v-if="found" :id="`${id}-list`" role="listbox" :aria-label="question.label">
        <li v-for="(name, place) in found" :id="`${id}-${name.id}`" :key="name.id" role="option" :aria-selected="place === at" :class="{ at: place === at }" @mousedown.prevent="take(name)">
          {{ name.name }}
        </li>
        <li v-if="!found.length" class="none">Nothing is called like that.</li>
      </ul>
    </div>
    <div v-else-if="kind.type === 'files'" class="files">
      <p v-for="(file, place) in answer.files" :key="place" class="taken">
        {{ file.name }}
        <button type="button" :aria-label="`Take out ${file.name}`" @click="answer.files = answer.files.filter((_, n) => n !== place)">×</button>
      </p>
      <div class="choose">
        <span>Take or choose a picture</span>
        <input :id="id" type="file" multiple accept="image/*,application/pdf" :aria-describedby="described" @change="addFiles" />
      </div>
    </div>
    <input
      v-else
      :id="id"
      v-model="answer.text"
      :type="inputType"
      :inputmode="kind.type === 'number' ? 'decimal' : undefined"
      :maxlength="kind.type === 'text' ? kind.limit : undefined"
      :autocomplete="kind.type === 'mail' ? 'email' : kind.type === 'phone' ? 'tel' : 'off'"
      :aria-invalid="!!fault"
      :aria-describedby="described"
      :aria-required="question.required"
    />
    <p v-if="fault" :id="`${id}-fault`" class="fault-text">{{ fault }}</p>
  </div>
</template>

<style scoped>
.question {
  margin-top: 18px;
}
.label {
  display: block;
  font-weight: 600;
  font-size: 15.5px;
}
.optional {
  font-weight: 400;
  color: var(--quiet);
  font-size: 13.5px;
}
.help {
  display: block;
  color: var(--quiet);
  font-size: 13.5px;
}
input:not([type='radio'], [type='file']),
textarea {
  width: 100%;
  margin-top: 4px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 10px 12px;
  font-size: 16px;
  min-height: 46px;
}
[aria-invalid='true'] {
  border-color: var(--fault) !important;
}
.options {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin-top: 6px;
}
.options label {
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--hue);
  border-radius: var(--corner);
  padding: 10px;
  font-size: 15px;
  cursor: pointer;
  position: relative;
}
.options .on {
  background: var(--moss-soft);
  border-color: var(--moss);
  border-left-color: var(--hue);
  font-weight: 600;
}
.options label:focus-within {
  outline: 2px solid var(--moss);
  outline-offset: 1px;
}
.link {
  position: relative;
}
ul {
  list-style: none;
  margin: 2px 0 0;
  padding: 0;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  max-height: 260px;
  overflow-y: auto;
}
li {
  padding: 11px 12px;
  font-size: 16px;
  cursor: pointer;
}
li.at {
  background: var(--moss-soft);
}
.none {
  color: var(--quiet);
  cursor: default;
}
.taken {
  display: flex;
  justify-content: space-between;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: 10px 12px;
  margin: 4px 0 0;
  font-size: 16px;
  background: var(--moss-soft);
}
.taken button {
  border: 0;
  background: none;
  font-size: 18px;
  cursor: pointer;
  padding: 0 6px;
}
.choose {
  position: relative;
  border: 1px dashed var(--line-strong);
  border-radius: var(--corner);
  padding: 12px;
  margin-top: 4px;
  color: var(--quiet);
  font-size: 16px;
}
.choose:focus-within {
  outline: 2px solid var(--moss);
}
.choose input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
  width: 100%;
}
.fault-text {
  margin: 4px 0 0;
}
</style>
