<script setup lang="ts">
// Handing a form out: its address with what it begins with, a QR code, a poster, and a snippet for another site.
import { computed, ref } from 'vue'
import type { Form } from '@/api/types'
import { withParameters } from './form'

const props = defineProps<{ tracker: number; form: Form; address: string }>()
const names = computed(() => [
  ...new Set(
    props.form.questions
      .map((q) => q.parameter ?? '')
      .filter(Boolean)
      .concat(props.form.questions.flatMap((q) => (q.shown.parameters ?? []).map((p) => p.name))),
  ),
])
const values = ref<Record<string, string>>({})
const extra = ref({ name: '', value: '' })
const parameters = computed(() => [
  ...names.value.map((name) => ({ name, value: values.value[name] ?? '' })).filter((p) => p.value),
  ...(extra.value.name ? [extra.value] : []),
])
const whole = computed(() => withParameters(props.address, parameters.value))
const query = computed(() => (whole.value.includes('?') ? whole.value.slice(whole.value.indexOf('?')) : ''))
const qr = computed(() => `/api/public/forms/${props.form.link}/qr/code.svg${query.value}`)
const png = computed(() => `/api/public/forms/${props.form.link}/qr/code.png${query.value}`)
const snippet = computed(
  () =>
    `<iframe src="${whole.value}" title="${props.form.title.replaceAll('"', '&quot;')}" width="100%" height="900" style="border:0"></iframe>`,
)
const questions = computed(() => `${new URL(props.address).origin}/api/public/forms/${props.form.link}`)
const copied = ref('')

async function copy(what: string, text: string) {
  await navigator.clipboard.writeText(text)
  copied.value = what
  setTimeout(() => (copied.value = ''), 2500)
}
</script>

<template>
  <section class="share" aria-label="Handing it out" data-test="share">
    <div>
      <h2>Handing it out</h2>
      <p v-for="name in names" :key="name" class="row">
        <label>{{ name }} = <input v-model="values[name]" :data-test="`share-${name}`" /></label>
      </p>
      <p class="row"
        ><label
          >another parameter <input v-model="extra.name" class="short" aria-label="Its name" /> =
          <input v-model="extra.value" aria-label="Its value" /></label
      ></p>
      <p class="address">
        <a :href="whole" target="_blank" rel="noopener" data-test="form-address">{{ whole }}</a>
        <button @click="copy('address', whole)">{{ copied === 'address' ? 'copied' : 'copy' }}</button>
      </p>
      <p class="row">
        <a :href="qr" download="code.svg">QR code as SVG</a>
        <a :href="png" download="code.png">as PNG</a>
        <router-link
          :to="{ name: 'poster', params: { tracker, form: form.id }, query: Object.fromEntries(parameters.map((p) => [p.name, p.value])) }"
          >Poster to print</router-link
        >
      </p>
      <p v-if="form.embed?.length" class="embed"
        ><code>{{ snippet }}</code> <button @click="copy('snippet', snippet)">{{ copied === 'snippet' ? 'copied' : 'copy' }}</button></p
      >
      <p v-else class="quiet">To show it within another site, name that site below first.</p>
      <p class="quiet">
        A site of your own can also ask and send by itself, with the same checks: the questions are JSON at
        <a :href="questions" target="_blank" rel="noopener">{{ questions }}</a>, and answers are posted there.
        <a href="/api/openapi.json" target="_blank" rel="noopener">How it is all described</a>
      </p>
    </div>
    <img :src="qr" alt="The address as a QR code" />
  </section>
</template>

<style scoped>
.share {
  display: flex;
  gap: var(--gap-5);
  justify-content: space-between;
  border: 1px solid var(--line);
  background: var(--sheet);
  padding: var(--gap-3) var(--gap-4);
  margin-top: var(--gap-3);
}
h2 {
  font-size: 16px;
}
img {
  width: 132px;
  height: 132px;
  background: #fff;
}
p {
  margin: 4px 0;
}
.row {
  display: flex;
  gap: var(--gap-4);
}
.address {
  overflow-wrap: anywhere;
}
.embed code {
  font-size: 12px;
}
input {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 2px 6px;
}
.short {
  width: 90px;
}
button {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  text-decoration: underline;
}
@media (max-width: 700px) {
  .share {
    flex-direction: column;
  }
}
</style>
