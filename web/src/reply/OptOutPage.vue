<script setup lang="ts">
// Which messages an address outside gets, and that it wants no more of them, or wants them again. Looking changes nothing.
import { onMounted, ref } from 'vue'
import { ask, json } from '@/api/plain'
import type { OptOutSaid, OptOutView } from '@/api/types'

const address = `/api/public/opt-outs/${encodeURIComponent(location.pathname.split('/')[2] ?? '')}`
const view = ref<OptOutView>()
const trouble = ref('')
const fault = ref('')
const sending = ref(false)

async function read() {
  trouble.value = ''
  const answer = await ask<OptOutView>(address)
  if (!answer.ok) return void (trouble.value = answer.says)
  view.value = answer.body
  document.title = answer.body.title
}
onMounted(read)

async function say(says: OptOutSaid) {
  fault.value = ''
  sending.value = true
  const answer = await ask<OptOutView>(address, json('POST', { says }))
  sending.value = false
  if (answer.ok) view.value = answer.body
  else fault.value = answer.says
}
</script>

<template>
  <main>
    <template v-if="view">
      <p class="team">{{ view.team }}</p>
      <h1>{{ view.title }}</h1>
      <p class="says" aria-live="polite" data-test="says">{{ view.says }}</p>
      <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
      <button
        v-for="(offer, n) in view.offers"
        :key="offer.says"
        type="button"
        class="press"
        :class="{ second: n > 0 }"
        :disabled="sending"
        :data-test="`say-${offer.says}`"
        @click="say(offer.says)"
        >{{ offer.words }}</button
      >
      <p class="small">{{ view.small }}</p>
    </template>
    <section v-else-if="trouble" role="alert">
      <h1>No message has this address</h1>
      <p class="says">{{ trouble }}</p>
      <button type="button" class="link" @click="read">Try again</button>
    </section>
  </main>
</template>

<style scoped src="./small-page.css"></style>
<style scoped>
.says {
  overflow-wrap: anywhere;
}
.second {
  background: none;
  color: var(--moss);
}
</style>
