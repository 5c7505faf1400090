<script setup lang="ts">
// Oneself: what the team knows of one, how one signs in, and where one is signed in.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import { useAsked, useDoing } from '@/app/asking'
import type { Channel } from '@/api/types'
import { hourOf, hourText } from '@/features/cell/hours'
import PickOne from '@/features/menu/PickOne.vue'
import { toWhatIsWrong } from './door'
import DoorField from './DoorField.vue'
import OwnCalendars from './OwnCalendars.vue'
import OwnPasskeys from './OwnPasskeys.vue'
import OwnPicture from './OwnPicture.vue'
import { useSession } from './session'

const session = useSession()
const { me } = session
const own = ref<{ name: string; about: string; phone: string; zone: string; channel: Channel }>({
  name: '',
  about: '',
  phone: '',
  zone: '',
  channel: 'mail',
})
/** As they are typed; both empty: there are none. */
const quiet = ref({ from: '', until: '' })
const mail = ref('')
const password = ref({ now: '', password: '' })
const asked = ref('')
const renewed = ref(false)
const knowing = useDoing()
const addressing = useDoing()
const passing = useDoing()
const ending = useDoing()
const readonly = computed(() => !!me.value?.stands_in)

watch(
  me,
  (now) => {
    if (!now) return
    own.value = { name: now.person.name, about: now.about, phone: now.phone, zone: now.zone, channel: now.channel }
    quiet.value = { from: now.quiet ? hourText(now.quiet.from) : '', until: now.quiet ? hourText(now.quiet.until) : '' }
  },
  { immediate: true },
)
const hours = computed(() => {
  const { from, until } = quiet.value
  if (!from && !until) return null
  // Half of it is no hours of a day, and told so.
  return from && until ? { from: hourOf(from) ?? 0, until: hourOf(until) ?? 0 } : { from: 0, until: 0 }
})
const changed = computed(() => {
  const now = me.value
  if (!now) return false
  const said =
    (['about', 'phone', 'zone', 'channel'] as const).some((key) => own.value[key] !== now[key]) || own.value.name !== now.person.name
  return said || JSON.stringify(hours.value) !== JSON.stringify(now.quiet ?? null)
})
const WAYS: Record<Channel, string> = { mail: 'by mail', chat: 'in the chat', text: 'as a text to your phone' }
/** What can be chosen; what was, while there was such a service, still stands. */
const ways = computed(() => {
  const known = me.value?.channels ?? []
  const all = known.includes(own.value.channel) ? known : [...known, own.value.channel]
  return all.map((value) => ({ value, title: WAYS[value] }))
})
const zones = Intl.supportedValuesOf('timeZone')
const { told: sessions, again } = useAsked(['sessions'], () => told(api.GET('/api/session/all')))

async function keep(event: Event) {
  const kept = await knowing.attempt(async () => {
    await told(api.PUT('/api/session', { body: { ...own.value, customs: me.value?.customs, quiet: hours.value } }))
    await session.again()
    // They are told in the zone that holds now.
    await again()
    return true
  })
  if (!kept) await toWhatIsWrong(event.target)
}

async function askForAddress(event: Event) {
  asked.value = ''
  const done = await addressing.attempt(async () => {
    await told(api.PUT('/api/session/address', { body: { mail: mail.value } }))
    return true
  })
  if (!done) return toWhatIsWrong(event.target)
  const both = me.value?.mail ? ` and to ${me.value.mail}` : ''
  asked.value = `Mails went to ${mail.value}${both}. It becomes your address once what they say was opened.`
}

async function renew(event: Event) {
  renewed.value = false
  const done = await passing.attempt(async () => {
    await told(api.PUT('/api/session/password', { body: password.value }))
    return true
  })
  if (!done) return toWhatIsWrong(event.target)
  password.value = { now: '', password: '' }
  renewed.value = true
  await again()
}

async function end(id: string) {
  await ending.attempt(() => told(api.DELETE('/api/session/all/{session}', { params: { path: { session: id } } })))
  await again()
}
</script>

<template>
  <section v-if="me" class="own">
    <p class="over">{{ me.team }}</p>
    <h1>{{ me.person.name }}</h1>
    <OwnPicture :readonly="readonly" />
    <form novalidate data-test="own-known" @submit.prevent="keep">
      <h2>What the team knows of you</h2>
      <DoorField v-model="own.name" label="What you are called" name="name" autocomplete="name" :fault="knowing.at('/name')" />
      <DoorField v-model="own.about" label="What you do" name="about" :fault="knowing.at('/about')" />
      <DoorField v-model="own.phone" label="Phone" name="phone" autocomplete="tel" :fault="knowing.at('/phone')" />
      <DoorField
        v-model="own.zone"
        label="Zone in which times are told to you, and typed"
        name="zone"
        :offers="zones"
        help="Empty: each tracker’s own. Days begin and end with the tracker’s."
        data-test="own-zone"
        :fault="knowing.at('/zone')"
      />
      <p v-if="ways.length > 1" class="reached"
        >What comes by itself reaches you
        <PickOne v-model="own.channel" said :items="ways" aria-label="How what comes by itself reaches you" data-test="own-channel" />.
        <span class="quiet">Codes and other ways in always come by mail.</span></p
      >
      <p v-if="knowing.at('/channel')" class="fault-text" role="alert">{{ knowing.at('/channel') }}</p>
      <fieldset class="quiet-hours">
        <legend>Quiet hours, in which nothing reaches you by itself</legend>
        <label>from <input v-model="quiet.from" type="time" class="boxed" data-test="quiet-from" /></label>
        <label>until <input v-model="quiet.until" type="time" class="boxed" data-test="quiet-until" /></label>
        <button v-if="hours" type="button" class="link" @click="quiet = { from: '', until: '' }">at any hour</button>
        <p class="quiet"
          >What automations and others write to you meanwhile comes once these hours are over; what you ask for comes at once.</p
        >
        <p v-if="knowing.at('/quiet')" class="fault-text" role="alert">{{ knowing.at('/quiet') }}</p>
      </fieldset>
      <p v-if="knowing.general.value" class="fault-text" role="alert">{{ knowing.general.value }}</p>
      <p><v-btn type="submit" color="primary" :disabled="readonly || !changed || knowing.busy.value" data-test="keep-own">Keep</v-btn></p>
    </form>
    <form novalidate data-test="own-address" @submit.prevent="askForAddress">
      <h2>Your address</h2>
      <p>{{ me.mail || 'None has been confirmed yet: open what the mail to it says.' }}</p>
      <DoorField v-model="mail" label="Another one" name="mail" type="email" autocomplete="email" :fault="addressing.at('/mail')" />
      <p v-if="asked" role="status">{{ asked }}</p>
      <p v-if="addressing.general.value" class="fault-text" role="alert">{{ addressing.general.value }}</p>
      <p><v-btn type="submit" variant="outlined" :disabled="readonly || !mail || addressing.busy.value">Ask at both addresses</v-btn></p>
    </form>
    <form novalidate data-test="own-password" @submit.prevent="renew">
      <h2>Your password</h2>
      <DoorField
        v-model="password.now"
        label="The one that holds now"
        name="now"
        type="password"
        autocomplete="current-password"
        :fault="passing.at('/now')"
      />
      <DoorField
        v-model="password.password"
        label="Another one"
        name="password"
        type="password"
        autocomplete="new-password"
        help="At least 10 characters: a few words that belong to nobody else."
        :fault="passing.at('/password')"
      />
      <p v-if="renewed" role="status">Your password is another one now; you are signed out everywhere else.</p>
      <p v-if="passing.general.value" class="fault-text" role="alert">{{ passing.general.value }}</p>
      <p
        ><v-btn type="submit" variant="outlined" :disabled="readonly || !password.password || passing.busy.value"
          >Keep this password</v-btn
        ></p
      >
    </form>
    <OwnPasskeys :readonly="readonly" />
    <OwnCalendars :readonly="readonly" />
    <section aria-label="Where you are signed in">
      <h2>Where you are signed in</h2>
      <p v-for="one in sessions ?? []" :key="one.id" class="session" data-test="session">
        <span>{{ one.device || 'somewhere' }}<b v-if="one.this">, this one</b></span>
        <span class="quiet">since {{ one.begun }}, last used {{ one.used }}</span>
        <button v-if="!one.this && !readonly" type="button" class="link" @click="end(one.id)">Sign out there</button>
      </p>
      <p v-if="ending.trouble.value" class="fault-text" role="alert">{{ ending.trouble.value }}</p>
    </section>
  </section>
</template>

<style scoped>
.quiet-hours {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--gap-2) var(--gap-3);
  margin: var(--gap-2) 0;
  padding: 0;
  border: 0;
}
.quiet-hours legend {
  padding: 0;
  margin-bottom: 4px;
}
.quiet-hours p {
  flex-basis: 100%;
  margin: 0;
}
.quiet-hours .boxed {
  min-height: 40px;
  padding: 3px 8px;
}
.own {
  max-width: 560px;
  margin: 0 auto;
  padding: 40px var(--gap-5) 80px;
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
h1 {
  font-size: 30px;
}
form {
  display: grid;
  gap: var(--gap-2);
}
</style>

<style scoped src="./own-list.css"></style>
