<script setup lang="ts">
// The door of a page that is not for everybody: a passcode, or a code that is mailed to a named address.
import { nextTick, onMounted, ref } from 'vue'
import type { PageDoor } from '@/api/types'
import { usePage } from './asking'

defineProps<{ door: PageDoor }>()
const emit = defineEmits<{ in: [] }>()

const page = usePage()
const passcode = ref('')
const mail = ref('')
const code = ref('')
const mailed = ref(false)
const busy = ref(false)
const trouble = ref('')
const box = ref<HTMLInputElement>()
onMounted(() => box.value?.focus())

async function tried<T>(asked: Promise<{ ok: true; body: T } | { ok: false; says: string; faults: { message: string }[] }>) {
  busy.value = true
  trouble.value = ''
  const answer = await asked
  busy.value = false
  if (!answer.ok) trouble.value = answer.faults[0]?.message ?? answer.says
  await nextTick()
  box.value?.focus()
  return answer.ok
}

async function enter(key: object) {
  if (await tried(page.post('/enter', key))) emit('in')
}
async function send() {
  if (await tried(page.post('/code', { mail: mail.value.trim() }))) {
    mailed.value = true
    await nextTick()
    box.value?.focus()
  }
}
</script>

<template>
  <main class="door">
    <p class="team"><img v-if="door.mark" :src="`/api/public/mark?${door.mark}`" alt="" /> {{ door.team }}</p>
    <form v-if="door.asks === 'passcode'" novalidate @submit.prevent="enter({ passcode })">
      <h1>This page has a passcode</h1>
      <label>The passcode <input ref="box" v-model="passcode" autocomplete="off" data-test="passcode" /></label>
      <p class="quiet">Whoever gave you the address knows it.</p>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <button type="submit" class="go" :disabled="busy || !passcode">Come in</button>
    </form>
    <form v-else-if="!mailed" novalidate @submit.prevent="send">
      <h1>This page is for named people</h1>
      <label
        >Your mail address
        <input ref="box" v-model="mail" type="email" autocomplete="email" data-test="page-mail" />
      </label>
      <p class="quiet">A code is mailed there, if the page names this address.</p>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <button type="submit" class="go" :disabled="busy || !mail.trim()">Mail me a code</button>
    </form>
    <form v-else novalidate @submit.prevent="enter({ code: { mail: mail.trim(), code } })">
      <h1>Look into your mail</h1>
      <label
        >The code that came to {{ mail.trim() }}
        <input ref="box" v-model="code" inputmode="numeric" autocomplete="one-time-code" data-test="page-code" />
      </label>
      <p class="quiet">
        It works once, and for 10 minutes. None came? The page may not name this address.
        <button type="button" class="link" @click="mailed = false">Another address, or another code</button>
      </p>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <button type="submit" class="go" :disabled="busy || !code.trim()">Come in</button>
    </form>
  </main>
</template>

<style scoped>
.door {
  max-width: 460px;
  margin: 0 auto;
  padding: 64px 20px;
}
.team img {
  height: 30px;
  max-width: 110px;
  margin-right: 6px;
  vertical-align: middle;
}
.team {
  margin: 0;
  font: 600 16px var(--serif);
}
h1 {
  font-size: 25px;
  margin: 20px 0 12px;
}
label {
  display: block;
  font-weight: 600;
}
input {
  display: block;
  width: 100%;
  min-height: 46px;
  margin-top: 4px;
  padding: 10px 12px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  font-size: 16px;
}
.quiet {
  margin: 6px 0 0;
}
.go {
  width: 100%;
  min-height: 46px;
  margin-top: 16px;
  border: 1px solid var(--moss);
  border-radius: var(--corner);
  background: var(--moss);
  color: var(--moss-ink);
  font-size: 16px;
  font-weight: 600;
  cursor: pointer;
}
.go:disabled {
  background: none;
  color: var(--quiet);
  border-color: var(--line-strong);
  cursor: default;
}
</style>
