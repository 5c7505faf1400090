<script setup lang="ts">
// A form at its public address, or an answer at its private one.
import { computed, onMounted, ref } from 'vue'
import type { FormView } from '@/api/types'
import FollowAnswer from './FollowAnswer.vue'
import FormAnswers from './FormAnswers.vue'
import FormFrame from './FormFrame.vue'

const [, where, name = ''] = location.pathname.split('/')
const link = decodeURIComponent(name)
const form = ref<FormView>()
const state = ref<'reading' | 'there' | 'refused' | 'broken'>('reading')
const words = ref('')
const signIn = ref(false)
const closed = computed(() => form.value && form.value.state !== 'open')
const CLOSED: Record<string, string> = {
  closed: 'This form takes no answers at the moment.',
  early: 'This form is not open yet.',
  over: 'This form is closed: its time is over.',
  full: 'This form is closed: it has as many answers as it takes.',
}

async function read() {
  state.value = 'reading'
  try {
    const response = await fetch(`/api/public/forms/${encodeURIComponent(link)}${location.search}`)
    const answer: unknown = await response.json()
    if (response.ok) {
      form.value = answer as FormView
      document.title = form.value.title
      state.value = 'there'
      return
    }
    state.value = 'refused'
    signIn.value = response.status === 401
    words.value =
      response.status === 404
        ? 'There is no form at this address. Check it, or ask whoever gave it to you.'
        : (answer as { detail: string }).detail
  } catch {
    state.value = 'broken'
  }
}
onMounted(() => where === 'f' && read())
</script>

<template>
  <FollowAnswer v-if="where === 'a'" :secret="link" />
  <FormFrame v-else :appearance="form?.appearance" :team="form?.team" :link="link">
    <FormAnswers v-if="form && !closed" :form="form" :link="link" />
    <section v-else-if="form" class="notice">
      <h1>{{ form.title }}</h1>
      <p>{{ form.closed_text || CLOSED[form.state] }}</p>
    </section>
    <section v-else-if="state === 'refused'" class="notice">
      <h1>{{ signIn ? 'For people of the team' : 'Nothing to answer here' }}</h1>
      <p>{{ words }}</p>
      <p v-if="signIn"><a :href="`/sign-in?then=/f/${encodeURIComponent(link)}`">Sign in</a></p>
    </section>
    <section v-else-if="state === 'broken'" class="notice">
      <h1>The form could not be read</h1>
      <p>There may be no connection. <button @click="read">Try again</button></p>
    </section>
  </FormFrame>
</template>

<style scoped>
.notice {
  padding-top: 32px;
}
.notice p {
  font: 17px/1.5 var(--serif);
  white-space: pre-line;
}
</style>
