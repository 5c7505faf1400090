<script setup lang="ts">
// Addresses outside that want no more messages: what each said, and correcting it.
import { computed, nextTick, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { OptOutLine, TeamDone, Wanted } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'

const props = defineProps<{ owns: boolean; readonly: boolean }>()
const emit = defineEmits<{ done: [done: TeamDone] }>()
const { told: lines, again } = useAsked(['opt-outs'], () => told(api.GET('/api/team/opt-outs')))
const { trouble, busy, attempt } = useDoing()
/** From so many on one looks for an address instead of reading all. */
const MANY = 8
const looked = ref('')
const shown = computed(() => {
  const wanted = looked.value.trim().toLowerCase()
  const holds = (line: OptOutLine) => [line.address, ...line.of.map((one) => one.words)].some((text) => text.toLowerCase().includes(wanted))
  return (lines.value ?? []).filter(holds)
})
const noting = ref(false)
const address = ref('')
const own = ref<HTMLElement>()
// Whoever works by keys goes on in what they began, and comes back to where they began it.
watch(noting, async (begun) => {
  await nextTick()
  own.value?.querySelector<HTMLElement>(begun ? '#opt-out-address' : '[data-test=note-opt-out]')?.focus()
})

async function say(to: Wanted, about: string) {
  const done = await attempt(() => told(api.POST('/api/team/opt-outs', { body: { address: about, to } })))
  // Whoever shows it reads it again, with what else this moved.
  if (done) emit('done', done)
  return !!done
}
async function note() {
  if (!(await say({ none: { by: null } }, address.value))) return
  address.value = ''
  noting.value = false
}
/** Whoever wants none at all, or only none of one, gets all again in one press; an owner alone says so for all. */
const whole = (line: OptOutLine) => props.owns && (line.all || line.of.length > 1)
defineExpose({ again })
</script>

<template>
  <details v-if="lines?.length || owns" ref="own" class="opt-outs" data-test="opt-outs">
    <summary>
      Addresses outside that want no more messages<template v-if="lines?.length">: {{ lines.length }}</template>
    </summary>
    <p class="quiet about"
      >Each message that goes outside has a link by which its reader says so. Nothing is sent there by itself from then on.</p
    >
    <p v-if="(lines?.length ?? 0) >= MANY"
      ><input
        v-model="looked"
        type="search"
        class="boxed"
        aria-label="Find an address, or a message"
        placeholder="Find an address, or a message"
        data-test="find-opt-out"
      />
      <span v-if="looked.trim()" class="quiet" role="status">{{ shown.length }} of {{ lines?.length }}</span></p
    >
    <p v-if="lines?.length && !shown.length" class="quiet">None of them is called so.</p>
    <ul v-if="shown.length">
      <li v-for="line in shown" :key="line.address" :data-address="line.address">
        <b>{{ line.address }}</b>
        <span v-if="line.all">wants none at all</span>
        <template v-else>
          <span v-for="one in line.of" :key="`${one.of.tracker} ${one.of.part}`" class="of">
            no more of {{ one.words }}
            <button
              v-if="!readonly"
              class="link"
              :disabled="busy"
              :aria-label="`send these again: ${one.words} to ${line.address}`"
              @click="say({ these: one.of }, line.address)"
              >send these again</button
            >
          </span>
        </template>
        <span class="quiet">{{ line.since }}</span>
        <button
          v-if="whole(line) && !readonly"
          class="link"
          :disabled="busy"
          :aria-label="`send all again to ${line.address}`"
          @click="say('all', line.address)"
          >send all again</button
        >
      </li>
    </ul>
    <p v-else-if="!lines?.length" class="quiet">Nobody said so yet.</p>
    <template v-if="owns && !readonly">
      <button v-if="!noting" class="link" data-test="note-opt-out" @click="noting = true">Note an address that said so otherwise</button>
      <form v-else class="note" @submit.prevent="note">
        <label for="opt-out-address">Write no more to</label>
        <input
          id="opt-out-address"
          v-model="address"
          autocomplete="off"
          placeholder="address or phone number"
          required
          data-test="opt-out-address"
        />
        <v-btn type="submit" color="primary" :disabled="busy || !address.trim()">Note it</v-btn>
        <v-btn variant="text" @click="noting = false">Leave it</v-btn>
      </form>
    </template>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  </details>
</template>

<style scoped>
.opt-outs {
  margin-top: var(--gap-3);
}
summary {
  min-height: 32px;
  cursor: pointer;
}
.about {
  margin: 0 0 var(--gap-2);
}
ul {
  list-style: none;
  margin: 0 0 var(--gap-2);
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px var(--gap-3);
  padding: 6px 0;
  border-top: 1px solid var(--line);
  overflow-wrap: anywhere;
}
b {
  font-weight: 600;
}
.note {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--gap-2) var(--gap-3);
}
.note input {
  min-width: 260px;
  min-height: 36px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 5px 10px;
}
@media (max-width: 700px) {
  summary,
  .link {
    min-height: 44px;
  }
  summary {
    line-height: 44px;
  }
}
</style>
