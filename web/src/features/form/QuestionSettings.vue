<script setup lang="ts">
// The settings of one question, beneath it.
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { computed } from 'vue'
import type { Field, Phrase, Question, Table } from '@/api/types'
import { without } from '@/features/condition/checks'
import RuleEditor from '@/features/condition/RuleEditor.vue'
import { useTracker } from '@/features/tracker/tracker'
import SentenceLine from '@/features/view/SentenceLine.vue'
import BeginsWith from './BeginsWith.vue'
import { isLines } from './form'
import { useVocabulary } from '@/features/condition/vocabulary'

const { tracker: currentTracker } = useTracker()
const { isAskable } = useVocabulary()

const props = defineProps<{
  table: Table
  field: Field
  /** Asked before this one. */
  before: number[]
  phrases: Phrase[]
  offers: string
  parameters: string[]
  /** What it begins with, as one types it. */
  given?: string
}>()
const question = defineModel<Question>({ required: true })
const emit = defineEmits<{ drop: [] }>()

/** The table with only what is answered by then. */
const earlier = computed<Table>(() => ({ ...props.table, fields: props.table.fields.filter((f) => props.before.includes(f.id)) }))
const other = computed(() => {
  const kind = props.field.kind
  return kind.type === 'link' ? currentTracker.value?.tables.find((t) => t.id === kind.to) : undefined
})
const lines = computed(() => question.value.lines)
const lineFields = computed(() => (other.value?.fields ?? []).filter((f) => isAskable(f) && !isLines(f)))
const totals = computed(() => props.table.fields.filter((f) => ['summary', 'calculation'].includes(f.kind.type)))

function ask(field: Field, on: boolean) {
  if (!lines.value) return
  const others = lines.value.questions.filter((q) => q.field !== field.id)
  const asked = on ? [...others, { field: field.id, label: field.name, required: field.required }] : others
  // In the table's order: what depends on another answer comes after it.
  const place = (id: number) => lineFields.value.findIndex((f) => f.id === id)
  lines.value.questions = asked.sort((a, b) => place(a.field) - place(b.field))
}
function asLines(on: boolean) {
  question.value.lines = on ? { questions: [], most: 20 } : null
}
function addParameter() {
  question.value.shown.parameters = [
    ...(question.value.shown.parameters ?? []),
    { name: props.parameters[0] ?? 'from', not: false, is: '' },
  ]
}
</script>

<template>
  <div class="settings boxes" data-test="question-settings">
    <label class="wide">What is asked <input v-model="question.label" data-test="question-label" /></label>
    <label class="wide">Help beneath it <input v-model="question.help" /></label>
    <p class="row">
      <label><input v-model="question.required" type="checkbox" :disabled="question.hidden" /> An answer is required</label>
      <label><input v-model="question.hidden" type="checkbox" data-test="hidden" /> Ask nobody, put this in quietly</label>
    </p>
    <p class="row">
      <BeginsWith v-if="!lines" v-model="question.begins" :field="field" :table="table.id" :given="given" />
      <label v-if="field.kind.type !== 'files' && !lines"
        >or with the link’s
        <input v-model="question.parameter" class="short" placeholder="parameter" aria-label="Parameter of the link" data-test="parameter"
      /></label>
    </p>
    <SentenceLine
      :phrases="phrases"
      data-test="shown"
      @drop="(at) => (question.shown.condition = without(question.shown.condition, at.split('/shown/condition')[1]!))"
    >
      <template #editor="{ close }">
        <RuleEditor
          v-if="earlier.fields.length"
          v-model="question.shown.condition"
          :table="earlier"
          lead="Asked when"
          nothing="It is always asked."
        />
        <p v-else class="quiet">Nothing is asked before this question.</p>
        <p v-for="(test, place) in question.shown.parameters ?? []" :key="place" class="row">
          the link
          <PickOne
            v-model="test.not"
            aria-label="How the parameter is tested"
            :items="[
              { value: false, title: 'says' },
              { value: true, title: 'does not say' },
            ]"
          />
          <input v-model="test.name" class="short" aria-label="Parameter" /> = <input v-model="test.is" class="short" aria-label="Value" />
          <button type="button" class="link" aria-label="Take this out" @click="question.shown.parameters!.splice(place, 1)">×</button>
        </p>
        <p class="row"
          ><button type="button" class="link" @click="addParameter">+ parameter of the link</button
          ><v-btn variant="text" size="small" data-test="shown-done" @click="close">Done</v-btn></p
        >
      </template>
    </SentenceLine>
    <template v-if="other">
      <label v-if="!isLines(field) && field.kind.type === 'link' && !field.kind.one"
        ><input type="checkbox" :checked="!!lines" @change="asLines(($event.target as HTMLInputElement).checked)" /> Enter new
        {{ other.many }} instead of picking them</label
      >
      <template v-if="lines">
        <p class="quiet">In each line is asked</p>
        <div class="fields">
          <label v-for="one in lineFields" :key="one.id">
            <input
              type="checkbox"
              :checked="lines.questions.some((q) => q.field === one.id)"
              :data-test="`line-${one.name}`"
              @change="ask(one, ($event.target as HTMLInputElement).checked)"
            />
            {{ one.name }}
          </label>
        </div>
        <p v-for="asked in lines.questions" :key="asked.field" class="row">
          <input v-model="asked.label" :aria-label="`Words for ${asked.label}`" />{{ ' ' }}
          <label><input v-model="asked.required" type="checkbox" /> required</label>
        </p>
        <p class="row">
          <label>at most <input v-model.number="lines.most" type="number" min="1" max="100" /> lines</label>
          <label>
            what they come to
            <PickOne v-model="lines.total" data-test="total" :items="[{ value: null, title: 'is not said' }, ...named(totals)]" />
          </label>
        </p>
      </template>
      <template v-else>
        <label>
          Told apart by
          <PickOne v-model="question.shows" :items="[{ value: null, title: 'their name' }, ...named(other.fields)]" />
        </label>
        <details>
          <summary>{{ offers ? `Offers ${offers}` : `Offers all ${other.many}` }}</summary>
          <RuleEditor v-model="question.offers" :table="other" nothing="All of them are offered." />
        </details>
      </template>
    </template>
    <details :open="!!question.above">
      <summary>Words above it</summary>
      <label class="wide"
        >Heading
        <input
          :value="question.above?.heading"
          data-test="above-heading"
          @input="question.above = { text: '', ...question.above, heading: ($event.target as HTMLInputElement).value }"
      /></label>
      <label class="wide"
        >Text
        <textarea
          rows="2"
          :value="question.above?.text"
          @input="question.above = { heading: '', ...question.above, text: ($event.target as HTMLTextAreaElement).value }"
        />
      </label>
      <button v-if="question.above" type="button" class="link" @click="question.above = null">Take them out</button>
    </details>
    <p class="row foot"
      ><span class="quiet">goes into {{ field.name }}</span
      ><button class="drop" @click.stop="emit('drop')">Do not ask this</button></p
    >
  </div>
</template>

<style scoped>
.settings {
  display: grid;
  gap: 7px;
  margin-top: var(--gap-3);
  padding-top: var(--gap-3);
  border-top: 1px dashed var(--line-strong);
  font-size: 14px;
}
.wide {
  display: block;
  color: var(--quiet);
  font-size: 12.5px;
}
.wide input,
.wide textarea {
  display: block;
  width: 100%;
}
.short {
  width: 110px;
}
input[type='number'] {
  width: 64px;
}
.row {
  display: flex;
  gap: 6px var(--gap-4);
  align-items: center;
  margin: 0;
  flex-wrap: wrap;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 12px;
}
.quiet {
  margin: 0;
}
summary {
  cursor: pointer;
  color: var(--moss);
}
.link,
.drop {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  padding: 0;
}
.drop {
  color: var(--fault);
  margin-left: auto;
}
</style>
