<script setup lang="ts">
// A message answered from within it: what it is about, what pressing will do, and afterwards what was answered. Looking changes nothing.
import { computed, onMounted, ref } from 'vue'
import { ask, json } from '@/api/plain'
import type { ReplyView } from '@/api/types'
import ReplyFacts from './ReplyFacts.vue'
import ReplySays from './ReplySays.vue'

const address = `/api/public/replies/${encodeURIComponent(location.pathname.split('/')[2] ?? '')}`
const view = ref<ReplyView>()
const trouble = ref('')
const fault = ref('')
const sending = ref(false)
/** Which of the choices, from 0: the one whose link was pressed in the message; none: a text has one link for them all. */
const link = new URLSearchParams(location.search).get('with')
const chosen = ref(link === null ? undefined : Math.max(0, Number(link) - 1 || 0))
const typed = ref('')
const choices = computed(() => view.value?.choices ?? [])
const choice = computed(() => {
  if (chosen.value === undefined && choices.value.length > 1) return undefined
  return choices.value[chosen.value ?? 0] ?? choices.value[0]
})
const others = computed(() => choices.value.map((one, n) => ({ ...one, n })).filter((one) => one.words !== choice.value?.words))
const INPUTS = { text: 'text', number: 'text', date: 'date' } as const

function take(fresh: ReplyView) {
  view.value = fresh
  document.title = fresh.title
}
async function read() {
  trouble.value = ''
  const answer = await ask<ReplyView>(address)
  if (answer.ok) take(answer.body)
  else trouble.value = answer.says
}
onMounted(read)

async function press() {
  fault.value = ''
  sending.value = true
  const given = view.value?.typed ? { typed: typed.value } : { choice: choices.value.indexOf(choice.value!) }
  const answer = await ask<ReplyView>(address, json('POST', given))
  sending.value = false
  if (answer.ok) take(answer.body)
  else {
    fault.value = answer.faults[0]?.message ?? answer.says
    // What was true when the page was opened may be no more.
    if (!view.value?.typed) await read()
  }
}
</script>

<template>
  <main>
    <template v-if="view">
      <p class="team">{{ view.team }}</p>
      <h1>{{ view.title }}</h1>
      <ReplyFacts :facts="view.facts" />
      <div aria-live="polite">
        <p v-if="view.closed" class="says" data-test="closed">{{ view.closed }}</p>
        <section v-else-if="view.answered" class="done" data-test="answered">
          <ReplySays :phrases="view.answered.says" />
          <dl>
            <div v-for="line in view.answered.changed" :key="line"
              ><dt>changed</dt><dd>{{ line }}</dd></div
            >
            <div v-for="name in view.answered.told" :key="name"
              ><dt>told</dt><dd>{{ name }}</dd></div
            >
          </dl>
          <p class="small">The link has done its work. Whoever opens it again reads this page and changes nothing.</p>
        </section>
      </div>
      <form v-if="view.typed" @submit.prevent="press">
        <label class="asks" for="typed">{{ view.typed.asks }}</label>
        <input
          id="typed"
          v-model="typed"
          :type="INPUTS[view.typed.sort]"
          :inputmode="view.typed.sort === 'number' ? 'decimal' : undefined"
          maxlength="500"
          data-test="typed"
          :aria-invalid="!!fault"
          aria-describedby="fault"
        />
        <ReplySays :phrases="view.typed.says" />
        <p v-if="fault" id="fault" class="fault" role="alert">{{ fault }}</p>
        <button type="submit" class="press" :disabled="sending" data-test="press">Answer</button>
      </form>
      <template v-else-if="choice">
        <ReplySays :phrases="choice.says" />
        <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
        <button type="button" class="press" :disabled="sending" data-test="press" @click="press">{{ choice.words }}</button>
        <p v-for="other in others" :key="other.words" class="other">
          <span
            >Or rather <b>{{ other.words }}</b></span
          >
          <button type="button" class="link" :aria-label="`choose that: ${other.words}`" @click="chosen = other.n">choose that</button>
        </p>
      </template>
      <template v-else-if="choices.length">
        <p class="says">What do you answer? You see what it would do before it counts.</p>
        <button v-for="one in others" :key="one.words" type="button" class="press offer" :data-choice="one.words" @click="chosen = one.n">{{
          one.words
        }}</button>
      </template>
      <p v-if="!view.answered" class="small foot">{{ view.small }}</p>
    </template>
    <section v-else-if="trouble" role="alert">
      <h1>Nothing to answer here</h1>
      <p class="says">{{ trouble }}</p>
      <button type="button" class="link" @click="read">Try again</button>
    </section>
  </main>
</template>

<style scoped src="./small-page.css"></style>
<style scoped>
/* Nothing counts by these yet. */
.offer {
  background: var(--sheet);
  color: var(--moss);
}
.other {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  margin: 0;
  min-height: 48px;
  border-bottom: 1px solid var(--line);
}
.done {
  margin: 18px 0 0 -14px;
  padding-left: 11px;
  border-left: 3px solid var(--moss);
}
dl {
  margin: 8px 0 0;
}
dl div {
  display: grid;
  grid-template-columns: 76px 1fr;
  padding: 8px 0;
  border-top: 1px solid var(--line);
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.asks {
  display: block;
  margin-top: 18px;
  font: 600 19px/1.4 var(--serif);
}
input {
  width: 100%;
  min-height: 48px;
  margin-top: 8px;
  padding: 0 12px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  font-size: 17px;
}
</style>
