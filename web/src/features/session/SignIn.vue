<script setup lang="ts">
// The door: in with a password, or with a code that is mailed; a forgotten password is chosen anew by mail.
import { computed, nextTick, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { DemoPerson, Entrance } from '@/api/types'
import { useDoing } from '@/app/asking'
import DoorField from './DoorField.vue'
import DoorFrame from './DoorFrame.vue'
import { canAsk, deviceSaid } from './passkeys'
import { useSession } from './session'

type Way = 'password' | 'forgotten' | 'code' | 'typed'

const route = useRoute()
const router = useRouter()
const session = useSession()
const entrance = ref<Entrance>()
const demo = ref<DemoPerson[]>([])
const way = ref<Way>('password')
const mail = ref('')
const password = ref('')
const code = ref('')
const sent = ref('')
const { trouble, busy, attempt, at, general } = useDoing()

const ACT: Record<Way, string> = {
  password: 'Sign in',
  forgotten: 'Mail me a way to choose another',
  code: 'Mail me a code',
  typed: 'Sign in with the code',
}
const title = computed(() => entrance.value?.team || 'Westerfall')
const says = computed(() =>
  entrance.value && !entrance.value.begun
    ? 'Nobody has begun this team yet. The program printed an address when it started: whoever opens it first names the team, and owns it.'
    : 'The team’s shared trackers: what is asked for, who has it, and how it stands.',
)

onMounted(async () => {
  await attempt(async () => {
    entrance.value = await told(api.GET('/api/entrance'))
    if (entrance.value.demo) demo.value = await told(api.GET('/api/demo/people'))
  })
})

async function into() {
  const then = typeof route.query.then === 'string' && route.query.then.startsWith('/') ? route.query.then : '/'
  // A form is a page of its own.
  if (then.startsWith('/f/')) location.assign(then)
  else await router.push(then)
}

async function go(signIn: () => Promise<void>) {
  await attempt(async () => {
    await signIn()
    await into()
  })
  if (!trouble.value) return
  await nextTick()
  // As a rule it is the password, or the code, that is typed again.
  document.querySelector<HTMLInputElement>('.by-hand [name=password], .by-hand [name=code]')?.focus()
}

const byPasskey = () =>
  go(async () => {
    try {
      await session.signInByPasskey()
    } catch (error) {
      throw deviceSaid(error)
    }
  })

async function turn(to: Way) {
  way.value = to
  trouble.value = ''
  sent.value = ''
  await nextTick()
  document.querySelector<HTMLInputElement>('.by-hand input')?.focus()
}

async function act() {
  if (way.value === 'password') return go(() => session.signIn(mail.value, password.value))
  if (way.value === 'typed') return go(() => session.signInByCode(mail.value, code.value))
  const path = way.value === 'code' ? '/api/codes' : '/api/forgotten'
  const done = await attempt(async () => {
    await told(api.POST(path, { body: { mail: mail.value } }))
    return true
  })
  if (!done) return
  if (way.value === 'code') await turn('typed')
  sent.value = `If somebody here has the address ${mail.value}, a mail is on its way to it.`
}
</script>

<template>
  <DoorFrame :title="title" :says="says">
    <form v-if="entrance?.begun !== false" class="by-hand" novalidate @submit.prevent="act">
      <DoorField v-model="mail" label="Mail address" name="mail" type="email" autocomplete="username" :fault="at('/mail')" />
      <DoorField
        v-if="way === 'password'"
        v-model="password"
        label="Password"
        name="password"
        type="password"
        autocomplete="current-password"
      />
      <DoorField v-if="way === 'typed'" v-model="code" label="The code from the mail" name="code" autocomplete="one-time-code" />
      <p v-if="sent" class="quiet" role="status" data-test="sent">{{ sent }}</p>
      <p v-if="general" class="fault-text" role="alert">{{ general }}</p>
      <v-btn type="submit" color="primary" :disabled="busy" block>{{ ACT[way] }}</v-btn>
      <p class="ways">
        <button v-if="entrance?.passkeys && canAsk()" type="button" class="link" data-test="way-passkey" :disabled="busy" @click="byPasskey"
          >Sign in with a passkey</button
        >
        <button v-if="way !== 'password'" type="button" class="link" @click="turn('password')">Sign in with a password</button>
        <button v-if="way !== 'code'" type="button" class="link" data-test="way-code" @click="turn('code')">{{
          way === 'typed' ? 'Mail another code' : 'Have a code mailed instead'
        }}</button>
        <button v-if="way === 'password'" type="button" class="link" data-test="way-forgotten" @click="turn('forgotten')"
          >The password is forgotten</button
        >
      </p>
    </form>
    <template #beside>
      <div v-if="demo.length" class="demo">
        <h2>Or walk in as one of the demo team</h2>
        <p class="quiet">Everybody here is made up. Outside the demo this list does not exist.</p>
        <ul>
          <li v-for="one in demo" :key="one.person.id">
            <button :disabled="busy" @click="go(() => session.choose(one.person.id))">
              <b>{{ one.person.name }}</b>
              <span class="quiet">{{ one.about }}</span>
            </button>
          </li>
        </ul>
      </div>
    </template>
  </DoorFrame>
</template>

<style scoped>
h2 {
  font-size: 19px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-4);
  margin: 0;
}
.ways button {
  min-height: 28px;
}
.demo {
  grid-column: 2;
  grid-row: 1 / 3;
  border-left: 1px solid var(--line);
  padding-left: 36px;
}
.demo p {
  margin: var(--gap-1) 0 var(--gap-3);
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  border-top: 1px solid var(--line);
}
li button {
  display: grid;
  width: 100%;
  text-align: left;
  background: none;
  border: 0;
  padding: 9px 0;
  cursor: pointer;
}
li button:hover b {
  color: var(--moss);
}
@media (max-width: 800px) {
  .demo {
    grid-column: 1;
    grid-row: auto;
    border: 0;
    padding: 0;
  }
  .ways button {
    min-height: 44px;
  }
}
</style>
