<script setup lang="ts">
// What an automation did: a sentence, a drawing, and each run step by step.
import { computed, ref } from 'vue'
import { refDebounced } from '@vueuse/core'
import { api, told as taken } from '@/api/client'
import type { AutomationRuns } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import LogLines from './LogLines.vue'
import RunsDrawing from './RunsDrawing.vue'

const props = defineProps<{
  tracker: number
  automation: number
  told: AutomationRuns | undefined
  readonly?: boolean
  /** Which of them are looked at first. */
  only?: State
}>()
const emit = defineEmits<{ again: [] }>()
const { busy, trouble, attempt } = useDoing()
const STATES = { ended: '', waits: 'waits', failed: 'failed', left_out: 'left out' } as const
type State = keyof typeof STATES
const words = ref('')
const asked = refDebounced(words, 200)
const state = ref<State | undefined>(props.only)
const narrowed = computed(() => !!asked.value.trim() || !!state.value)
/** Those that fit what is looked for, among all there are. */
const found = useAsked(
  () => ['runs found', props.tracker, props.automation, asked.value, state.value, props.told?.runs[0]?.at_text],
  () => {
    if (!narrowed.value) return Promise.resolve(null)
    const path = { tracker: props.tracker, automation: props.automation }
    const query = { find: asked.value, ...(state.value && { state: state.value }) }
    return taken(api.GET('/api/trackers/{tracker}/automations/{automation}/runs', { params: { path, query } }))
  },
)
const runs = computed(() => (narrowed.value ? found.told.value : props.told)?.runs ?? [])
const STATE_PICKS = [
  { value: undefined, title: 'all' },
  { value: 'ended' as const, title: 'those that ended' },
  { value: 'waits' as const, title: 'those that wait' },
  { value: 'failed' as const, title: 'those that failed' },
  { value: 'left_out' as const, title: 'those left out' },
]
async function again(mail: number) {
  const path = { tracker: props.tracker, mail }
  await attempt(() => taken(api.POST('/api/trackers/{tracker}/mails/{mail}/again', { params: { path } })))
  emit('again')
  void found.again()
}
</script>

<template>
  <section class="log" aria-label="What it did">
    <h3>What it did</h3>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-if="told && !told.runs.length" class="quiet">Nothing yet.</p>
    <template v-if="told?.says">
      <p class="says">{{ told.says }}</p>
      <RunsDrawing :runs="told.runs" :says="told.says" />
    </template>
    <p v-if="told?.runs.length" class="find">
      <input
        v-model="words"
        type="search"
        class="boxed"
        aria-label="Find in what it did"
        placeholder="a record, somebody, a word"
        data-test="find-run"
      />
      <PickOne v-model="state" said aria-label="Which of its runs" data-test="run-state" :items="STATE_PICKS" />
    </p>
    <p v-if="narrowed && found.told.value && !runs.length" class="quiet" role="status" data-test="no-run">None of its runs fits that.</p>
    <div v-for="(run, n) in runs" :key="n" class="run" :class="`is-${run.state}`" data-test="run">
      <p class="when-run">
        <time>{{ run.at_text }}</time>
        <router-link v-if="run.record_name" :to="{ name: 'record', params: { tracker, table: run.table ?? 0, record: run.record ?? 0 } }">{{
          run.record_name
        }}</router-link>
        <span v-if="STATES[run.state]" class="state" :class="run.state">{{ STATES[run.state] }}</span>
      </p>
      <LogLines :log="run.log" />
      <p v-for="mail in run.mails" :key="mail.to" class="quiet"
        >{{ mail.by_text }} to {{ mail.to }}: {{ mail.state }}<template v-if="mail.answered">, answered “{{ mail.answered }}”</template>.
        {{ mail.note }}
        <button v-if="mail.again && !readonly" type="button" class="link" data-test="send-again" :disabled="busy" @click="again(mail.again)"
          >Send it again</button
        ></p
      >
    </div>
  </section>
</template>

<style scoped>
h3 {
  font-size: 15px;
}
.find {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-3);
  align-items: baseline;
  margin: 6px 0;
}
.find input {
  flex: 1 1 160px;
  padding: 3px 8px;
}
.says {
  margin: 0 0 4px;
  font: 15px/1.5 var(--serif);
}
.run {
  border-top: 1px solid var(--line);
  padding: 8px 0;
  font-size: 13.5px;
}
.run p {
  margin: 0;
}
.when-run {
  display: flex;
  gap: 10px;
}
time {
  color: var(--quiet);
}
.state.failed {
  color: var(--fault);
  font-weight: 600;
}
.state.waits {
  color: var(--copper);
}
.state.left_out {
  color: var(--quiet);
}
</style>
