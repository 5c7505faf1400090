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
/** Which of the choices, from 0: the one whose link was pressed in the message. */
const chosen = ref(Math.max(0, Number(new URLSearchParams(location.search).get('with') ?? 1) - 1 || 0))
const typed = ref('')
const choice = computed(() => view.value?.choices[chosen.value] ?? view.value?.choices[0])
const others = computed(() =>
  (view.value?.choices ?? []).map((one, n) => ({ ...one, n })).filter((one) => one.words !== choice.value?.words),
)
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
  const given = view.value?.typed ? { typed: typed.value } : { choice: view.value?.choices.indexOf(choice.value!) ?? 0 }
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
      <p v-if="!view.answered" class="small foot">{{ view.small }}</p>
    </template>
    <section v-else-if="trouble" role="alert">
      <h1>Nothing to answer here</h1>
      <p class="says">{{ trouble }}</p>
      <button type="button" class="link" @click="read">Try again</button>
    </section>
  </main>
</template>

<style scoped>
main {
  max-width: 560px;
  min-height: 100dvh;
  margin: 0 auto;
  padding: 16px 20px 40px;
  color: var(--ink);
}
.team {
  margin: 0;
  font: 600 15px var(--serif);
}
h1 {
  font-size: 26px;
  line-height: 1.2;
  margin: 14px 0 12px;
  overflow-wrap: anywhere;
}
.says {
  font: 19px/1.5 var(--serif);
}
.press {
  width: 100%;
  min-height: 56px;
  margin-top: 14px;
  border: 1px solid var(--moss);
  border-radius: var(--corner);
  background: var(--moss);
  color: var(--moss-ink);
  font-size: 17px;
  font-weight: 600;
  cursor: pointer;
}
.press:disabled {
  opacity: 0.6;
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
.link {
  min-height: 44px;
  border: 0;
  background: none;
  padding: 0 4px;
  color: var(--moss);
  text-decoration: underline;
  cursor: pointer;
  white-space: nowrap;
}
.small {
  color: var(--quiet);
  font-size: 13.5px;
  line-height: 1.5;
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
.fault {
  margin: 10px 0 0;
  color: var(--fault);
}
.fault::before {
  content: '! ';
  font-weight: 700;
}
</style>
