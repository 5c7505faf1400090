<script setup lang="ts">
// The live address of a calendar: other calendars look at it by themselves, as whoever made it sees the view.
import { computed, ref } from 'vue'
import type { View } from '@/api/types'
import { useCalendars } from './calendars'

const props = defineProps<{ tracker: number; view: View }>()
const { lines, doing, withdraw, make } = useCalendars()
const mine = computed(() => lines.value?.find((line) => line.tracker === props.tracker && line.view === props.view.id))
const made = ref('')
const copied = ref(false)

async function begin() {
  copied.value = false
  made.value = (await make(props.tracker, props.view.id)) ?? ''
}
async function end() {
  made.value = ''
  if (mine.value) await withdraw(mine.value)
}
async function copy() {
  await navigator.clipboard.writeText(made.value)
  copied.value = true
}
</script>

<template>
  <section class="live" aria-label="As a live address" data-test="calendar-address">
    <h3>As a live address</h3>
    <p>Put into another calendar, it follows “{{ view.name }}” as kept, every hour or so. Whoever has it sees what you see here.</p>
    <div v-if="made" class="made">
      <input
        readonly
        :value="made"
        aria-label="The live address"
        data-test="calendar-made"
        @focus="($event.target as HTMLInputElement).select()"
      />
      <v-btn variant="outlined" data-test="copy-calendar" @click="copy">{{ copied ? 'Copied' : 'Copy' }}</v-btn>
    </div>
    <p v-if="made" class="quiet" role="status">It is shown this once: keep it where you use it.</p>
    <p v-else-if="mine" class="quiet"
      >You made one {{ mine.made }}; {{ mine.looked ? `it was last looked at ${mine.looked}` : 'nobody has looked at it yet' }}.</p
    >
    <p v-if="doing.trouble.value" class="fault-text" role="alert">{{ doing.trouble.value }}</p>
    <div class="acts">
      <v-btn v-if="mine" variant="text" :disabled="doing.busy.value" data-test="withdraw-calendar" @click="end">Withdraw it</v-btn>
      <v-btn v-if="!made" variant="outlined" :disabled="doing.busy.value" data-test="make-calendar" @click="begin">{{
        mine ? 'Make another: the old one ends' : 'Make an address'
      }}</v-btn>
    </div>
  </section>
</template>

<style scoped>
.live {
  display: grid;
  gap: var(--gap-2);
  border-top: 1px solid var(--line);
  padding-top: var(--gap-3);
}
h3,
p {
  margin: 0;
}
h3 {
  font: 600 15px/1.4 var(--serif);
}
.made {
  display: flex;
  gap: var(--gap-2);
}
.made input {
  flex: 1;
  min-width: 0;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: 0 var(--gap-2);
  background: var(--ground);
  font-size: 13px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: var(--gap-2);
}
</style>
