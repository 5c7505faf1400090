<script setup lang="ts">
// An invitation, or a forgotten password: looked at as often as one likes, used once.
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { InvitationView } from '@/api/types'
import { useDoing } from '@/app/asking'
import DoorField from './DoorField.vue'
import { toWhatIsWrong } from './door'
import DoorFrame from './DoorFrame.vue'
import { useSession } from './session'

const route = useRoute()
const router = useRouter()
const session = useSession()
const seen = ref<InvitationView>()
const over = ref('')
const asked = ref({ name: '', mail: '', password: '' })
const { trouble, busy, attempt, at, general } = useDoing()

const forgotten = computed(() => route.name === 'password')
const path = computed(() => ({ params: { path: { token: String(route.params.token) } } }))
const says = computed(() => {
  if (!seen.value) return undefined
  if (forgotten.value) return `Choose another password, ${seen.value.name}. You are signed out everywhere else.`
  return 'You are invited. Say what you are called and choose how you sign in.'
})

onMounted(async () => {
  const look = () =>
    forgotten.value ? told(api.GET('/api/passwords/{token}', path.value)) : told(api.GET('/api/invitations/{token}', path.value))
  seen.value = await attempt(look)
  over.value = trouble.value
  trouble.value = ''
  if (seen.value) asked.value.name = seen.value.name
})

async function comeIn(event: Event) {
  const done = await attempt(async () => {
    const { name, mail, password } = asked.value
    if (forgotten.value) await told(api.POST('/api/passwords/{token}', { ...path.value, body: { password } }))
    else await told(api.POST('/api/invitations/{token}', { ...path.value, body: { name, mail, password } }))
    await session.again()
    return true
  })
  if (!done) return toWhatIsWrong(event.target)
  await router.push(seen.value?.mail || forgotten.value ? '/' : { name: 'own' })
}
</script>

<template>
  <DoorFrame :title="seen?.team || 'Westerfall'" :says="says">
    <p v-if="over" class="fault-text" role="alert" data-test="over">{{ over }}</p>
    <p v-if="over"><router-link :to="{ name: 'sign-in' }">To the door</router-link></p>
    <form v-else-if="seen" novalidate data-test="come-in" @submit.prevent="comeIn">
      <DoorField v-if="!forgotten" v-model="asked.name" label="What you are called" name="name" autocomplete="name" :fault="at('/name')" />
      <p v-if="seen.mail" class="quiet">You sign in with {{ seen.mail }}.</p>
      <DoorField
        v-else
        v-model="asked.mail"
        label="Your mail address, with which you sign in"
        name="mail"
        type="email"
        autocomplete="username"
        help="A mail goes there: once you open what it says, you can sign in with it."
        :fault="at('/mail')"
      />
      <DoorField
        v-model="asked.password"
        label="A password"
        name="password"
        type="password"
        autocomplete="new-password"
        help="At least 10 characters: a few words that belong to nobody else."
        :fault="at('/password')"
      />
      <p v-if="general" class="fault-text" role="alert">{{ general }}</p>
      <v-btn type="submit" color="primary" :disabled="busy" block>{{ forgotten ? 'Keep it and come in' : 'Come in' }}</v-btn>
    </form>
  </DoorFrame>
</template>
