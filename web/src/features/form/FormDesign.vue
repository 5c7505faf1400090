<script setup lang="ts">
// Designing a form: its running order at left, the true form in the middle, a question's settings at the question.
import { computed, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Field, Question } from '@/api/types'
import { useParts } from '@/features/tracker/parts'
import FolioNewField from '@/features/folio/FolioNewField.vue'
import { useSession } from '@/features/session/session'
import { useTracker } from '@/features/tracker/tracker'
import { begun } from '@/form/answer'
import FormFrame from '@/form/FormFrame.vue'
import FormQuestion from '@/form/FormQuestion.vue'
import { faultsAt, isLines, questionOf, useForm } from './form'
import FormSettings from './FormSettings.vue'
import QuestionSettings from './QuestionSettings.vue'
import ShareForm from './ShareForm.vue'
import WaysIn from './WaysIn.vue'
import { useVocabulary } from '@/features/condition/vocabulary'

const { tracker: currentTracker, read: readTracker } = useTracker()
const { isAskable } = useVocabulary()

const route = useRoute()
const router = useRouter()
const parts = useParts(() => tracker.value)
const { me } = useSession()
const tracker = computed(() => Number(route.params.tracker))
const id = computed(() => Number(route.params.form))
const { kept, draft, seen, trouble, faults, busy, changed, keep } = useForm(computed(() => ({ tracker: tracker.value, form: id.value })))
const chosen = ref<number>()
const sharing = ref(false)
const making = ref(false)
/** Pictures that were just chosen, until the form is saved with them. */
const fresh = ref<Record<string, string>>({})

const form = computed(() => draft.value?.form)
const table = computed(() => currentTracker.value?.tables.find((t) => t.id === form.value?.table))
const readonly = computed(() => !!me.value?.stands_in)
const free = computed(() => (table.value?.fields ?? []).filter((f) => isAskable(f) && !form.value?.questions.some((q) => q.field === f.id)))
const fieldOf = (field: number): Field | undefined => table.value?.fields.find((f) => f.id === field)
const viewOf = (question: Question) => seen.value?.view.questions.find((q) => q.field === question.field)
const parameters = computed(() => (form.value?.questions ?? []).map((q) => q.parameter ?? '').filter(Boolean))
const wrong = (place: string) => faultsAt(faults.value, place)

/** From the running order to the question itself. */
async function goTo(place: number) {
  chosen.value = place
  await nextTick()
  document.querySelector('.asked.chosen')?.scrollIntoView({ block: 'center' })
}

function shift(place: number, by: number) {
  const questions = form.value?.questions
  const to = place + by
  if (!questions || to < 0 || to >= questions.length) return
  const [moved] = questions.splice(place, 1)
  if (moved) questions.splice(to, 0, moved)
  chosen.value = to
}

function ask(field: Field) {
  if (!form.value) return
  const question = questionOf(field)
  if (isLines(field)) question.lines = { questions: [], most: 20 }
  form.value.questions.push(question)
  chosen.value = form.value.questions.length - 1
}

async function askNew(made: number) {
  making.value = false
  await readTracker()
  const field = fieldOf(made)
  if (field) ask(field)
}

async function remove() {
  await parts.drop('form', id.value)
  await router.push({ name: 'forms', params: { tracker: tracker.value } })
}
</script>

<template>
  <section v-if="draft && kept && form && table" class="design">
    <header class="head">
      <div>
        <p class="over"><router-link :to="{ name: 'forms', params: { tracker } }">Forms</router-link> · puts {{ table.many }} in</p>
        <h1>{{ form.title || 'A form without a title' }}</h1>
        <p class="says">
          {{ seen?.sentences.running }} It asks {{ form.questions.length }} {{ form.questions.length === 1 ? 'question' : 'questions' }};
          <router-link :to="{ name: 'answers', params: { tracker, form: id } }" data-test="to-answers"
            >{{ kept.answers === 1 ? '1 answer' : `${kept.answers} answers` }} came</router-link
          >{{ kept.last ? `, the last ${kept.last}` : '' }}.
        </p>
      </div>
      <div class="acts">
        <v-btn variant="text" data-test="share-form" @click="sharing = !sharing">Hand it out</v-btn>
        <template v-if="!readonly">
          <v-btn variant="outlined" :disabled="busy" data-test="toggle-open" @click="keep(!form.open)">{{
            form.open ? 'Close form' : 'Open form'
          }}</v-btn>
          <v-btn color="primary" :disabled="busy || !changed" data-test="save-form" @click="keep()">Save changes</v-btn>
        </template>
      </div>
    </header>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-if="faults['/questions']" class="fault-text">{{ faults['/questions'] }}</p>
    <ShareForm v-if="sharing" :tracker="tracker" :form="kept.form" :address="kept.address" />
    <div class="columns">
      <nav class="order" aria-label="Running order">
        <h2>Running order</h2>
        <ol>
          <li v-for="(question, place) in form.questions" :key="question.field" :class="{ here: place === chosen }">
            <p v-if="question.above?.heading" class="above">{{ question.above.heading }}</p>
            <button class="name" :class="{ hidden: question.hidden }" @click="goTo(place)">{{ question.label || 'no words yet' }}</button>
            <span class="shift">
              <button :aria-label="`${question.label} earlier`" :disabled="place === 0" @click="shift(place, -1)">↑</button>
              <button :aria-label="`${question.label} later`" :disabled="place === form.questions.length - 1" @click="shift(place, 1)"
                >↓</button
              >
            </span>
          </li>
        </ol>
        <h2>Could be asked too</h2>
        <button v-for="field in free" :key="field.id" class="free" :data-ask="field.name" @click="ask(field)">+ {{ field.name }}</button>
        <button class="free new" data-test="ask-new" @click="making = true">+ a new field</button>
        <button v-if="!readonly" class="free away" @click="remove">Take this form away</button>
      </nav>
      <FolioNewField v-if="making" class="maker" :tracker="tracker" :table="table.id" @close="making = false" @made="askNew" />
      <FormFrame :appearance="form.appearance" :team="seen?.view.team" :link="kept.form.link" :fresh="fresh" preview class="sheet">
        <input v-model="form.title" class="title" aria-label="Title of the form" placeholder="Title" data-test="form-title" />
        <p v-if="faults['/title']" class="fault-text">{{ faults['/title'] }}</p>
        <textarea v-model="form.intro" class="intro" rows="2" aria-label="Introduction" placeholder="A few words before the questions" />
        <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events -- by keys it is chosen as the focus comes to it -->
        <div
          v-for="(question, place) in form.questions"
          :key="question.field"
          class="asked"
          :class="{ chosen: place === chosen }"
          :data-asked="question.label"
          @focusin="chosen = place"
          @click="chosen = place"
        >
          <p v-if="question.hidden" class="quietly">{{ fieldOf(question.field)?.name }} is put in quietly</p>
          <FormQuestion v-else-if="viewOf(question)" :model-value="begun(viewOf(question)!)" :question="viewOf(question)!" preview inert />
          <p v-if="place !== chosen && (seen?.sentences.shown[place]?.length ?? 0) > 1" class="when">{{
            seen!.sentences.shown[place]!.filter((p) => p.tone !== 'offer')
              .map((p) => p.text)
              .join('')
          }}</p>
          <p v-if="wrong(`/questions/${place}`)" class="fault-text">{{ wrong(`/questions/${place}`) }}</p>
          <QuestionSettings
            v-if="place === chosen && fieldOf(question.field)"
            v-model="form.questions[place]!"
            :table="table"
            :field="fieldOf(question.field)!"
            :before="form.questions.slice(0, place).map((q) => q.field)"
            :phrases="seen?.sentences.shown[place] ?? []"
            :offers="seen?.sentences.offers[place] ?? ''"
            :parameters="parameters"
            :given="viewOf(question)?.given?.text"
            @drop="(form.questions.splice(place, 1), (chosen = undefined))"
          />
        </div>
        <FormSettings
          v-model="draft.form"
          v-model:confirmation="draft.confirmation"
          :tracker="tracker"
          :table="table"
          :faults="faults"
          @chosen="(id, shown) => (fresh[id] = shown)"
        />
        <WaysIn v-model="draft.form" :tracker="tracker" :table="table" :kept="kept.answers" />
        <p v-if="wrong('/ways')" class="fault-text">{{ wrong('/ways') }}</p>
      </FormFrame>
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
.acts {
  margin-left: auto;
  display: flex;
  gap: var(--gap-2);
}
.columns {
  display: grid;
  grid-template-columns: 280px minmax(0, 600px) minmax(0, 1fr);
  gap: 56px;
  margin-top: var(--gap-4);
}
/* The order stays in sight while one is at a question far down. */
.order {
  position: sticky;
  top: var(--gap-3);
  align-self: start;
  max-height: calc(100dvh - 2 * var(--gap-3));
  overflow-y: auto;
}
.maker {
  grid-column: 3;
  grid-row: 1;
}
.sheet {
  min-height: 0;
  grid-column: 2;
  grid-row: 1;
  max-width: none;
  margin: 0;
  width: 100%;
  border: 1px solid var(--line);
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
.above {
  margin: 6px 0 0;
  font-weight: 600;
}
.name {
  border: 0;
  background: none;
  text-align: left;
  color: var(--ink);
  cursor: pointer;
  padding: 6px 0;
  width: calc(100% - 60px);
}
.name.hidden {
  color: var(--quiet);
  font-style: italic;
}
.shift {
  float: right;
}
.shift button,
.free {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  padding: 5px 3px;
  min-width: 24px;
}
.shift button:disabled {
  color: var(--line-strong);
}
.free {
  display: block;
  text-align: left;
}
.new {
  margin-top: var(--gap-2);
}
.away {
  margin-top: var(--gap-5);
  color: var(--quiet);
  font-size: 13px;
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
.when,
.quietly {
  margin: 4px 0 0;
  color: var(--copper);
  font: italic 14px var(--serif);
}
.lone {
  padding: var(--gap-5);
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
    gap: var(--gap-5);
  }
  .sheet,
  .maker {
    grid-column: 1;
    grid-row: auto;
  }
  .order {
    position: static;
    max-height: none;
  }
  .head {
    flex-direction: column;
  }
}
</style>
