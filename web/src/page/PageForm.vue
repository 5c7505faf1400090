<script setup lang="ts">
// A form that stands on a shared page: answered as at its own address.
import { onMounted, ref } from 'vue'
import type { FormView } from '@/api/types'
import FormAnswers from '@/form/FormAnswers.vue'

const props = defineProps<{ link: string }>()
const form = ref<FormView>()
const closed = ref(false)

onMounted(async () => {
  const response = await fetch(`/api/public/forms/${encodeURIComponent(props.link)}`).catch(() => undefined)
  if (response?.ok) form.value = (await response.json()) as FormView
  closed.value = !form.value || form.value.state !== 'open'
})
</script>

<template>
  <section class="form">
    <FormAnswers v-if="form && !closed" :form="form" :link="link" />
    <template v-else-if="form">
      <h2>{{ form.title }}</h2>
      <p class="quiet">{{ form.closed_text || 'This form takes no answers at the moment.' }}</p>
    </template>
  </section>
</template>

<style scoped>
.form :deep(h1) {
  font-size: 19px;
  margin: 0;
}
</style>
