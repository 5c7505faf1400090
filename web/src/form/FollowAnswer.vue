<script setup lang="ts">
// How an answer stands, at its private address: looked at again by itself, and added to while that is allowed.
import { onMounted, onScopeDispose, reactive, ref } from 'vue'
import type { Followed } from '@/api/types'
import { begun, inputs, type Answer } from './answer'
import FormFrame from './FormFrame.vue'
import FormQuestion from './FormQuestion.vue'

const props = defineProps<{ secret: string }>()
const answer = ref<Followed>()
const answers = reactive<Record<number, Answer>>({})
const trouble = ref('')
const faults = ref<Record<string, string>>({})
const said = ref('')
const address = `/api/public/answers/${encodeURIComponent(props.secret)}`

function take(fresh: Followed) {
  answer.value = fresh
  document.title = fresh.title
  for (const question of fresh.questions) answers[question.field] ??= begun(question)
}

async function read() {
  try {
    const response = await fetch(address)
    const body: unknown = await response.json()
    if (response.ok) take(body as Followed)
    else {
      answer.value = undefined
      trouble.value = 'There is no answer at this address. Check it: it is the one that you were given when you sent the form.'
    }
  } catch {
    if (!answer.value) trouble.value = 'There is no connection. Try again in a moment.'
  }
}
// Told to look again whenever something changed; the browser connects anew by itself, and is told at once.
let events: EventSource | undefined
onMounted(() => {
  void read()
  events = new EventSource(`${address}/events`)
  events.addEventListener('look', () => void read())
})
onScopeDispose(() => events?.close())

async function keep() {
  faults.value = {}
  said.value = ''
  const body = JSON.stringify(inputs(answer.value?.questions ?? [], answers))
  const response = await fetch(address, { method: 'POST', headers: { 'content-type': 'application/json' }, body }).catch(() => undefined)
  const told = (await response?.json().catch(() => undefined)) as
    { detail?: string; faults?: { pointer: string; message: string }[] } | undefined
  if (response?.ok) {
    take(told as unknown as Followed)
    said.value = 'Kept.'
  } else {
    said.value = told?.detail ?? 'No answer from the server. What you typed is still here; try again in a moment.'
    faults.value = Object.fromEntries((told?.faults ?? []).map((fault) => [fault.pointer, fault.message]))
  }
}
</script>

<template>
  <FormFrame :appearance="answer?.appearance" :link="answer?.link ?? ''">
    <p v-if="trouble && !answer" class="notice" role="alert">{{ trouble }}</p>
    <template v-if="answer">
      <h1>{{ answer.title }}</h1>
      <p class="quiet">You sent this on {{ answer.sent }}.</p>
      <p v-if="answer.gone" class="notice">It was taken out since. Ask those who gave you the form.</p>
      <dl aria-live="polite">
        <template v-for="fact in answer.facts" :key="fact.field">
          <dt>{{ fact.label }}</dt>
          <dd>{{ fact.text || '—' }}</dd>
        </template>
      </dl>
      <form v-if="answer.questions.length" novalidate @submit.prevent="keep">
        <h2>You can still change</h2>
        <FormQuestion
          v-for="question in answer.questions"
          :key="question.field"
          v-model="answers[question.field]!"
          :question="question"
          :fault="faults[`/answers/${question.field}`]"
        />
        <button type="submit" class="keep">Keep this</button>
        <p role="status">{{ said }}</p>
      </form>
    </template>
  </FormFrame>
</template>

<style scoped>
h1 {
  font-size: 27px;
  margin: 18px 0 0;
}
h2 {
  font-size: 19px;
  margin-top: 24px;
}
.quiet {
  margin: 2px 0 0;
}
dl {
  border-top: 1px solid var(--line);
  margin: 16px 0 0;
}
dt {
  color: var(--quiet);
  font-size: 13.5px;
  margin-top: 12px;
}
dd {
  margin: 0;
  font: 18px/1.4 var(--serif);
}
.notice {
  padding-top: 24px;
  font: 17px/1.5 var(--serif);
}
.keep {
  width: 100%;
  min-height: 48px;
  margin-top: 18px;
  border: 1px solid var(--moss);
  border-radius: var(--corner);
  background: var(--moss);
  color: var(--moss-ink);
  font-size: 16px;
  font-weight: 600;
  cursor: pointer;
}
</style>
