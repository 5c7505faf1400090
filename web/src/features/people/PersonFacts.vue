<script setup lang="ts">
// What is known of one person, and what becomes of them: for the team's owners, and for whoever invited them.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { PersonLine, TeamDone, TeamView } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useSession } from '@/features/session/session'
import DoorField from '@/features/session/DoorField.vue'
import LeavePanel from './LeavePanel.vue'

const props = defineProps<{ one: PersonLine; team: TeamView; readonly: boolean }>()
const emit = defineEmits<{ done: [done: TeamDone]; trouble: [words: string] }>()
const { me } = useSession()
const { busy, attempt, at, general } = useDoing()
const known = ref({ name: '', mail: '', about: '', phone: '', owner: false })
const leaving = ref(false)

watch(
  () => props.one,
  (one) => (known.value = { name: one.person.name, mail: one.mail ?? '', about: one.about, phone: one.phone ?? '', owner: one.owner }),
  { immediate: true },
)
const own = computed(() => me.value?.person.id === props.one.person.id)
const may = computed(() => !props.readonly && (props.team.owns || (props.team.lets_in && props.one.standing === 'invited')))
const path = computed(() => ({ params: { path: { person: props.one.person.id } } }))

async function keep() {
  const done = await attempt(() => told(api.PUT('/api/team/people/{person}', { ...path.value, body: known.value })))
  if (done) emit('done', done)
}

async function invite() {
  const done = await attempt(() =>
    told(api.PUT('/api/team/people/{person}/standing', { ...path.value, body: { here: true, hand_over: [] } })),
  )
  if (done) emit('done', done)
}
</script>

<template>
  <div class="facts">
    <form v-if="may && !one.person.left" novalidate @submit.prevent="keep">
      <DoorField v-model="known.name" label="Called" name="name" :fault="at('/name')" />
      <DoorField v-model="known.about" label="Does" name="about" :fault="at('/about')" />
      <DoorField v-model="known.mail" label="Address" name="mail" type="email" :fault="at('/mail')" />
      <DoorField v-model="known.phone" label="Phone" name="phone" :fault="at('/phone')" />
      <label v-if="team.owns" class="check"
        ><input v-model="known.owner" type="checkbox" data-test="owner" /> Owns the team: lets people in and go, names it, makes
        groups</label
      >
      <p v-if="general" class="fault-text wide" role="alert">{{ general }}</p>
      <p class="acts wide">
        <v-btn type="submit" size="small" variant="outlined" :disabled="busy" data-test="keep-person">Keep</v-btn>
        <button v-if="team.owns || one.standing === 'invited'" type="button" class="link" data-test="let-go" @click="leaving = true">{{
          one.standing === 'invited' ? 'Take them out again' : own ? 'Leave the team' : 'Let them go'
        }}</button>
      </p>
    </form>
    <p v-else-if="one.person.left && team.owns && !readonly">
      They have left. What they did keeps their name.
      <button class="link" data-test="invite-again" @click="invite">Invite them again</button>
    </p>
    <p v-if="one.person.left && general" class="fault-text" role="alert">{{ general }}</p>
    <p v-else-if="!may" class="quiet">
      {{ [one.about, one.mail, one.phone].filter(Boolean).join(', ') || 'Nothing else is told of them.' }}
      <router-link v-if="own" :to="{ name: 'own' }">Change what the team knows of you</router-link>
    </p>
    <LeavePanel
      v-if="leaving"
      :one="one"
      :people="team.people"
      @done="((leaving = false), emit('done', $event))"
      @leave="leaving = false"
    />
  </div>
</template>

<style scoped>
.facts {
  padding: 4px 0 14px;
}
form {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 8px var(--gap-4);
  max-width: 960px;
}
.wide {
  grid-column: 1 / -1;
}
.check {
  grid-column: 1 / -1;
  display: flex;
  gap: 8px;
  align-items: center;
}
.check input {
  accent-color: var(--moss);
}
.acts {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  margin: 0;
}
@media (max-width: 700px) {
  .acts .link {
    min-height: 44px;
  }
}
</style>
