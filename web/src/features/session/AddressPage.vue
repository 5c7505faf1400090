<script setup lang="ts">
// Saying that mail to an address reaches one. Opening the address says nothing yet; one press does, since mail scanners open too.
import { ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import type { Confirmed } from '@/api/types'
import { useDoing } from '@/app/asking'
import DoorFrame from './DoorFrame.vue'

const route = useRoute()
const done = ref<Confirmed>()
const { trouble, busy, attempt } = useDoing()

async function confirm() {
  done.value = await attempt(() => told(api.POST('/api/addresses/{token}', { params: { path: { token: String(route.params.token) } } })))
}
</script>

<template>
  <DoorFrame title="Your address" :says="done ? undefined : 'Nothing has changed yet. Press to say that this mail reached you.'">
    <p v-if="done" class="done" role="status">{{
      done.holds
        ? `${done.mail} is your address from now on.`
        : `Noted. ${done.mail} becomes your address once the other mail was answered too.`
    }}</p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <v-btn v-if="!done" color="primary" :disabled="busy" block data-test="confirm" @click="confirm">This mail reached me</v-btn>
    <p v-else><router-link to="/">Go on</router-link></p>
  </DoorFrame>
</template>

<style scoped>
.done {
  font: 18px/1.5 var(--serif);
}
</style>
