<script setup lang="ts">
// A sheet to hang up: what the form is for, and its code to scan.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'
import FormScene from '@/form/FormScene.vue'
import { withParameters } from './form'

const route = useRoute()
const { told: answer, trouble } = useAsked(
  () => ['form', route.params.tracker, route.params.form],
  () =>
    told(
      api.GET('/api/trackers/{tracker}/forms/{form}', {
        params: { path: { tracker: Number(route.params.tracker), form: Number(route.params.form) } },
      }),
    ),
)
const query = computed(() => Object.entries(route.query).map(([name, value]) => ({ name, value: String(value) })))
const address = computed(() => withParameters(answer.value?.address ?? '', query.value))
const code = computed(() => withParameters(`/api/public/forms/${answer.value?.form.link}/qr/code.svg`, query.value))
const print = () => window.print()
</script>

<template>
  <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  <div v-if="answer" class="page">
    <p class="acts"><v-btn color="primary" @click="print">Print this poster</v-btn></p>
    <article class="poster" data-test="poster">
      <FormScene :theme="answer.form.appearance?.theme ?? 'fell'" />
      <p v-if="answer.view.team" class="team">{{ answer.view.team }}</p>
      <h1>{{ answer.form.title }}</h1>
      <p class="intro">{{ answer.form.intro }}</p>
      <img :src="code" alt="The form’s address as a QR code" />
      <p class="address">{{ address }}</p>
    </article>
  </div>
</template>

<style scoped>
.page {
  padding: var(--gap-4);
}
.acts {
  text-align: center;
}
.poster {
  width: 148mm;
  min-height: 200mm;
  margin: 0 auto;
  padding: 0 20px 14mm;
  background: #fff;
  color: #23261f;
  border: 1px solid var(--line);
  text-align: center;
  overflow: hidden;
}
h1 {
  font-size: 34px;
  margin-top: 10mm;
}
.team {
  margin-top: 8mm;
}
.intro {
  font: 19px/1.5 var(--serif);
  white-space: pre-line;
}
img {
  width: 78mm;
  height: 78mm;
  margin-top: 6mm;
}
.address {
  overflow-wrap: anywhere;
  font-size: 14px;
}
@media print {
  .acts {
    display: none;
  }
  .page {
    padding: 0;
  }
  .poster {
    border: 0;
    width: 100%;
  }
}
</style>
<style>
@media print {
  .band {
    display: none !important;
  }
}
</style>
