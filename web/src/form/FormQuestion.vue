<script setup lang="ts">
// One question, with the means to answer it.
import { computed, useId } from 'vue'
import type { QuestionView } from '@/api/types'
import type { Answer } from './answer'
import FilesAnswer from './FilesAnswer.vue'
import LinesAnswer from './LinesAnswer.vue'
import LinkAnswer from './LinkAnswer.vue'
import ListAnswer from './ListAnswer.vue'
import PlaceAnswer from './PlaceAnswer.vue'

const props = defineProps<{ question: QuestionView; fault?: string; faults?: Record<string, string>; preview?: boolean; line?: boolean }>()
const answer = defineModel<Answer>({ required: true })

const id = useId()
const kind = computed(() => props.question.answer)
const described = computed(() => [props.question.help && `${id}-help`, props.fault && `${id}-fault`].filter(Boolean).join(' ') || undefined)
const grouped = computed(() => ['choice', 'choices', 'yes', 'rating', 'lines', 'range'].includes(kind.value.type))
const role = computed(() => (!grouped.value ? undefined : ['choice', 'yes', 'rating'].includes(kind.value.type) ? 'radiogroup' : 'group'))
const inputType = computed(
  () => ({ mail: 'email', phone: 'tel', date: 'date', moment: 'datetime-local' })[kind.value.type as string] ?? 'text',
)
const fill = computed(() => ({ mail: 'email', phone: 'tel' })[kind.value.type as string] ?? 'off')
const hints: Record<string, string> = {
  duration: 'Like 2 h 30 min.',
  web: 'An address, with a title before it if you like.',
  person: 'A name or a mail address.',
}
const hint = computed(
  () =>
    props.question.help ||
    (kind.value.type === 'person' && kind.value.many ? 'Names or mail addresses, with commas between.' : hints[kind.value.type]),
)
const unit = computed(() => (kind.value.type === 'number' && kind.value.unit ? `in ${kind.value.unit}` : ''))
</script>

<template>
  <div>
    <template v-if="question.above && !line">
      <h2 v-if="question.above.heading" class="section">{{ question.above.heading }}</h2>
      <p v-if="question.above.text" class="between">{{ question.above.text }}</p>
    </template>
    <div
      class="question"
      :class="{ line }"
      :data-faulty="fault ? '' : undefined"
      :data-question="question.label"
      :role="role"
      :aria-labelledby="grouped ? `${id}-label` : undefined"
      :aria-describedby="grouped ? described : undefined"
    >
      <component :is="grouped ? 'span' : 'label'" :id="`${id}-label`" class="label" :for="grouped ? undefined : id">
        {{ question.label }} <span v-if="unit" class="optional">{{ unit }}</span><span v-if="!question.required" class="optional">
          if you like</span
        >
      </component>
      <span v-if="hint" :id="`${id}-help`" class="help">{{ hint }}</span>

      <ListAnswer
        v-if="kind.type === 'list' && answer.items"
        :id="id"
        v-model="answer.items"
        :label="question.label"
        :described="described"
      />
      <textarea
        v-else-if="kind.type === 'long' || kind.type === 'list'"
        :id="id"
        v-model="answer.text"
        rows="3"
        :maxlength="kind.type === 'long' ? kind.limit : undefined"
        :aria-invalid="!!fault"
        :aria-describedby="described"
        :aria-required="question.required"
      />
      <div v-else-if="kind.type === 'choice'" class="options">
        <label
          v-for="option in kind.options"
          :key="option.id"
          :class="{ on: answer.choice === option.id }"
          :style="{ '--hue': `var(--${option.hue})` }"
        >
          <input v-model="answer.choice" type="radio" :name="id" :value="option.id" class="unseen" />
          {{ option.name }}
        </label>
        <p v-if="!kind.options.length" class="help">Answer what stands before this first.</p>
      </div>
      <div v-else-if="kind.type === 'choices'" class="options">
        <label
          v-for="option in kind.options"
          :key="option.id"
          :class="{ on: answer.choices.includes(option.id) }"
          :style="{ '--hue': `var(--${option.hue})` }"
        >
          <input v-model="answer.choices" type="checkbox" :value="option.id" /> {{ option.name }}
        </label>
      </div>
      <div v-else-if="kind.type === 'yes'" class="options">
        <label v-for="(word, place) in ['Yes', 'No']" :key="word" :class="{ on: answer.yes === (place === 0) }">
          <input v-model="answer.yes" type="radio" :name="id" :value="place === 0" class="unseen" /> {{ word }}
        </label>
      </div>
      <div v-else-if="kind.type === 'rating'" class="stars">
        <label v-for="n in kind.most" :key="n" :class="{ on: Number(answer.text) >= n }">
          <input v-model="answer.text" type="radio" :name="id" :value="String(n)" class="unseen" />
          <span aria-hidden="true">{{ Number(answer.text) >= n ? '★' : '☆' }}</span><span class="unseen">{{ n }} of {{ kind.most }}</span>
        </label>
      </div>
      <div v-else-if="kind.type === 'range'" class="range">
        <label>from <input v-model="answer.text" type="date" :aria-invalid="!!fault" /></label>
        <label>to <input v-model="answer.end" type="date" :min="answer.text" /></label>
      </div>
      <LinkAnswer
        v-else-if="kind.type === 'link'"
        :id="id"
        v-model="answer.links"
        :field="question.field"
        :label="question.label"
        :many="kind.many"
        :required="question.required"
        :faulty="!!fault"
        :described="described"
      />
      <PlaceAnswer
        v-else-if="kind.type === 'place'"
        :id="id"
        v-model="answer"
        :described="described"
        :faulty="!!fault"
        :required="question.required"
      />
      <FilesAnswer v-else-if="kind.type === 'files'" :id="id" v-model="answer.files" v-model:held="answer.held" :described="described" />
      <LinesAnswer
        v-else-if="kind.type === 'lines'"
        v-model="answer.lines"
        :field="question.field"
        :view="kind"
        :faults="faults"
        :preview="preview"
      />
      <input
        v-else
        :id="id"
        v-model="answer.text"
        :type="inputType"
        :inputmode="kind.type === 'number' ? 'decimal' : undefined"
        :maxlength="kind.type === 'text' ? kind.limit : undefined"
        :autocomplete="fill"
        :aria-invalid="!!fault"
        :aria-describedby="described"
        :aria-required="question.required"
      />
      <p v-if="fault" :id="`${id}-fault`" class="fault-text">{{ fault }}</p>
    </div>
  </div>
</template>

<style>
.question .taken {
  display: flex;
  justify-content: space-between;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: 10px 12px;
  margin: 4px 0 0;
  font-size: 16px;
  background: var(--moss-soft);
}
.question .taken button {
  border: 0;
  background: none;
  font-size: 18px;
  cursor: pointer;
  padding: 0 6px;
}
.question input:not([type='radio'], [type='checkbox'], [type='file']),
.question textarea {
  width: 100%;
  margin-top: 4px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 10px 12px;
  font-size: 16px;
  min-height: 46px;
}
.question [aria-invalid='true'] {
  border-color: var(--fault) !important;
}
</style>

<style scoped>
.section {
  font-size: 19px;
  margin: 28px 0 0;
  padding-top: 12px;
  border-top: 1px solid var(--line);
}
.between {
  margin: 2px 0 0;
  color: var(--quiet);
  white-space: pre-line;
}
.question {
  margin-top: 18px;
}
.question.line {
  margin-top: 8px;
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
.options {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin-top: 6px;
}
.options label {
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--hue, var(--line-strong));
  border-radius: var(--corner);
  padding: 10px;
  font-size: 15px;
  cursor: pointer;
  position: relative;
}
.options .on {
  background: var(--moss-soft);
  border-color: var(--moss);
  border-left-color: var(--hue, var(--moss));
  font-weight: 600;
}
.options label:focus-within,
.stars label:focus-within {
  outline: 2px solid var(--moss);
  outline-offset: 1px;
}
.stars {
  display: flex;
  gap: 2px;
}
.stars label {
  font-size: 30px;
  line-height: 1;
  padding: 6px 4px;
  cursor: pointer;
  color: var(--quiet);
  position: relative;
}
.stars .on {
  color: var(--moss);
}
.range {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.fault-text {
  margin: 4px 0 0;
}
</style>
