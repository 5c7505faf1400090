<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { FormView } from '@/api/types'
import FormAnswers from './FormAnswers.vue'

const props = defineProps<{ link: string }>()
const form = ref<FormView>()
const state = ref<'reading' | 'there' | 'nowhere' | 'broken'>('reading')

async function read() {
  state.value = 'reading'
  try {
    const response = await fetch(`/api/public/forms/${encodeURIComponent(props.link)}`)
    if (response.ok) {
      form.value = (await response.json()) as FormView
      document.title = form.value.title
      state.value = 'there'
    } else state.value = response.status === 404 ? 'nowhere' : 'broken'
  } catch {
    state.value = 'broken'
  }
}
onMounted(read)
</script>

<template>
  <main class="respondent">
    <FormAnswers v-if="form && form.open" :form="form" :link="link" />
    <section v-else-if="form" class="notice">
      <h1>{{ form.title }}</h1>
      <p>{{ form.closed_text || 'This form takes no answers at the moment.' }}</p>
    </section>
    <section v-else-if="state === 'nowhere'" class="notice">
      <h1>There is no form at this address</h1>
      <p>Check the address, or ask whoever gave it to you.</p>
    </section>
    <section v-else-if="state === 'broken'" class="notice">
      <h1>The form could not be read</h1>
      <p>There may be no connection. <button @click="read">Try again</button></p>
    </section>
  </main>
</template>

<style>
body {
  background: var(--sheet);
}
.respondent {
  max-width: 560px;
  margin: 0 auto;
  padding: 0 20px 48px;
}
.notice {
  padding-top: 56px;
}
.notice p {
  font: 17px/1.5 var(--serif);
}
</style>
