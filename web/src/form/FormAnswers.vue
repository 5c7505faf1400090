<script setup lang="ts">
// An open form, being answered.
import { nextTick, provide, ref, watch } from 'vue'
import type { FormView } from '@/api/types'
import { useAnswers } from './answers'
import FormQuestion from './FormQuestion.vue'
import { NAMES, namesOfForm } from './names'

const props = defineProps<{ form: FormView; link: string }>()
const {
  form: view,
  answers,
  state,
  trouble,
  faults,
  sent,
  offline,
  share,
  waiting,
  stop,
  submit,
  again,
  visit,
  body,
} = useAnswers(props.link, props.form)
provide(NAMES, namesOfForm(props.link, body))
const sheet = ref<HTMLElement>()
const trap = ref('')
const copied = ref(false)

// After a refusal, the first answer that needs another look is brought into sight.
watch(faults, async () => {
  await nextTick()
  sheet.value
    ?.querySelector<HTMLElement>('[data-faulty] input, [data-faulty] textarea, [data-faulty] select, [data-faulty] button')
    ?.focus()
})

async function copy() {
  await navigator.clipboard.writeText(sent.value?.follow ?? '')
  copied.value = true
}
</script>

<template>
  <section v-if="state === 'sent'" class="sent" role="status">
    <h1>{{ view.title }}</h1>
    <p data-test="confirmation">{{ sent?.confirmation }}</p>
    <p v-if="sent?.copied" class="quiet">A copy is on its way to the address that you gave.</p>
    <p v-if="sent?.follow" class="follow">
      How it stands, now and later: <a :href="sent.follow" data-test="follow">{{ sent.follow }}</a>
      <button type="button" @click="copy">{{ copied ? 'copied' : 'copy' }}</button>
      <span class="quiet">Keep this address to yourself: whoever has it can look.</span>
    </p>
    <button class="again" data-test="again" @click="again">Send another</button>
  </section>
  <form v-else ref="sheet" novalidate @submit.prevent="submit(trap)">
    <h1>{{ view.title }}</h1>
    <p v-if="view.intro" class="intro">{{ view.intro }}</p>
    <p v-if="offline" class="offline" role="status" data-test="offline"
      >There is no connection. What you typed is kept here; send it when you are back.</p
    >
    <FormQuestion
      v-for="question in view.questions"
      :key="question.field"
      v-model="answers[question.field]!"
      :question="question"
      :fault="faults[`/answers/${question.field}`]"
      :faults="faults"
      @focusin="visit(question)"
    />
    <!-- Nobody sees or reaches this; programs fill it in. -->
    <div class="trap" aria-hidden="true"><input v-model="trap" name="website" tabindex="-1" autocomplete="off" /></div>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-if="waiting" class="offline" role="status" data-test="waiting">
      Many are sending at this moment. What you typed waits here and is sent again by itself; leave the page open.
      <button type="button" @click="stop">Stop</button>
    </p>
    <p v-else-if="state === 'sending' && share < 1" class="far">
      <progress :value="share" max="1" aria-label="How much is sent" /> <button type="button" @click="stop">Stop</button>
    </p>
    <button type="submit" class="send" :disabled="state === 'sending'">{{ state === 'sending' ? 'Sending …' : view.send_label }}</button>
  </form>
</template>

<style scoped>
h1 {
  font-size: 27px;
  margin-top: 18px;
}
.team + form h1,
.team + section h1 {
  margin-top: 2px;
}
.intro {
  margin: 4px 0 0;
  color: var(--quiet);
  font: 17px/1.5 var(--serif);
  white-space: pre-line;
}
.sent p {
  font: 18px/1.5 var(--serif);
  white-space: pre-line;
}
.sent .follow,
.sent .quiet {
  font: 15px/1.5 var(--sans);
  overflow-wrap: anywhere;
}
.follow button {
  border: 0;
  background: none;
  color: var(--moss);
  text-decoration: underline;
  cursor: pointer;
}
.follow span {
  display: block;
}
.offline {
  border-left: 3px solid var(--copper);
  background: var(--copper-soft);
  padding: 8px 12px;
  margin: 12px 0 0;
}
.far {
  display: flex;
  gap: 12px;
  align-items: center;
  margin: 18px 0 0;
}
.far progress {
  flex: 1;
  accent-color: var(--moss);
}
.offline button,
.far button {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
}
.trap {
  position: absolute;
  left: -9999px;
}
.send,
.again {
  width: 100%;
  min-height: 48px;
  margin-top: 22px;
  border: 1px solid var(--moss);
  border-radius: var(--corner);
  font-size: 16px;
  font-weight: 600;
  cursor: pointer;
}
.send {
  background: var(--moss);
  color: var(--moss-ink);
}
.send:disabled {
  opacity: 0.6;
}
.again {
  background: none;
  color: var(--moss);
}
</style>
