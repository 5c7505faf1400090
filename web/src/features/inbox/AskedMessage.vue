<script setup lang="ts">
// A message that waits for an answer: as its own page says it, answered here by a press.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { InboxAsk } from '@/api/types'
import { useDoing } from '@/app/asking'
import ReplyFacts from '@/reply/ReplyFacts.vue'
import ReplySays from '@/reply/ReplySays.vue'
import WhyTold from './WhyTold.vue'

const props = defineProps<{ ask: InboxAsk; readonly: boolean }>()
const emit = defineEmits<{ answered: [] }>()

const chosen = ref<number>()
const typed = ref('')
const { trouble, busy, attempt, at } = useDoing()
const choice = computed(() => (chosen.value === undefined ? undefined : props.ask.page.choices[chosen.value]))

async function press() {
  const body = props.ask.page.typed ? { typed: typed.value } : { choice: chosen.value ?? 0 }
  const answered = await attempt(() => told(api.POST('/api/inbox/asks/{ask}', { params: { path: { ask: props.ask.number } }, body })))
  if (answered) emit('answered')
}
</script>

<template>
  <article class="ask" :aria-label="ask.page.title" data-test="ask">
    <header>
      <router-link :to="{ name: 'record', params: { tracker: ask.tracker, table: ask.table, record: ask.record } }">{{
        ask.page.title
      }}</router-link>
      <time>{{ ask.at_text }}</time>
    </header>
    <ReplyFacts :facts="ask.page.facts" />
    <template v-if="!readonly">
      <p v-if="ask.page.choices.length" class="choices">
        <v-btn
          v-for="(one, n) in ask.page.choices"
          :key="one.words"
          variant="outlined"
          :aria-pressed="chosen === n"
          :data-choice="one.words"
          @click="chosen = chosen === n ? undefined : n"
          >{{ one.words }}</v-btn
        >
      </p>
      <form v-else-if="ask.page.typed" @submit.prevent="press">
        <label
          >{{ ask.page.typed.asks }}
          <input v-model="typed" class="boxed" :type="ask.page.typed.sort === 'date' ? 'date' : 'text'" maxlength="500"
        /></label>
      </form>
      <ReplySays v-if="choice" :phrases="choice.says" />
      <p v-if="trouble" class="fault-text" role="alert">{{ at('/typed') ?? trouble }}</p>
      <v-btn v-if="choice || (ask.page.typed && typed)" color="primary" :disabled="busy" data-test="press-answer" @click="press">{{
        choice ? choice.words : 'Answer'
      }}</v-btn>
    </template>
    <p class="foot"><WhyTold :why="ask.why" /></p>
  </article>
</template>

<style scoped>
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--gap-3);
  margin: var(--gap-2) 0 0;
}
.ask {
  padding: var(--gap-3) 0 var(--gap-4) var(--gap-3);
  border-top: 1px solid var(--line);
  border-left: 3px solid var(--copper);
}
header {
  display: flex;
  gap: var(--gap-3);
  justify-content: space-between;
  margin-bottom: var(--gap-2);
}
header a {
  font-weight: 600;
}
time {
  color: var(--quiet);
  font-size: 13px;
  white-space: nowrap;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  margin: var(--gap-3) 0 0;
}
.choices .v-btn {
  min-height: 44px;
}
.choices [aria-pressed='true'] {
  border-color: var(--copper);
  background: var(--copper-soft);
}
[data-test='press-answer'] {
  margin-top: var(--gap-3);
}
.boxed {
  padding: 6px 10px;
  font: 15px var(--sans);
}
</style>
