<script setup lang="ts">
// One automation: its clauses, each phrase editable, and its log.
import PickOne from '@/features/menu/PickOne.vue'
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Automation, AutomationBody, Condition } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { isIn, ruleOf, steps } from '@/app/pointer'
import { pruned, without } from '@/features/condition/checks'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { useVocabulary } from '@/features/condition/vocabulary'
import { useSession } from '@/features/session/session'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import SentenceLine from '@/features/view/SentenceLine.vue'
import MailEditor from './MailEditor.vue'
import { keyOf, occasionOf, occasions } from './occasions'

const { tracker: currentTracker } = useTracker()
const { vocabulary } = useVocabulary()

const props = defineProps<{ tracker: number; one: Automation }>()
const emit = defineEmits<{ changed: [] }>()

const { me } = useSession()
const doing = useDoing()
const { trouble, problem } = doing
const readonly = computed(() => !!me.value?.stands_in)
const automation = computed(() => props.one.automation)
const table = computed(() => currentTracker.value?.tables.find((t) => t.id === automation.value.table))
const forms = computed(() => currentTracker.value?.forms.filter((f) => f.table === automation.value.table) ?? [])
const parts = useParts(() => props.tracker)
const asked = useAsked(
  () => ['runs', props.tracker, automation.value.id],
  () =>
    told(
      api.GET('/api/trackers/{tracker}/automations/{automation}/runs', {
        params: { path: { tracker: props.tracker, automation: automation.value.id } },
      }),
    ),
)
watch(
  () => props.one,
  () => void asked.again(),
)
const runs = computed(() => asked.told.value ?? [])

const condition = ref<Condition>({ all: [] })
watch(automation, (now) => (condition.value = JSON.parse(JSON.stringify(now.condition ?? { all: [] })) as Condition), { immediate: true })
const wrapped = computed<Condition>(() => ('test' in condition.value ? { all: [condition.value] } : condition.value))

async function keep(change: Partial<AutomationBody>): Promise<boolean> {
  const { table, name, on, when, condition } = automation.value
  const body: AutomationBody = { table, name, on, when, condition: condition ?? { all: [] }, steps: props.one.steps, ...change }
  return attempt(() => parts.save('automation', automation.value.id, { automation: body }))
}

const remove = () => attempt(() => parts.drop('automation', automation.value.id))

async function attempt(does: () => Promise<unknown>): Promise<boolean> {
  const done = await doing.attempt(() => does().then(() => true))
  if (done) emit('changed')
  return !!done
}

function dropPhrase(at: string) {
  if (isIn(at, '/condition')) void keep({ condition: without(condition.value, at.slice('/condition'.length)) })
}

/** Which of its steps a place is in. */
const placeOf = (at: string) => Number(steps(at)[1])
</script>

<template>
  <article class="automation">
    <div class="paragraph">
      <header>
        <h2>{{ automation.name }}</h2>
        <button
          type="button"
          role="switch"
          class="state"
          :aria-checked="automation.on"
          :aria-label="`${automation.name} runs`"
          :disabled="readonly"
          data-test="automation-on"
          @click="keep({ on: !automation.on })"
        >
          <b>{{ automation.on ? 'runs' : 'rests' }}</b><span v-if="!readonly">{{ automation.on ? 'let it rest' : 'let it run' }}</span>
        </button>
      </header>
      <SentenceLine v-for="(clause, n) in one.clauses" :key="n" large :phrases="clause" :faults="problem?.faults" @drop="dropPhrase">
        <template #editor="{ at, close }">
          <template v-if="ruleOf(at) === '/condition' && table">
            <ConditionEditor :table="table" :model-value="wrapped" @update:model-value="condition = $event" />
            <div class="acts">
              <v-btn variant="text" @click="close">Leave it</v-btn>
              <v-btn
                color="primary"
                :disabled="readonly"
                data-test="keep-condition"
                @click="keep({ condition: pruned(condition) }).then((kept) => kept && close())"
                >Change the condition</v-btn
              >
            </div>
          </template>
          <MailEditor
            v-else-if="isIn(at, '/steps') && table"
            :table="table"
            :step="one.steps[placeOf(at)]!"
            :place="placeOf(at)"
            :problem="problem"
            :readonly="readonly"
            @keep="keep({ steps: one.steps.map((s, m) => (m === placeOf(at) ? $event : s)) }).then((kept) => kept && close())"
            @leave="close"
          />
          <label v-else-if="at === '/when'" class="when">
            When a {{ table?.one }}
            <PickOne
              :model-value="keyOf(automation.when)"
              :disabled="readonly"
              :items="occasions(vocabulary, forms)"
              @update:model-value="keep({ when: occasionOf($event) })"
            />
          </label>
        </template>
      </SentenceLine>
      <button class="away" :disabled="readonly" @click="remove">Take this automation away</button>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    </div>
    <section class="log" aria-label="What it did">
      <h3>What it did</h3>
      <p v-if="!runs.length" class="quiet">Nothing yet.</p>
      <div v-for="(run, n) in runs" :key="n" class="run" data-test="run">
        <p class="when-run">
          <time>{{ run.at_text }}</time>
          <router-link
            v-if="run.record_name"
            :to="{ name: 'record', params: { tracker, table: run.table ?? 0, record: run.record ?? 0 } }"
            >{{ run.record_name }}</router-link
          >
        </p>
        <p v-for="line in run.log" :key="line.text" :class="line.outcome">{{ line.text }}</p>
        <p v-for="mail in run.mails" :key="mail.to" class="quiet">To {{ mail.to }}: {{ mail.state }}. {{ mail.note }}</p>
      </div>
    </section>
  </article>
</template>

<style scoped>
.automation {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 56px;
  border-top: 1px solid var(--line);
  margin-top: var(--gap-4);
  padding-top: var(--gap-4);
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
h2 {
  font-size: 19px;
}
h3 {
  font-size: 15px;
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
.yes::before {
  content: '✓ ';
  color: var(--moss);
}
.no::before {
  content: '✕ ';
  color: var(--copper);
}
.failed::before {
  content: '! ';
  color: var(--fault);
  font-weight: 700;
}
.state {
  display: inline-flex;
  gap: var(--gap-2);
  align-items: baseline;
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--quiet);
}
.state[aria-checked='true'] b {
  color: var(--moss);
}
.state span {
  text-decoration: underline;
  text-underline-offset: 3px;
}
header :deep(.v-label) {
  white-space: nowrap;
}
.away {
  border: 0;
  background: none;
  padding: 0;
  margin-top: var(--gap-3);
  color: var(--quiet);
  font-size: 13px;
  cursor: pointer;
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
  margin-top: var(--gap-3);
}
@media (max-width: 900px) {
  .automation {
    grid-template-columns: minmax(0, 1fr);
    gap: var(--gap-4);
  }
}
</style>
