<script setup lang="ts">
// Several items in one answer, each with its own questions, and what they come to.
import type { LinesView } from '@/api/types'
import { blank, inLine, type Answer } from './answer'
import FormQuestion from './FormQuestion.vue'

const props = defineProps<{ field: number; view: LinesView; faults?: Record<string, string>; preview?: boolean }>()
const lines = defineModel<Record<number, Answer>[]>({ required: true })

function add() {
  lines.value.push(Object.fromEntries(props.view.questions.map((q) => [q.field, blank()])))
}
if (!lines.value.length && !props.preview) add()
</script>

<template>
  <div class="lines">
    <fieldset v-for="(line, place) in lines" :key="place" :data-line="place + 1">
      <legend>{{ view.one }} {{ place + 1 }} <button type="button" @click="lines.splice(place, 1)">take out</button></legend>
      <FormQuestion
        v-for="question in view.questions"
        :key="question.field"
        v-model="line[question.field]!"
        line
        :question="inLine(question, line)"
        :fault="faults?.[`/lines/${field}/${place}/${question.field}`]"
      />
    </fieldset>
    <template v-if="preview">
      <p class="quiet">In each line: {{ view.questions.map((q) => q.label).join(', ') }}.</p>
    </template>
    <p class="foot">
      <button v-if="lines.length < view.most" type="button" class="more" data-test="add-line" @click="add">+ {{ view.one }}</button>
      <span v-if="view.total" class="total" aria-live="polite" data-test="total"
        >{{ view.total.name }}: <b>{{ view.total.text || '—' }}</b></span
      >
    </p>
  </div>
</template>

<style scoped>
fieldset {
  border: 0;
  border-left: 3px solid var(--line-strong);
  margin: 8px 0 0;
  padding: 0 0 4px 12px;
}
legend {
  font-size: 13.5px;
  color: var(--quiet);
  padding: 0;
}
button {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
}
.foot {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin: 6px 0 0;
}
.more {
  border: 1px solid var(--moss);
  border-radius: var(--corner);
  padding: 8px 12px;
  font-size: 15px;
}
.total {
  font-size: 16px;
}
.quiet {
  margin: 4px 0 0;
}
</style>
