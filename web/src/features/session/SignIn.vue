<script setup lang="ts">
import { nextTick, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { components } from '@/api/schema'
import { useDoing } from '@/app/asking'
import { useSession } from './session'

const route = useRoute()
const router = useRouter()
const session = useSession()
const mail = ref('')
const password = ref('')
const { trouble, busy, attempt } = useDoing()
const demo = ref<components['schemas']['DemoPerson'][]>([])

onMounted(async () => {
  // Outside the demo this address does not exist, and nobody can be chosen.
  demo.value = await told(api.GET('/api/demo/people')).catch(() => [])
})

async function go(signIn: () => Promise<void>) {
  await attempt(async () => {
    await signIn()
    const then = typeof route.query.then === 'string' && route.query.then.startsWith('/') ? route.query.then : '/'
    // A form is a page of its own.
    if (then.startsWith('/f/')) location.assign(then)
    else await router.push(then)
  })
  if (!trouble.value) return
  await nextTick()
  // As a rule it is the password that is typed again.
  document.querySelector<HTMLInputElement>('.by-hand [name=password]')?.focus()
}
</script>

<template>
  <section class="sign-in">
    <div class="head">
      <svg class="mark" viewBox="0 0 26 26" aria-hidden="true">
        <path d="M2 7h22M2 7v12M24 7v12" stroke="currentColor" stroke-width="2" fill="none" />
        <path class="water" d="M7 7v6c0 3 3 2 3 5v5M13 7v16M19 7v6c0 3-3 2-3 5v5" stroke-width="2.2" fill="none" />
      </svg>
      <h1>Westerfall</h1>
      <p>The team’s shared trackers: what is asked for, who has it, and how it stands.</p>
    </div>
    <form class="by-hand" @submit.prevent="go(() => session.signIn(mail, password))">
      <label class="asked" for="sign-in-mail"
        >Mail address <v-text-field id="sign-in-mail" v-model="mail" type="email" name="mail" autocomplete="username" required
      /></label>
      <label class="asked" for="sign-in-password"
        >Password
        <v-text-field id="sign-in-password" v-model="password" type="password" name="password" autocomplete="current-password" required
      /></label>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <v-btn type="submit" color="primary" :disabled="busy" block>Sign in</v-btn>
    </form>
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
  </section>
</template>

<style scoped>
.sign-in {
  display: grid;
  grid-template-columns: minmax(280px, 360px) minmax(320px, 460px);
  grid-template-rows: auto 1fr;
  gap: var(--gap-6) 72px;
  justify-content: center;
  align-content: start;
  padding: 72px var(--gap-5);
  min-height: 100dvh;
}
.head,
.by-hand {
  grid-column: 1;
}
.head p {
  font: 18px/1.5 var(--serif);
  color: var(--quiet);
  margin: var(--gap-2) 0 0;
}
.mark {
  width: 44px;
  height: 44px;
}
.water {
  stroke: var(--moss);
}
h1 {
  font-size: 34px;
}
h2 {
  font-size: 19px;
}
.by-hand {
  display: grid;
  align-content: start;
  gap: var(--gap-3);
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
  .sign-in {
    grid-template-columns: minmax(0, 1fr);
    padding: 32px var(--gap-5);
  }
  .demo {
    grid-column: 1;
    grid-row: auto;
    border: 0;
    padding: 0;
  }
}
</style>
