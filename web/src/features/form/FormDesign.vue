<script setup lang="ts">
// Designing a form: what is said in it, line by line, with what is set of a line beneath it; beside it what a stranger sees.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'
import { useRoute, useRouter } from 'vue-router'
import type { Field, Question } from '@/api/types'
import { useParts } from '@/features/tracker/parts'
import FolioNewField from '@/features/folio/FolioNewField.vue'
import { useSession } from '@/features/session/session'
import { useTracker } from '@/features/tracker/tracker'
import FormGlass from './FormGlass.vue'
import { faultsAt, isLines, questionOf, useForm } from './form'
import FormSettings from './FormSettings.vue'
import NotAsked from './NotAsked.vue'
import QuestionSettings from './QuestionSettings.vue'
import { stillThere } from './script'
import ScriptLine from './ScriptLine.vue'
import ShareForm from './ShareForm.vue'
import WaysIn from './WaysIn.vue'

const { tracker: currentTracker, read: readTracker } = useTracker()

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
const fieldOf = (field: number): Field | undefined => table.value?.fields.find((f) => f.id === field)
const viewOf = (question: Question) => seen.value?.view.questions.find((q) => q.field === question.field)
const parameters = computed(() => (form.value?.questions ?? []).map((q) => q.parameter ?? '').filter(Boolean))
const wrong = (place: string) => faultsAt(faults.value, place)

/** The line that is open, and who comes to it. */
const at = computed(() => {
  const question = form.value?.questions[chosen.value ?? -1]
  return question && { label: question.label, says: seen.value?.script.lines[chosen.value ?? -1]?.stranger }
})

const { told: came } = useAsked(
  () => ['answers', tracker.value, id.value],
  () => told(api.GET('/api/trackers/{tracker}/forms/{form}/answers', { params: { path: { tracker: tracker.value, form: id.value } } })),
)
const still = computed(() => stillThere(form.value?.questions ?? [], came.value?.visits))

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
  <section v-if="draft && kept && form && table" class="design" :style="{ '--stream': still ? '72px' : '0px' }">
    <div class="script">
      <header class="head">
        <div>
          <p class="over"><router-link :to="{ name: 'forms', params: { tracker } }">Forms</router-link> · puts {{ table.many }} in</p>
          <h1 class="unseen">{{ form.title || 'A form without a title' }}</h1>
          <input v-model="form.title" class="title" aria-label="Title of the form" placeholder="Title" data-test="form-title" />
          <p v-if="faults['/title']" class="fault-text">{{ faults['/title'] }}</p>
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
        <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
        <p v-if="faults['/questions']" class="fault-text">{{ faults['/questions'] }}</p>
      </header>
      <p class="says">
        {{ seen?.sentences.running }}
        <router-link :to="{ name: 'answers', params: { tracker, form: id } }" data-test="to-answers">{{ kept.came.counted }}</router-link>{{
          kept.came.last && `, ${kept.came.last}`
        }}.
      </p>
      <ShareForm
        v-if="sharing"
        :tracker="tracker"
        :form="kept.form"
        :table="table"
        :address="kept.address"
        :confirmation="kept.confirmation"
      />
      <ol class="lines" aria-label="What is said in it">
        <li class="opening">
          <span class="count" :title="still && 'opened it'">{{ still ? came?.visits?.opened : '' }}</span>
          <div>
            <textarea
              v-model="form.intro"
              class="intro"
              rows="2"
              aria-label="Introduction"
              placeholder="A few words before the questions"
            />
          </div>
        </li>
        <ScriptLine
          v-for="(question, place) in form.questions"
          :key="question.field"
          :question="question"
          :place="place"
          :line="seen?.script.lines[place]"
          :phrases="seen?.sentences.shown[place] ?? []"
          :still="still?.[place]"
          :opened="came?.visits?.opened ?? 0"
          :open="place === chosen"
          :fault="wrong(`/questions/${place}`)"
          :first="place === 0"
          :last="place === form.questions.length - 1"
          @open="chosen = chosen === place ? undefined : place"
          @shift="shift(place, $event)"
        >
          <QuestionSettings
            v-if="fieldOf(question.field)"
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
        </ScriptLine>
      </ol>
      <NotAsked :script="seen?.script" :table="table" :readonly="readonly" @ask="ask" @make="making = true" />
      <FolioNewField v-if="making" :tracker="tracker" :table="table.id" @close="making = false" @made="askNew" />
      <FormSettings
        v-model="draft.form"
        v-model:confirmation="draft.confirmation"
        :tracker="tracker"
        :table="table"
        :faults="faults"
        @chosen="(id, shown) => (fresh[id] = shown)"
      />
      <WaysIn v-model="draft.form" :tracker="tracker" :table="table" :kept="kept.came.number" />
      <p v-if="wrong('/ways')" class="fault-text">{{ wrong('/ways') }}</p>
      <button v-if="!readonly" class="away" @click="remove">Take this form away</button>
    </div>
    <aside class="side">
      <p class="stranger" data-test="stranger"
        >What a stranger sees<template v-if="at">
          at “{{ at.label }}”. <span>{{ at.says }}</span></template
        ></p
      >
      <FormGlass :form="form" :seen="seen" :fresh="fresh" :chosen="chosen" />
    </aside>
  </section>
  <p v-else-if="trouble" class="fault-text lone" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.design {
  --stream-colour: color-mix(in srgb, var(--moss) 38%, var(--stone));
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(320px, 400px);
}
.script {
  padding: 0 var(--gap-5) 60px;
}
/* Saving, opening and handing out stay in sight however far down one is. */
.head {
  position: sticky;
  top: 0;
  z-index: 5;
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-5);
  align-items: flex-end;
  padding: var(--gap-3) 0 var(--gap-2);
  background: var(--stone);
}
.head > .fault-text {
  flex-basis: 100%;
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
.says {
  font: 17px/1.6 var(--serif);
  color: var(--quiet);
  margin: 0 0 var(--gap-3);
}
.acts {
  margin-left: auto;
  display: flex;
  gap: var(--gap-2);
}
.lines {
  list-style: none;
  margin: 0;
  padding: 0;
}
.opening {
  display: grid;
  grid-template-columns: calc(var(--stream, 0px) + 44px) minmax(0, 1fr);
  padding: var(--gap-2) 0;
  border-top: 1px solid var(--line-strong);
}
.opening > div {
  padding-left: 26px;
}
.opening .count {
  padding: 9px 8px 0 0;
  text-align: right;
  font-weight: 600;
  font-size: 13px;
}
.title,
.intro {
  border: 0;
  background: none;
}
.title {
  font: 600 27px/1.25 var(--serif);
  padding: 0;
  field-sizing: content;
  min-width: 8ch;
  max-width: 100%;
}
.intro {
  width: 100%;
  resize: vertical;
  color: var(--quiet);
  font: 17px/1.5 var(--serif);
  padding: 0;
}
.side {
  position: sticky;
  top: 0;
  align-self: start;
  height: calc(100dvh - var(--band));
  display: flex;
  flex-direction: column;
  border-left: 1px solid var(--line);
  background: color-mix(in srgb, var(--copper) 6%, var(--stone));
}
.side > .glass {
  flex: 1;
  min-height: 0;
}
.stranger {
  margin: var(--gap-3) var(--gap-4);
  color: var(--quiet);
  font: 17px/1.5 var(--serif);
}
.away {
  margin-top: var(--gap-5);
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
}
.lone {
  padding: var(--gap-5);
}
@media (max-width: 1000px) {
  .design {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    position: static;
    height: 70dvh;
    border-left: 0;
    border-top: 1px solid var(--line-strong);
  }
}
@media (max-width: 700px) {
  .script {
    padding: 0 var(--gap-3) 40px;
  }
  .opening {
    grid-template-columns: minmax(0, 1fr);
  }
  .opening .count {
    display: none;
  }
  .acts {
    margin-left: 0;
    flex-wrap: wrap;
  }
}
</style>

<style>
/* What is brought into sight does not lie under the head that stays. */
html:has(.design > .script) {
  scroll-padding-top: 120px;
}
</style>
