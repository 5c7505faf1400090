<script setup lang="ts">
// Who comes in to a shared page: anybody, whoever knows a passcode, or named addresses.
import { computed, ref } from 'vue'
import type { Guest, SharedPage } from '@/api/types'
import { nextGuest } from './page'

const props = defineProps<{ page: SharedPage; fault?: string }>()
const emit = defineEmits<{ change: [part: Partial<SharedPage>]; close: [] }>()

type Way = 'link' | 'passcode' | 'named'
const way = computed<Way>(() => (typeof props.page.door === 'string' ? props.page.door : 'passcode'))
/** A passcode that is known to nobody is shown to nobody: an empty box keeps it. */
const had = typeof props.page.door !== 'string' && !props.page.door.passcode
const passcode = computed(() => (typeof props.page.door === 'string' ? '' : props.page.door.passcode))
const WAYS: { way: Way; says: string }[] = [
  { way: 'link', says: 'Anybody who has the link' },
  { way: 'passcode', says: 'Whoever knows a passcode, too' },
  { way: 'named', says: 'Only named addresses, with a code that is mailed there' },
]
const choose = (next: Way) => emit('change', { door: next === 'passcode' ? { passcode: '' } : next })

const guests = computed(() => props.page.guests ?? [])
const mail = ref('')
const name = ref('')
function add() {
  if (!mail.value.trim()) return
  const fresh: Guest = { id: nextGuest(props.page), mail: mail.value.trim(), name: name.value.trim() }
  emit('change', { guests: [...guests.value, fresh] })
  mail.value = name.value = ''
}
/** Somebody who was kept with the page stays known for what they did. */
const put = (guest: Guest, part: Partial<Guest>) =>
  emit('change', { guests: guests.value.map((one) => (one === guest ? { ...one, ...part } : one)) })
</script>

<template>
  <form class="door" data-test="door-editor" @submit.prevent="way === 'named' && mail.trim() ? add() : emit('close')">
    <label v-for="one in WAYS" :key="one.way" class="way">
      <input type="radio" name="door" :checked="way === one.way" :value="one.way" @change="choose(one.way)" /> {{ one.says }}
    </label>
    <label v-if="way === 'passcode'" class="box">
      The passcode
      <input
        :value="passcode"
        :placeholder="had ? 'stays as it is' : 'two words with a hyphen'"
        autocomplete="off"
        data-test="passcode"
        @input="emit('change', { door: { passcode: ($event.target as HTMLInputElement).value } })"
      />
    </label>
    <template v-if="way === 'named'">
      <p v-for="guest in guests" :key="guest.id" class="guest" :class="{ gone: guest.gone }">
        <span
          ><b>{{ guest.mail }}</b
          ><template v-if="guest.name">, {{ guest.name }}</template></span
        >
        <button type="button" class="link" @click="put(guest, { gone: !guest.gone })">{{
          guest.gone ? 'Let in again' : 'Take back'
        }}</button>
      </p>
      <p class="guest">
        <input v-model="mail" type="email" placeholder="mail address" aria-label="Mail address" data-test="guest-mail" />
        <input v-model="name" placeholder="who that is, if you like" aria-label="Who that is" data-test="guest-name" />
        <v-btn type="submit" size="small" variant="outlined" :disabled="!mail.trim()" data-test="add-guest">Name them</v-btn>
      </p>
    </template>
    <p v-if="fault" class="fault-text" role="alert">{{ fault }}</p>
    <p class="done"><v-btn variant="text" size="small" data-test="door-done" @click="(add(), emit('close'))">Done</v-btn></p>
  </form>
</template>

<style scoped>
.door {
  display: grid;
  gap: var(--gap-2);
  width: min(460px, 86vw);
}
p {
  margin: 0;
}
.way {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 32px;
}
.guest {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}
.guest.gone span {
  color: var(--quiet);
  text-decoration: line-through;
}
input:not([type='radio']) {
  flex: 1 1 150px;
  min-height: 34px;
  padding: 4px 8px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
}
.box {
  display: flex;
  gap: 10px;
  align-items: center;
}
.done {
  text-align: right;
}
</style>
