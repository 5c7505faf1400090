<script setup lang="ts">
// The devices with which one signs in without a password.
import { ref } from 'vue'
import { api, told } from '@/api/client'
import { useAsked, useDoing } from '@/app/asking'
import DoorField from './DoorField.vue'
import { addPasskey, canAsk, deviceSaid } from './passkeys'

defineProps<{ readonly: boolean }>()

const keys = useAsked(['passkeys'], () => told(api.GET('/api/session/passkeys')))
const doing = useDoing()
const name = ref('')

async function add() {
  const added = await doing.attempt(async () => {
    try {
      await addPasskey(name.value)
    } catch (error) {
      throw deviceSaid(error)
    }
    return true
  })
  if (added) name.value = ''
  await keys.again()
}

async function remove(key: string) {
  await doing.attempt(() => told(api.DELETE('/api/session/passkeys/{key}', { params: { path: { key } } })))
  await keys.again()
}
</script>

<template>
  <form v-if="keys.told.value?.offered && canAsk()" novalidate data-test="own-passkeys" @submit.prevent="add">
    <h2>Your passkeys</h2>
    <p v-if="!keys.told.value.keys.length" class="quiet"
      >With a passkey a device of yours proves who you are, so that nothing has to be typed.</p
    >
    <p v-for="key in keys.told.value.keys" :key="key.id" class="key" data-test="passkey">
      <b>{{ key.name }}</b>
      <span class="quiet">added {{ key.made }}, {{ key.used }}</span>
      <button v-if="!readonly" type="button" class="link" @click="remove(key.id)">Take it away</button>
    </p>
    <DoorField v-model="name" label="What you call this device" name="passkey" :fault="doing.at('/name')" />
    <p v-if="doing.general.value" class="fault-text" role="alert">{{ doing.general.value }}</p>
    <p><v-btn type="submit" variant="outlined" :disabled="readonly || !name.trim() || doing.busy.value">Make it a passkey</v-btn></p>
  </form>
</template>

<style scoped src="./own-list.css"></style>
<style scoped>
form {
  display: grid;
  gap: var(--gap-2);
}
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  margin: 6px 0;
}
</style>
