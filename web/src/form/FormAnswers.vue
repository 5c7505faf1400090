<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import type { FormView } from '@/api/types'
import { useAnswers } from './answers'
import FormQuestion from './FormQuestion.vue'
import FormScene from './FormScene.vue'

const props = defineProps<{ form: FormView; link: string }>()
const { answers, state, trouble, faults, confirmation, submit, again } = useAnswers(props.link, props.form)
const sheet = ref<HTMLElement>()

// After a refusal, the first answer that needs another look is brought into sight.
watch(faults, async () => {
  await nextTick()
  sheet.value?.querySelector<HTMLElement>('[data-faulty] input, [data-faulty] textarea, [data-faulty] button')?.focus()
})
</script>

<template>
  <FormScene />
  <section v-if="state === 'sent'" class="sent" role="status">
    <h1>{{ form.title }}</h1>
    <p data-test="confirmation">{{ confirmation }}</p>
    <button class="again" @click="again">Send another</button>
  </section>
  <form v-else ref="sheet" novalidate @submit.prevent="submit">
    <h1>{{ form.title }}</h1>
    <p v-if="form.intro" class="intro">{{ form.intro }}</p>
    <FormQuestion
      v-for="question in form.questions"
      :key="question.field"
      v-model="answers[question.field]!"
      :question="question"
      :link="link"
      :fault="faults[question.field]"
    />
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <button type="submit" class="send" :disabled="state === 'sending'">{{ state === 'sending' ? 'Sending …' : form.send_label }}</button>
  </form>
</template>

<style scoped>
h1 {
  font-size: 27px;
  margin-top: 18px;
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
