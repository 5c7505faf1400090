<script setup lang="ts">
// What an automation did: a sentence, a drawing, and each run step by step.
import { api, told as taken } from '@/api/client'
import type { AutomationRuns } from '@/api/types'
import { useDoing } from '@/app/asking'
import LogLines from './LogLines.vue'
import RunsDrawing from './RunsDrawing.vue'

const props = defineProps<{ tracker: number; told: AutomationRuns | undefined; readonly?: boolean }>()
const emit = defineEmits<{ again: [] }>()
const { busy, trouble, attempt } = useDoing()
async function again(mail: number) {
  const path = { tracker: props.tracker, mail }
  await attempt(() => taken(api.POST('/api/trackers/{tracker}/mails/{mail}/again', { params: { path } })))
  emit('again')
}
const STATES = { ended: '', waits: 'waits', failed: 'failed', left_out: 'left out' } as const
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
    <div v-for="(run, n) in told?.runs ?? []" :key="n" class="run" :class="`is-${run.state}`" data-test="run">
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
