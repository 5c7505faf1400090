<script setup lang="ts">
// The beginning: the first person names the team and themselves, and owns it.
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import { useDoing } from '@/app/asking'
import DoorField from './DoorField.vue'
import { toWhatIsWrong } from './door'
import DoorFrame from './DoorFrame.vue'
import { useSession } from './session'

const route = useRoute()
const router = useRouter()
const session = useSession()
const asked = ref({ team: '', name: '', mail: '', password: '' })
const { busy, attempt, at, general } = useDoing()

async function begin(event: Event) {
  const done = await attempt(async () => {
    await told(api.POST('/api/beginning', { body: { token: String(route.params.token), ...asked.value } }))
    await session.again()
    return true
  })
  if (!done) return toWhatIsWrong(event.target)
  await router.push('/')
}
</script>

<template>
  <DoorFrame
    title="Begin your team"
    says="Whoever does owns it: lets people in, names it, and hands that on. Everything else can be changed later."
  >
    <form novalidate data-test="begin" @submit.prevent="begin">
      <DoorField v-model="asked.team" label="What the team is called" name="team" autocomplete="organization" :fault="at('/team')" />
      <DoorField v-model="asked.name" label="What you are called" name="name" autocomplete="name" :fault="at('/name', '/0/name')" />
      <DoorField
        v-model="asked.mail"
        label="Your mail address, with which you sign in"
        name="mail"
        type="email"
        autocomplete="username"
        :fault="at('/mail', '/0/mail')"
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
      <v-btn type="submit" color="primary" :disabled="busy" block>Begin</v-btn>
    </form>
  </DoorFrame>
</template>
