<script setup lang="ts">
// Designing a form: its running order at left, the true form in the middle, a question's settings at the question.
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, Problem, saying, told } from '@/api/client'
import type { Field, FormAnswer, FormBody, QuestionView } from '@/api/types'
import FormQuestion from '@/form/FormQuestion.vue'
import FormScene from '@/form/FormScene.vue'
import { useEdits } from '@/features/cell/edits'
import { useSession } from '@/features/session/session'
import { currentTracker, useChanges } from '@/features/tracker/tracker'

const route = useRoute()
const edits = useEdits()
const { me } = useSession()
const tracker = computed(() => Number(route.params.tracker))
const id = computed(() => Number(route.params.form))
const path = computed(() => ({ tracker: tracker.value, form: id.value }))
const answer = ref<FormAnswer>()
const draft = ref<FormBody>()
const chosen = ref<number>()
const trouble = ref('')
const faults = ref<Record<string, string>>({})
const copied = ref(false)
const busy = ref(false)

const table = computed(() => currentTracker.value?.tables.find((t) => t.id === draft.value?.table))
const changed = computed(() => !!answer.value && JSON.stringify(body(answer.value)) !== JSON.stringify(draft.value))
const readonly = computed(() => !!me.value?.stands_in)

function body({ form }: FormAnswer): FormBody {
  const { id: _id, link: _link, ...rest } = form
  return JSON.parse(JSON.stringify({ intro: '', ...rest })) as FormBody
}

async function read() {
  try {
    const fresh = await told(api.GET('/api/trackers/{tracker}/forms/{form}', { params: { path: path.value } }))
    const untouched = !changed.value
    answer.value = fresh
    if (untouched || !draft.value) draft.value = body(fresh)
    trouble.value = ''
  } catch (error) {
    trouble.value = saying(error)
  }
}
watch(path, () => ((answer.value = draft.value = undefined), void read()), { immediate: true })
useChanges(() => void read())

const ASKABLE = ['text', 'long_text', 'number', 'date', 'date_time', 'choice', 'link', 'email', 'phone', 'files']
const free = computed(() => (table.value?.fields ?? []).filter((f) => ASKABLE.includes(f.kind.type) && !draft.value?.questions.some((q) => q.field === f.id)))
const fieldOf = (field: number): Field | undefined => table.value?.fields.find((f) => f.id === field)

/** The question as respondents see it, from the draft. */
function view(place: number): QuestionView | undefined {
  const question = draft.value?.questions[place]
  const kind = question && fieldOf(question.field)?.kind
  if (!question || !kind) return undefined
  const { field, label, help = '', required = false } = question
  const answers: Record<string, QuestionView['answer']> = {
    text: { type: 'text', limit: 1000 },
    long_text: { type: 'long', limit: 50000 },
    number: { type: 'number', unit: '' },
    date: { type: 'date' },
    date_time: { type: 'moment' },
    email: { type: 'mail' },
    phone: { type: 'phone' },
    files: { type: 'files' },
  }
  const made = kind.type === 'choice' ? { type: 'choice' as const, options: kind.options } : kind.type === 'link' ? { type: 'link' as const, many: !kind.one } : answers[kind.type]
  return made && { field, label, help, required, answer: made }
}

function shift(place: number, by: number) {
  const questions = draft.value?.questions
  const to = place + by
  if (!questions || to < 0 || to >= questions.length) return
  const [moved] = questions.splice(place, 1)
  if (moved) questions.splice(to, 0, moved)
  chosen.value = to
}

function ask(field: Field) {
  draft.value?.questions.push({ field: field.id, label: field.name, help: '', required: field.required })
  chosen.value = (draft.value?.questions.length ?? 1) - 1
}

async function keep(open?: boolean) {
  if (!draft.value) return
  busy.value = true
  trouble.value = ''
  faults.value = {}
  const next = { ...draft.value, open: open ?? draft.value.open }
  try {
    const done = await told(api.PUT('/api/trackers/{tracker}/forms/{form}', { params: { path: path.value }, body: next }))
    edits.remember(tracker.value, done.seq, `changed the form ${next.title}`)
    draft.value = next
    await read()
  } catch (error) {
    trouble.value = saying(error)
    if (error instanceof Problem) for (const fault of error.faults) faults.value[fault.pointer] = fault.message
  } finally {
    busy.value = false
  }
}

async function copy() {
  if (!answer.value) return
  await navigator.clipboard.writeText(answer.value.address)
  copied.value = true
  setTimeout(() => (copied.value = false), 2500)
}
const blank = { text: '', links: [], files: [] }
</script>

<template>
  <section v-if="draft && answer" class="design">
    <header class="head">
      <div>
        <p class="over">A form that puts {{ table?.name.toLowerCase() }} in</p>
        <h1>{{ draft.title || 'A form without a title' }}</h1>
        <p class="says">
          It is <b :class="{ closed: !draft.open }">{{ draft.open ? 'open' : 'closed' }}</b>, asks {{ draft.questions.length }} questions, and
          {{ answer.answers === 1 ? '1 answer' : `${answer.answers} answers` }} came so far. Its address is
          <a :href="answer.address" target="_blank" rel="noopener" data-test="form-address">{{ answer.address }}</a>
          <button class="copy" @click="copy">{{ copied ? 'copied' : 'copy' }}</button>
        </p>
      </div>
      <div v-if="!readonly" class="acts">
        <v-btn variant="outlined" :disabled="busy" data-test="toggle-open" @click="keep(!draft.open)">{{ draft.open ? 'Close form' : 'Open form' }}</v-btn>
        <v-btn color="primary" :disabled="busy || !changed" data-test="save-form" @click="keep()">Save changes</v-btn>
      </div>
    </header>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <div class="columns">
      <nav class="order" aria-label="Running order">
        <h2>Running order</h2>
        <ol>
          <li v-for="(question, place) in draft.questions" :key="question.field" :class="{ here: place === chosen }">
            <button class="name" @click="chosen = place">{{ question.label || 'no words yet' }}</button>
            <span class="shift">
              <button :aria-label="`${question.label} earlier`" :disabled="place === 0" @click="shift(place, -1)">↑</button>
              <button :aria-label="`${question.label} later`" :disabled="place === draft.questions.length - 1" @click="shift(place, 1)">↓</button>
            </span>
          </li>
        </ol>
        <template v-if="free.length">
          <h2>Could be asked too</h2>
          <button v-for="field in free" :key="field.id" class="free" @click="ask(field)">+ {{ field.name }}</button>
        </template>
      </nav>
      <div class="sheet">
        <FormScene />
        <input v-model="draft.title" class="title" aria-label="Title of the form" placeholder="Title" />
        <p v-if="faults['/title']" class="fault-text">{{ faults['/title'] }}</p>
        <textarea v-model="draft.intro" class="intro" rows="2" aria-label="Introduction" placeholder="A few words before the questions" />
        <div v-for="(question, place) in draft.questions" :key="question.field" class="asked" :class="{ chosen: place === chosen }" @focusin="chosen = place" @click="chosen = place">
          <FormQuestion v-if="view(place)" :model-value="{ ...blank }" :question="view(place)!" link="" preview :fault="faults[`/questions/${place}`] ?? faults[`/questions/${place}/label`]" inert />
          <div v-if="place === chosen" class="settings">
            <v-text-field v-model="question.label" label="What is asked" data-test="question-label" />
            <v-text-field v-model="question.help" label="Help beneath it" />
            <p class="row">
              <v-checkbox v-model="question.required" label="An answer is required" />
              <span class="quiet">goes into {{ fieldOf(question.field)?.name }}</span>
              <button class="drop" @click.stop="(draft.questions.splice(place, 1), (chosen = undefined))">Do not ask this</button>
            </p>
          </div>
        </div>
        <div class="end">
          <v-text-field v-model="draft.send_label" label="On the button" />
          <v-textarea v-model="draft.confirmation" label="What they read once it is sent" data-test="confirmation-text" />
          <v-textarea v-model="draft.closed_text" label="What they read while it is closed" />
        </div>
      </div>
    </div>
  </section>
  <p v-else-if="trouble" class="fault-text lone" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.design {
  padding: var(--gap-3) var(--gap-5) 60px;
}
.head {
  display: flex;
  gap: var(--gap-5);
  align-items: flex-start;
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
h1 {
  font-size: 27px;
}
.says {
  font: 17px/1.6 var(--serif);
  color: var(--quiet);
  margin: 0;
}
.says b {
  color: var(--moss);
}
.says .closed {
  color: var(--copper);
}
.copy {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  font: 14px var(--sans);
  text-decoration: underline;
}
.acts {
  margin-left: auto;
  display: flex;
  gap: var(--gap-2);
}
.columns {
  display: grid;
  grid-template-columns: 280px minmax(0, 560px);
  gap: 56px;
  margin-top: var(--gap-4);
}
h2 {
  font-size: 15px;
  margin-bottom: var(--gap-2);
}
ol {
  list-style: decimal;
  padding-left: 22px;
  margin: 0 0 var(--gap-5);
  color: var(--quiet);
}
li {
  border-bottom: 1px solid var(--line);
}
li.here {
  background: var(--moss-soft);
}
.name {
  border: 0;
  background: none;
  text-align: left;
  color: var(--ink);
  cursor: pointer;
  padding: 6px 0;
  width: calc(100% - 44px);
}
.shift {
  float: right;
}
.shift button,
.free,
.drop {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  padding: 5px 3px;
}
.shift button:disabled {
  color: var(--line-strong);
}
.free {
  display: block;
}
.sheet {
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 0 20px 24px;
}
.title {
  font: 600 27px/1.25 var(--serif);
  width: 100%;
  border: 0;
  background: none;
  margin-top: 16px;
  padding: 2px 0;
}
.intro {
  width: 100%;
  border: 0;
  background: none;
  resize: vertical;
  color: var(--quiet);
  font: 17px/1.5 var(--serif);
  padding: 0;
}
.asked {
  margin: 0 -12px;
  padding: 1px 12px 8px;
  border-left: 3px solid transparent;
  cursor: pointer;
}
.asked.chosen {
  border-left-color: var(--moss);
  background: color-mix(in srgb, var(--moss-soft) 45%, var(--sheet));
}
.settings {
  display: grid;
  gap: var(--gap-2);
  margin-top: var(--gap-3);
  padding-top: var(--gap-3);
  border-top: 1px dashed var(--line-strong);
}
.row {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  margin: 0;
  flex-wrap: wrap;
}
.drop {
  color: var(--fault);
  margin-left: auto;
}
.end {
  display: grid;
  gap: var(--gap-3);
  margin-top: 28px;
  border-top: 1px solid var(--line);
  padding-top: var(--gap-4);
}
.lone {
  padding: var(--gap-5);
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
    gap: var(--gap-5);
  }
  .head {
    flex-direction: column;
  }
}
</style>
