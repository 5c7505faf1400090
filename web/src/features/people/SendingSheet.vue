<script setup lang="ts">
// When and how fast messages go out by themselves, for the whole team.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { Sending, TeamDone } from '@/api/types'
import { useDoing } from '@/app/asking'
import { hourOf, hourText } from '@/features/cell/hours'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'

const props = defineProps<{ sending: Sending }>()
const emit = defineEmits<{ done: [done: TeamDone]; leave: [] }>()
/** What holds where the team says nothing. */
const [TO_ONE, TO_ALL] = [60, 20_000]
const { quiet, to_one, to_all } = props.sending
const from = ref(quiet ? hourText(quiet.from) : '')
const until = ref(quiet ? hourText(quiet.until) : '')
const toOne = ref(String(to_one ?? TO_ONE))
const toAll = ref(String(to_all ?? TO_ALL))
const { trouble, busy, attempt, at } = useDoing()

const counted = (text: string, usual: number) => {
  const count = /^\d{1,9}$/.test(text.trim()) ? Number(text) : 0
  return count === usual ? null : count
}
const said = computed<Sending>(() => ({
  // Half of it is no hours of a day, and told so.
  quiet: from.value || until.value ? { from: hourOf(from.value) ?? 0, until: hourOf(until.value) ?? 0 } : null,
  to_one: counted(toOne.value, TO_ONE),
  to_all: counted(toAll.value, TO_ALL),
}))
async function keep() {
  const done = await attempt(() => told(api.PUT('/api/team/sending', { body: said.value })))
  if (done) emit('done', done)
}
const fault = computed(() => at('/quiet') || at('/to_one') || at('/to_all'))
</script>

<template>
  <RehearsalPanel
    opens
    title="When and how fast messages go out by themselves"
    act="Keep it so"
    :busy="busy"
    :trouble="fault ? '' : trouble"
    @act="keep"
    @leave="emit('leave')"
  >
    <p class="line">
      Nothing goes out from
      <input v-model="from" type="time" class="boxed" aria-label="Quiet from" data-test="team-quiet-from" />
      until
      <input v-model="until" type="time" class="boxed" aria-label="Quiet until" data-test="team-quiet-until" />
      <button v-if="from || until" type="button" class="link" data-test="any-hour" @click="from = until = ''">at any hour</button>
    </p>
    <p class="quiet">By the clock of its reader; outside, of the tracker. Whoever named quiet hours of their own is held by those.</p>
    <p class="line">
      One automation writes at most
      <input v-model="toOne" class="boxed count" inputmode="numeric" aria-label="To one reader within an hour" data-test="to-one" />
      messages to one reader within an hour, and
      <input v-model="toAll" class="boxed count" inputmode="numeric" aria-label="To all readers within an hour" data-test="to-all" />
      to all of them.
    </p>
    <p class="quiet"
      >What is more waits for the next hour, and whoever the automation acts for is told. Codes and invitations are never held.</p
    >
    <p v-if="fault" class="fault-text" role="alert">{{ fault }}</p>
  </RehearsalPanel>
</template>

<style scoped>
.line {
  font: 16px/1.9 var(--serif);
  margin: 0;
}
.line input {
  font: 14px var(--sans);
  padding: 3px 8px;
}
.count {
  width: 84px;
  text-align: right;
}
.quiet {
  margin: 0 0 var(--gap-2);
}
</style>
