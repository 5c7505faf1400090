<script setup lang="ts">
// A place: what is there, and where; a phone can say where it is.
import { ref } from 'vue'
import type { Answer } from './answer'

defineProps<{ id: string; described?: string; faulty: boolean; required: boolean }>()
const answer = defineModel<Answer>({ required: true })
const here = 'geolocation' in navigator
const state = ref<'' | 'looking' | 'refused'>('')

/** Five decimals are about a metre; more would only look exact. */
const degrees = (number: number) => number.toFixed(5)

function findMe() {
  state.value = 'looking'
  navigator.geolocation.getCurrentPosition(
    ({ coords }) => {
      answer.value.latitude = degrees(coords.latitude)
      answer.value.longitude = degrees(coords.longitude)
      state.value = ''
    },
    () => (state.value = 'refused'),
    { enableHighAccuracy: true, timeout: 20_000 },
  )
}
</script>

<template>
  <div class="place">
    <input
      :id="id"
      v-model="answer.text"
      placeholder="What is there"
      autocomplete="off"
      :aria-invalid="faulty"
      :aria-describedby="described"
    />
    <label
      >latitude <input v-model="answer.latitude" inputmode="text" placeholder="54.1234" autocomplete="off" :aria-required="required"
    /></label>
    <label
      >longitude <input v-model="answer.longitude" inputmode="text" placeholder="-2.4321" autocomplete="off" :aria-required="required"
    /></label>
    <button v-if="here" type="button" :disabled="state === 'looking'" data-test="where-i-am" @click="findMe">{{
      state === 'looking' ? 'Looking …' : 'Put in where I am'
    }}</button>
    <p v-if="state === 'refused'" class="help" role="status">The device does not say where it is. Allow it, or type the two numbers.</p>
  </div>
</template>

<style scoped>
.place {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 8px;
}
.place > input,
.help {
  grid-column: 1 / -1;
}
label {
  font-size: 13.5px;
  color: var(--quiet);
}
label input {
  color: var(--ink);
}
button {
  grid-column: 1 / -1;
  justify-self: start;
  border: 1px solid var(--moss);
  border-radius: var(--corner);
  background: none;
  color: var(--moss);
  padding: 8px 12px;
  font-size: 15px;
  cursor: pointer;
}
.help {
  margin: 0;
  font-size: 13.5px;
  color: var(--quiet);
}
</style>
