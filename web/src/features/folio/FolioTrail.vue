<script setup lang="ts">
// What happened to a record and what was said about it, in one line of time: who, when, before → after; and what automations did over it.
import { computed, nextTick, ref, toRef, watch } from 'vue'
import type { Field, Run, TrailEdit, TrailEntry } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useTracker } from '@/features/tracker/tracker'
import TalkBox from '@/features/talk/TalkBox.vue'
import TalkComment from '@/features/talk/TalkComment.vue'
import TalkFor from '@/features/talk/TalkFor.vue'
import { useTalk } from '@/features/talk/talking'
import { ofField, timeline, whatOf, type Showing } from '@/features/talk/timeline'
import PutBackPanel from './PutBackPanel.vue'

const props = defineProps<{
  at: { tracker: number; table: number; record: number }
  trail: TrailEntry[]
  /** Whether there is more of it to tell. */
  earlier?: boolean
  runs: Run[]
  /** What automations wait for before they take the record for added. */
  awaits: string[]
  /** Whether one may change it. */
  change?: boolean
}>()
/** The field of which alone it is told what it was. */
const of = defineModel<Field>('of')
const emit = defineEmits<{ changed: []; more: [] }>()

const { tracker: currentTracker } = useTracker()
const talk = useTalk(toRef(props, 'at'))
const { attempt, trouble } = useDoing()
const showing = ref<Showing>('all')
const happened = computed(() =>
  of.value ? timeline(ofField(props.trail, of.value.id), [], 'done') : timeline(props.trail, talk.comments.value, showing.value),
)
watch(of, (now) => now && nextTick(() => list.value?.scrollIntoView({ block: 'nearest' })))
const SHOWN: { is: Showing; words: string }[] = [
  { is: 'all', words: 'all' },
  { is: 'said', words: 'what was said' },
  { is: 'done', words: 'what was done' },
]
/** The comment that is being answered. */
const answering = ref<number>()
const box = ref<InstanceType<typeof TalkBox>[]>()
async function answer(comment: number) {
  answering.value = comment
  await nextTick()
  box.value?.[0]?.focus()
}
const draft = (of: string) => `${props.at.tracker}-${props.at.table}-${props.at.record}-${of}`

/** To what it is about to be put back. */
const back = ref<{ after: number; fields: number[]; title: string }>()
const latest = computed(() => Math.max(0, ...props.trail.map((entry) => entry.seq)))
const backTo = (entry: TrailEntry) => (back.value = { after: entry.seq, fields: [], title: `As it was on ${entry.at_text}` })
const takeBack = (entry: TrailEntry, edit: TrailEdit) =>
  (back.value = { after: entry.seq - 1, fields: [edit.field], title: `${edit.name} as it was before ${entry.at_text}` })

const list = ref<HTMLElement>()
/** The entry that one was led to. */
const shown = ref<number>()

/** Brings an entry into sight. */
async function show(seq: number) {
  if (showing.value === 'said') showing.value = 'all'
  of.value = undefined
  shown.value = seq
  await nextTick()
  list.value?.querySelector('.shown')?.scrollIntoView({ block: 'nearest' })
}
defineExpose({ show, backTo, comments: talk.comments })

/** What each field of a change became stands under it; what was answered is told whole. */
function what(entry: TrailEntry): string {
  if (entry.undoes || entry.what !== 'changed') return entry.what === 'answered' ? (entry.answered ?? '') : whatOf(entry)
  return ''
}
</script>

<template>
  <section ref="list" class="trail" data-test="trail">
    <h3>Trail</h3>
    <p v-for="words in awaits" :key="words" class="awaits" data-test="awaits">{{ words }}</p>
    <TalkBox
      v-if="!talk.standing.value && talk.hears.value"
      :key="draft('new')"
      :at="at"
      :draft="draft('new')"
      label="Say something about it"
      does="Say it"
      :send="(said, beside) => talk.say(said, beside)"
    />
    <TalkFor :talk="talk" :tracker="at.tracker" :table="at.table" />
    <p v-if="of" class="over" role="status" data-test="of-field">
      <span
        >What stood in “{{ of.name }}”<template v-if="!happened.length">: nothing else, as far back as this is told</template> ·
        <button type="button" class="link" data-test="all-again" @click="of = undefined">all of the trail</button></span
      >
    </p>
    <p v-else class="over">
      <span role="group" aria-label="What of it is shown"
        ><template v-for="(one, n) in SHOWN" :key="one.is"
          >{{ n ? ' · ' : ''
          }}<button type="button" class="link" :aria-pressed="showing === one.is" :data-showing="one.is" @click="showing = one.is">{{
            one.words
          }}</button></template
        ></span
      >
      <button
        v-if="!talk.standing.value && talk.hears.value"
        type="button"
        class="link follow"
        :aria-pressed="talk.follows.value"
        data-test="follow"
        @click="attempt(() => talk.follow(!talk.follows.value))"
        >{{ talk.follows.value ? 'You follow it; no more' : 'Follow it' }}</button
      >
    </p>
    <PutBackPanel
      v-if="back"
      :key="`${back.after} ${back.fields}`"
      :at="at"
      v-bind="back"
      @done="((back = undefined), emit('changed'))"
      @leave="back = undefined"
    />
    <p v-if="trouble || talk.trouble.value" class="fault-text" role="alert">{{ trouble || talk.trouble.value }}</p>
    <div v-for="run in of || showing === 'said' ? [] : runs" :key="run.at_text + run.automation" class="event">
      <div>
        <time>{{ run.at_text }}</time>
        <b>{{ run.automation }}</b>
        <template v-if="run.mails.length">
          <p v-for="mail in run.mails" :key="mail.to"
            >{{ mail.by_text }} to {{ mail.to }}, {{ mail.state }}. <span v-if="mail.note" class="quiet">{{ mail.note }}</span></p
          >
        </template>
        <details>
          <summary>{{ run.mails.length ? 'Why sent?' : 'Why was nothing sent?' }}</summary>
          <p v-for="line in run.log" :key="line.text" :class="line.outcome">{{ line.text }}</p>
        </details>
      </div>
    </div>
    <template v-for="one in happened" :key="one.key">
      <div v-if="one.sort === 'said'" class="event said">
        <TalkComment
          :comment="one.said.comment"
          :at="at"
          :talk="talk"
          :steward="!!currentTracker?.steward"
          @answer="answer(one.said.comment.id)"
        />
        <div v-if="one.said.answers.length || answering === one.said.comment.id" class="answers">
          <TalkComment
            v-for="other in one.said.answers"
            :key="other.id"
            :comment="other"
            :at="at"
            :talk="talk"
            :steward="!!currentTracker?.steward"
            @answer="answer(one.said.comment.id)"
          />
          <TalkBox
            v-if="answering === one.said.comment.id"
            ref="box"
            small
            :at="at"
            :draft="draft(`answer-${one.said.comment.id}`)"
            :label="`Answer ${one.said.comment.who}`"
            does="Answer"
            :send="(said, beside) => talk.say(said, beside, one.said.comment.id)"
            @done="answering = undefined"
            @leave="answering = undefined"
          />
        </div>
      </div>
      <div v-else-if="one.sort === 'done'" class="event" :class="{ shown: one.entry.seq === shown }">
        <div>
          <time>{{ one.entry.at_text }}</time>
          <p v-if="one.entry.form">Came by {{ one.entry.who }}</p>
          <p v-else
            ><b>{{ one.entry.who }}</b> {{ what(one.entry) }}</p
          >
          <template v-if="of || one.entry.what !== 'added'">
            <p v-for="edit in one.entry.edits" :key="edit.field">
              {{ edit.name }}: <s v-if="edit.before">{{ edit.before }}</s><span v-else class="quiet">empty</span> →
              {{ edit.after || 'empty' }}
              <button v-if="change" type="button" class="link small" :data-put-back="edit.field" @click="takeBack(one.entry, edit)"
                >Put back</button
              >
            </p>
          </template>
          <button
            v-if="change && one.entry.seq !== latest"
            type="button"
            class="link small"
            :data-as-it-was="one.entry.seq"
            @click="backTo(one.entry)"
            >As it was then</button
          >
        </div>
      </div>
    </template>
    <p v-if="earlier && showing !== 'said'" class="event"
      ><button type="button" class="link small" data-test="trail-earlier" @click="emit('more')">What was before</button></p
    >
  </section>
</template>

<style scoped>
.trail {
  margin-top: var(--gap-4);
  min-width: 0;
}
h3 {
  font: 600 16px/1.4 var(--serif);
  margin-bottom: 6px;
}
@container folio (min-width: 760px) {
  .trail {
    margin-top: 0;
  }
}
.awaits {
  color: var(--copper);
  font-size: 13px;
  margin-bottom: 8px;
}
/* They hang on one line, each by its tick. */
.event {
  position: relative;
  padding: 0 0 10px 14px;
  border-left: 1px solid var(--line-strong);
  font-size: 13px;
}
.event::before {
  content: '';
  position: absolute;
  left: -1px;
  top: 9px;
  width: 8px;
  border-top: 2px solid var(--line-strong);
}
.event.said::before {
  top: 6px;
  left: -5px;
  width: 9px;
  height: 9px;
  border: 0;
  border-radius: 50%;
  background: var(--moss);
}
.answers {
  margin: 4px 0 0 4px;
  padding-left: 12px;
  border-left: 1px solid var(--line-strong);
}
.over {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  margin: 8px 0 12px;
  font-size: 13px;
  color: var(--quiet);
}
.over [aria-pressed='true']:not(.follow) {
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}
.follow {
  margin-left: auto;
}
.small {
  font-size: 12.5px;
}
@media (pointer: coarse) {
  .small,
  .over .link {
    min-height: 44px;
  }
}
.shown {
  background: var(--moss-soft);
}
.shown::before {
  border-color: var(--moss);
}
.event > div > time {
  float: right;
  margin-left: 10px;
  font-size: 12.5px;
  color: var(--quiet);
}
p {
  margin: 0;
  overflow-wrap: anywhere;
}
s {
  color: var(--quiet);
}
summary {
  color: var(--moss);
  cursor: pointer;
}
.no::before {
  content: '✕ ';
  color: var(--copper);
}
.yes::before {
  content: '✓ ';
  color: var(--moss);
}
.failed::before {
  content: '! ';
  color: var(--fault);
  font-weight: 700;
}
</style>
