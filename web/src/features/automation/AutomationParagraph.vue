<script setup lang="ts">
// One automation: its clauses, each phrase editable, and its log.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Automation, Clause, Condition } from '@/api/types'
import { useAsked } from '@/app/asking'
import { isIn, ruleOf } from '@/app/pointer'
import { pruned } from '@/features/condition/checks'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { useSession } from '@/features/session/session'
import AutomationTrial from './AutomationTrial.vue'
import ClauseLines from './ClauseLines.vue'
import { useAutomation, type Asked } from './drafting'
import OccasionEditor from './OccasionEditor.vue'
import type { Occasion } from './occasions'
import RunsLog from './RunsLog.vue'
import StepEditor from './StepEditor.vue'
import { listAt, stepAt, stepPlace } from './steps'

const props = defineProps<{ tracker: number; one: Automation; /** Of what it did, what is looked at first. */ only?: 'failed' }>()
const emit = defineEmits<{ changed: [] }>()

const { me } = useSession()
const readonly = computed(() => !!me.value?.stands_in)
const saying = useAutomation(
  () => props.tracker,
  () => props.one,
  () => emit('changed'),
)
const { automation, table, said, asks, trouble, problem, adding, keep, set } = saying
const wrapped = (one: Condition): Condition => ('test' in one ? { all: [one] } : one)
/** Which condition a phrase is of. */
const asked = (at: string): Asked | undefined => (['condition', 'before'] as const).find((which) => ruleOf(at) === `/${which}`)
/** Whether it comes for many records at once. */
const gathers = computed(() => {
  const { when: now } = said.value
  return now === 'chosen' || (typeof now === 'object' && ('every' in now || 'date' in now))
})

/** Whether somebody sets it going by what they put in or press, and so can be told before. */
const isSaid = computed(() => {
  const { when: now } = said.value
  return now === 'pressed' || now === 'fits' || (typeof now === 'object' && 'changed' in now)
})

const runs = useAsked(
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
  () => void runs.again(),
)

/** What a clause says, with what stands within it, without what it offers. */
function plain(clause: Clause): string {
  const own = clause.phrases.filter((one) => one.tone !== 'offer').map((one) => one.text)
  const inner = clause.branches.flatMap((branch) => [branch.word, ...branch.clauses.map((one) => `${one.word} ${plain(one)}`)])
  return [own.join(''), ...inner].filter(Boolean).join('; ')
}

// An hour is typed key by key: what sets it going is kept once one is done with it.
const when = ref<Occasion>()
function leaveWhen(close: () => void) {
  when.value = undefined
  close()
}
const trying = ref<'seen' | 'switching'>()
function toggle() {
  // What would have happened is seen before it does.
  if (automation.value.on) void set({ on: false })
  else trying.value = 'switching'
}
async function letRun() {
  if (await saying.takeOver()) trying.value = undefined
}
const name = ref<string>()
async function rename() {
  const typed = name.value?.trim()
  name.value = undefined
  if (typed && typed !== automation.value.name) await set({ name: typed })
}
</script>

<template>
  <article class="automation" :aria-label="automation.name">
    <div class="paragraph">
      <header>
        <h2>
          <button
            v-if="name === undefined"
            type="button"
            class="name"
            :disabled="readonly"
            title="Rename it"
            @click="name = automation.name"
            >{{ automation.name }}</button
          >
          <input
            v-else
            v-model="name"
            class="boxed"
            aria-label="Name of the automation"
            data-test="automation-name"
            @keydown.enter="rename"
            @keydown.esc="name = undefined"
            @blur="rename"
          />
        </h2>
        <button
          type="button"
          role="switch"
          class="state"
          :aria-checked="automation.on"
          :aria-label="`${automation.name} runs`"
          :disabled="readonly"
          data-test="automation-on"
          @click="toggle"
        >
          <b>{{ automation.on ? 'runs' : 'rests' }}</b><span v-if="!readonly">{{ automation.on ? 'let it rest' : 'let it run' }}</span>
        </button>
      </header>
      <p v-if="one.draft" class="draft" data-test="draft"
        >The draft<button type="button" class="link" :disabled="readonly" data-test="drop-draft" @click="saying.dropDraft"
          >Drop the draft</button
        ><button type="button" class="link" :disabled="readonly" data-test="take-over" @click="trying = 'switching'"
          >Let it take over</button
        ></p
      >
      <ClauseLines
        :clauses="said.clauses"
        list="/steps"
        :readonly="readonly"
        :problem="problem"
        :adding="adding?.list"
        @drop="saying.drop"
        @add="saying.add"
        @out="saying.out"
        @move="saying.move"
      >
        <template #editor="{ at, close }">
          <template v-if="asked(at) && table">
            <p v-if="asked(at) === 'before'" class="lead">Only if, before it changed, this held of the {{ table.one }}:</p>
            <ConditionEditor
              :table="table"
              :model-value="wrapped(asks[asked(at)!])"
              :nothing="asked(at) === 'before' ? 'Say what held before: it is asked of how it stood then.' : undefined"
              @update:model-value="asks[asked(at)!] = $event"
            />
            <p v-if="problem?.at(`/${asked(at)}`)" class="fault-text" role="alert">{{ problem.at(`/${asked(at)}`) }}</p>
            <div class="acts">
              <v-btn variant="text" @click="close">Leave it</v-btn>
              <v-btn
                color="primary"
                :disabled="readonly"
                data-test="keep-condition"
                @click="keep({ [asked(at)!]: pruned(asks[asked(at)!]) }).then((kept) => kept && close())"
                >Change the condition</v-btn
              >
            </div>
          </template>
          <template v-else-if="at === '/when' && table">
            <OccasionEditor :model-value="when ?? said.when" :table="table" :disabled="readonly" @update:model-value="when = $event" />
            <div class="acts">
              <v-btn variant="text" @click="leaveWhen(close)">Leave it</v-btn>
              <v-btn
                color="primary"
                :disabled="readonly || !when"
                data-test="keep-when"
                @click="keep({ when: when! }).then((kept) => kept && leaveWhen(close))"
                >Keep this</v-btn
              >
            </div>
          </template>
          <StepEditor
            v-else-if="isIn(at, '/steps') && table && stepAt(said, stepPlace(at)!)"
            :step="stepAt(said, stepPlace(at)!)!"
            :at="stepPlace(at)!"
            :part="at"
            :table="saying.tableOf(stepPlace(at)!) ?? table"
            :own="table"
            :gathers="gathers"
            :problem="problem"
            :readonly="readonly"
            @keep="saying.keepStep(stepPlace(at)!, $event).then((kept) => kept && close())"
            @leave="close"
          />
        </template>
        <template #adding="{ list }">
          <StepEditor
            v-if="adding && table"
            :step="adding.step"
            :at="`${list}/${listAt(said, list).length}`"
            :table="saying.tableOf(list) ?? table"
            :own="table"
            :gathers="gathers"
            :problem="problem"
            :readonly="readonly"
            @keep="saying.keepAdded"
            @leave="adding = undefined"
          />
        </template>
      </ClauseLines>
      <aside v-if="one.draft" class="running">
        <h3>The one that runs</h3>
        <p v-for="(clause, n) in one.clauses" :key="n"
          ><i>{{ clause.word }}</i> {{ plain(clause) }}</p
        >
        <h3>What the draft does otherwise</h3>
        <p v-if="!one.draft.differs.length">Nothing: it does the same.</p>
        <ol v-else>
          <li v-for="line in one.draft.differs" :key="line">{{ line }}</li>
        </ol>
      </aside>
      <p v-if="one.authority" class="quiet">{{ one.authority }}</p>
      <p v-if="isSaid" class="quiet" data-test="beforehand"
        >{{
          automation.unsaid
            ? 'Nothing is said of it before a change or a press that sets it going.'
            : 'What it would do is said before a change or a press that sets it going.'
        }}{{ ' '
        }}<button type="button" class="link" :disabled="readonly" data-test="unsaid" @click="set({ unsaid: !automation.unsaid })">{{
          automation.unsaid ? 'Say it beforehand' : 'Say nothing beforehand'
        }}</button></p
      >
      <p v-for="line in one.not_called" :key="line" class="fault-text" data-test="not-called">{{ line }}</p>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <p class="foot">
        <button v-if="!trying" type="button" class="link" data-test="rehearse" @click="trying = 'seen'">Rehearse it</button>
        <button type="button" class="link away" :disabled="readonly" @click="saying.remove">Take this automation away</button>
      </p>
      <AutomationTrial
        v-if="trying && table"
        :key="JSON.stringify(saying.body.value)"
        :tracker="tracker"
        :table="table"
        :number="automation.id"
        :body="saying.body.value"
        :switches="trying === 'switching'"
        @act="letRun"
        @leave="trying = undefined"
      />
    </div>
    <RunsLog
      :tracker="tracker"
      :automation="automation.id"
      :only="only"
      :told="runs.told.value"
      :readonly="readonly"
      @again="runs.again()"
    />
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
  margin-bottom: var(--gap-2);
}
h2 {
  font-size: 19px;
}
.name {
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  text-align: left;
  cursor: text;
}
h2 .boxed {
  padding: 2px 8px;
  font: inherit;
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
.draft {
  display: flex;
  gap: var(--gap-4);
  align-items: baseline;
  margin: 0 0 var(--gap-2);
  color: var(--copper);
  font-weight: 600;
  font-size: 14px;
}
.running {
  border-left: 1px solid var(--line);
  margin: var(--gap-3) 0;
  padding-left: var(--gap-3);
  color: var(--quiet);
  font: 15px/1.5 var(--serif);
}
.running h3 {
  font: 600 13px/2 var(--sans);
}
.running p {
  margin: 0 0 4px;
}
.running ol {
  margin: 0;
  padding-left: 20px;
  color: var(--ink);
}
.foot {
  display: flex;
  gap: var(--gap-4);
  margin: var(--gap-3) 0 0;
  font-size: 14px;
}
.away {
  color: var(--quiet);
}
.lead {
  margin: 0 0 var(--gap-2);
  font: 16px/1.5 var(--serif);
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
