<script setup lang="ts">
// What holds for the whole form: when it is open and for whom, what is said, what respondents may see afterwards, how it looks.
import MomentPick from '@/features/cell/MomentPick.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { worded } from '@/features/menu/pick'
import { computed } from 'vue'
import { send } from '@/api/client'
import type { Form, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import RuleEditor from '@/features/condition/RuleEditor.vue'
import { useVocabulary } from '@/features/condition/vocabulary'
import { contrastWithWhite, readable } from '@/form/colour'
import { faultsAt, isLines } from './form'

const props = defineProps<{ tracker: number; table: Table; faults: Record<string, string> }>()
const form = defineModel<Form>({ required: true })
const confirmation = defineModel<string>('confirmation', { required: true })
const emit = defineEmits<{ chosen: [picture: string, shown: string] }>()
const { trouble, attempt } = useDoing()
const { vocabulary } = useVocabulary()

const THEMES: Record<NonNullable<Form['appearance']>['theme'] & string, string> = {
  fell: 'Fell',
  tarn: 'Tarn',
  heath: 'Heath',
  quarry: 'Quarry',
  hayfield: 'Hayfield',
}
const appearance = computed(() => form.value.appearance!)
const limits = computed(() => form.value.limits!)
const mails = computed(() =>
  props.table.fields.filter((f) => f.kind.type === 'email' && form.value.questions.some((q) => q.field === f.id)),
)
const asked = computed(() =>
  props.table.fields.filter(
    (f) => f.kind.type !== 'files' && !isLines(f) && form.value.questions.some((q) => q.field === f.id && !q.hidden),
  ),
)
const darkened = computed(
  () =>
    appearance.value.colour &&
    /^#[0-9a-f]{6}$/i.test(appearance.value.colour) &&
    contrastWithWhite(appearance.value.colour) < 4.5 &&
    readable(appearance.value.colour),
)
const sites = computed({
  get: () => (form.value.embed ?? []).join('\n'),
  set: (text) => (form.value.embed = text.split(/\s+/).filter(Boolean)),
})

function follow(on: boolean) {
  form.value.following = on ? { shows: [props.table.standing], adds: [], while_: { all: [] } } : null
}
function toggle(list: 'shows' | 'adds', field: number, on: boolean) {
  const following = form.value.following
  if (following) following[list] = on ? [...(following[list] ?? []), field] : (following[list] ?? []).filter((f) => f !== field)
}
const wrong = (place: string) => faultsAt(props.faults, place)
const checked = (event: Event) => (event.target as HTMLInputElement).checked

async function choose(event: Event, which: 'picture' | 'mark') {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  const body = new FormData()
  body.append('file', file)
  const id = await attempt(() => send<string>(`/api/trackers/${props.tracker}/forms/${form.value.id}/picture`, body))
  if (!id) return
  emit('chosen', id, URL.createObjectURL(file))
  appearance.value[which] = id
}
</script>

<template>
  <div class="whole boxes">
    <section>
      <h2>When and for whom</h2>
      <p class="row">
        <span>from <MomentPick v-model="limits.from" label="From" /></span>
        <span>until <MomentPick v-model="limits.to" label="Until" data-test="until" /></span>
        <label
          >at most
          <input
            type="number"
            min="1"
            :value="limits.most ?? ''"
            data-test="most"
            @input="limits.most = Number(($event.target as HTMLInputElement).value) || null"
          />
          answers</label
        >
      </p>
      <p v-if="wrong('/limits')" class="fault-text">{{ wrong('/limits') }}</p>
      <label>
        It is for
        <PickOne v-model="form.audience" data-test="audience" :items="worded(vocabulary?.audiences)" />
      </label>
      <label class="wide">What they read while it is closed <textarea v-model="form.closed_text" rows="2" /></label>
    </section>
    <section>
      <h2>Once it is sent</h2>
      <label class="wide">On the button <input v-model="form.send_label" /></label>
      <label class="wide"
        >What they read; values go in as {Field} <textarea v-model="confirmation" rows="3" data-test="confirmation-text" />
      </label>
      <p v-if="wrong('/confirmation')" class="fault-text">{{ wrong('/confirmation') }}</p>
      <label>
        A copy by mail
        <PickOne
          v-model="form.copy"
          :items="[
            { value: null, title: 'goes to nobody' },
            ...mails.map((one) => ({ value: one.id, title: `goes to the address in ${one.name}` })),
          ]"
        />
      </label>
      <p v-if="wrong('/copy')" class="fault-text">{{ wrong('/copy') }}</p>
      <label
        ><input type="checkbox" :checked="!!form.following" data-test="following" @change="follow(checked($event))" /> They get a private
        address to see how their answer stands</label
      >
      <template v-if="form.following">
        <details open>
          <summary>There they see {{ form.following.shows.length }} fields</summary>
          <div class="fields"
            ><label v-for="one in table.fields" :key="one.id"
              ><input type="checkbox" :checked="form.following.shows.includes(one.id)" @change="toggle('shows', one.id, checked($event))" />
              {{ one.name }}</label
            ></div
          >
        </details>
        <details>
          <summary>and can change {{ form.following.adds?.length || 'nothing' }}</summary>
          <div class="fields"
            ><label v-for="one in asked" :key="one.id"
              ><input type="checkbox" :checked="form.following.adds?.includes(one.id)" @change="toggle('adds', one.id, checked($event))" />
              {{ one.name }}</label
            ></div
          >
          <p class="quiet">as long as</p>
          <RuleEditor v-model="form.following.while_" :table="table" lead="It holds that" nothing="the record is there." />
        </details>
      </template>
      <p v-if="wrong('/following')" class="fault-text">{{ wrong('/following') }}</p>
    </section>
    <section>
      <h2>How it looks</h2>
      <p class="row" role="radiogroup" aria-label="Theme">
        <label v-for="(name, theme) in THEMES" :key="theme" class="theme" :class="[theme, { at: (appearance.theme ?? 'fell') === theme }]"
          ><input v-model="appearance.theme" type="radio" name="theme" :value="theme" class="unseen" />{{ name }}</label
        >
      </p>
      <p class="row">
        <label
          >Own colour
          <input
            :value="appearance.colour ?? ''"
            class="short"
            placeholder="#4e5b1e"
            @input="appearance.colour = ($event.target as HTMLInputElement).value || null"
        /></label>
        <input
          type="color"
          aria-label="Pick a colour"
          :value="appearance.colour ?? '#4e5b1e'"
          @input="appearance.colour = ($event.target as HTMLInputElement).value"
        />
        <span v-if="darkened" class="quiet">shown as {{ darkened }}, so that white text on it can be read</span>
      </p>
      <p v-if="wrong('/appearance/colour')" class="fault-text">{{ wrong('/appearance/colour') }}</p>
      <p class="row">
        <label>A picture at its head <input type="file" accept="image/*" @change="choose($event, 'picture')" /></label>
        <button v-if="appearance.picture" type="button" class="link" @click="appearance.picture = null">the theme’s own instead</button>
      </p>
      <p class="row">
        <label>The team’s mark <input type="file" accept="image/*" data-test="mark" @change="choose($event, 'mark')" /></label>
        <button v-if="appearance.mark" type="button" class="link" @click="appearance.mark = null">no mark</button>
        <label><input v-model="appearance.team" type="checkbox" /> The team’s name on it</label>
      </p>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    </section>
    <section>
      <h2>Where it is</h2>
      <label>Its address ends in <input v-model="form.link" data-test="form-link" /></label>
      <p v-if="wrong('/link')" class="fault-text">{{ wrong('/link') }}</p>
      <label class="wide"
        >Sites that may show it within their own pages, or take answers to it from there, one a line
        <textarea v-model.lazy="sites" rows="2" placeholder="https://www.paths.example" />
      </label>
      <p v-if="wrong('/embed')" class="fault-text">{{ wrong('/embed') }}</p>
    </section>
  </div>
</template>

<style scoped>
.whole section {
  border-top: 1px solid var(--line);
  margin-top: 22px;
  padding-top: var(--gap-3);
  display: grid;
  gap: 8px;
}
h2 {
  font-size: 16px;
}
.wide {
  display: block;
  color: var(--quiet);
  font-size: 12.5px;
}
.wide input,
.wide textarea {
  display: block;
  width: 100%;
}
input[type='number'] {
  width: 70px;
}
.short {
  width: 100px;
}
.row {
  display: flex;
  gap: 6px var(--gap-4);
  align-items: center;
  margin: 0;
  flex-wrap: wrap;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 12px;
}
summary {
  cursor: pointer;
  color: var(--moss);
}
.quiet {
  margin: 0;
}
.theme {
  border-top: 4px solid var(--fern);
  border-radius: var(--corner);
  background: var(--stone);
  padding: 4px 10px;
  cursor: pointer;
}
.theme.tarn {
  border-color: var(--sky);
}
.theme.heath {
  border-color: var(--heather);
}
.theme.quarry {
  border-color: var(--slate);
}
.theme.hayfield {
  border-color: var(--gorse);
}
.theme.at {
  font-weight: 700;
  background: var(--moss-soft);
}
</style>
