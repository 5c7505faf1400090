<script setup lang="ts">
// Handing a form out: its link and what it says of itself, where it hangs and what came by it, codes and posters to print.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Form, Table } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import { withParameters } from './form'

const props = defineProps<{ tracker: number; form: Form; table: Table; address: string; confirmation: string }>()

const { tracker: currentTracker } = useTracker()
const parts = useParts(() => props.tracker)
const { trouble, busy, attempt } = useDoing()
const { told: came, again } = useAsked(
  () => ['answers', props.tracker, props.form.id],
  () =>
    told(api.GET('/api/trackers/{tracker}/forms/{form}/answers', { params: { path: { tracker: props.tracker, form: props.form.id } } })),
)

/** What the link can fill in: of each, the question and the word in the link. */
const fills = computed(() => props.form.questions.filter((q) => q.parameter).map((q) => ({ name: q.parameter!, question: q })))
const asked = computed(() => [...new Set(props.form.questions.flatMap((q) => (q.shown.parameters ?? []).map((p) => p.name)))])
const takes = computed(() => [
  { value: '', title: 'nothing' },
  ...fills.value.map((f) => ({ value: f.name, title: `“${f.question.label}”` })),
])
const values = ref<Record<string, string>>({})
const place = ref('')
const parameters = computed(() =>
  [
    ...[...fills.value.map((f) => f.name), ...asked.value].map((name) => ({ name, value: values.value[name] ?? '' })),
    { name: 'from', value: place.value.trim() },
  ].filter((p, n, all) => p.value && all.findIndex((other) => other.name === p.name) === n),
)
const whole = computed(() => withParameters(props.address, parameters.value))
const query = computed(() => (whole.value.includes('?') ? whole.value.slice(whole.value.indexOf('?')) : ''))
const code = (kind: 'svg' | 'png') => `/api/public/forms/${props.form.link}/qr/code.${kind}${query.value}`
const poster = computed(() => Object.fromEntries(parameters.value.map((p) => [p.name, p.value])))

/** Links that the link fills in: for each of their records a code of its own can be printed. */
const sheets = computed(() =>
  fills.value.flatMap(({ question }) => {
    const kind = props.table.fields.find((f) => f.id === question.field)?.kind
    const to = kind?.type === 'link' ? currentTracker.value?.tables.find((t) => t.id === kind.to) : undefined
    return to ? [{ field: question.field, to }] : []
  }),
)
const most = computed(() => Math.max(1, ...(came.value?.places ?? []).map((p) => p.answers)))
const snippet = computed(
  () =>
    `<iframe src="${whole.value}" title="${props.form.title.replaceAll('"', '&quot;')}" width="100%" height="900" style="border:0"></iframe>`,
)
const questions = computed(() => `${new URL(props.address).origin}/api/public/forms/${props.form.link}`)
/** A bookmark that opens the form with the page one is on: its address and its title, each into what the link fills in. */
const taking = ref({ address: '', title: '' })
watch(
  fills,
  (now) => {
    const of = (type: string) =>
      now.find((f) => props.table.fields.find((one) => one.id === f.question.field)?.kind.type === type)?.name ?? ''
    taking.value = { address: of('web'), title: of('text') }
  },
  { immediate: true },
)
const bookmark = computed(() => {
  const puts = [taking.value.address && `${JSON.stringify(taking.value.address)}:location.href`, taking.value.title && `${JSON.stringify(taking.value.title)}:document.title`] // prettier-ignore
  const own = JSON.stringify(withParameters(props.address, [{ name: 'from', value: 'bookmark' }]))
  return `javascript:void(open(${own}+'&'+new URLSearchParams({${puts.filter(Boolean).join(',')}})))`
})
const places = computed(() => props.form.places ?? [])
const isKept = computed(() => places.value.some((one) => one.name === place.value.trim()))

/** Keeps where it hangs with the form, as it stands: nothing of what is being designed goes with it. */
async function keepPlaces(next: Form['places']) {
  const form = { ...props.form, places: next }
  await attempt(() => parts.save('form', props.form.id, { form: { form, confirmation: props.confirmation } }))
  await again()
}
const keepPlace = () =>
  keepPlaces([...places.value, { name: place.value.trim(), parameters: parameters.value.filter((one) => one.name !== 'from') }])
const dropPlace = (name: string) => keepPlaces(places.value.filter((one) => one.name !== name))

/** Makes the sentence say what the link of a place says. */
function choosePlace(name: string, puts: { name: string; value: string }[]) {
  place.value = name
  values.value = Object.fromEntries(puts.map((one) => [one.name, one.value]))
}

const copied = ref('')

async function copy(what: string, text: string) {
  await navigator.clipboard.writeText(text)
  copied.value = what
  setTimeout(() => (copied.value = ''), 2500)
}
</script>

<template>
  <section class="share" aria-label="Handing it out" data-test="share">
    <div class="link">
      <p class="address">
        <a :href="whole" target="_blank" rel="noopener" data-test="form-address">{{ whole }}</a>
        <v-btn size="small" color="primary" data-test="copy-link" @click="copy('address', whole)">{{
          copied === 'address' ? 'Copied' : 'Copy the link'
        }}</v-btn>
      </p>
      <p v-for="{ name, question } in fills" :key="name" class="clause">
        It puts
        <input
          v-model="values[name]"
          :aria-label="`What it puts into ${question.label}`"
          placeholder="nothing"
          :data-test="`share-${name}`"
        />
        into “{{ question.label }}”.
      </p>
      <p v-for="name in asked" :key="name" class="clause">
        For the questions that ask for it, it says {{ name }} is
        <input v-model="values[name]" :aria-label="`What it says for ${name}`" placeholder="nothing" :data-test="`share-${name}`" />.
      </p>
      <p v-if="!asked.includes('from')" class="clause">
        To tell later where answers came from, it says that it hangs
        <input v-model="place" aria-label="Where this link hangs" placeholder="at the car park" data-test="share-place" />.
        <button v-if="place.trim() && !isKept" type="button" class="link" :disabled="busy" data-test="keep-place" @click="keepPlace"
          >Keep this place</button
        >
      </p>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <p class="ways">
        <a :href="code('svg')" download="code.svg">The code as a drawing</a>
        <a :href="code('png')" download="code.png">as a picture</a>
        <router-link :to="{ name: 'poster', params: { tracker, form: form.id }, query: poster }">A poster to print</router-link>
        <router-link
          v-for="{ field, to } in sheets"
          :key="field"
          :to="{ name: 'poster', params: { tracker, form: form.id }, query: { ...poster, sheet: field } }"
          data-test="sheet-of-codes"
          >A sheet of codes, one for each {{ to.one }}</router-link
        >
      </p>
      <details data-test="bookmark">
        <summary>A bookmark that opens it with the page one is on</summary>
        <template v-if="fills.length">
          <p class="clause">
            The page’s address goes into
            <PickOne v-model="taking.address" said aria-label="Where the address goes" :items="takes" />, its title into
            <PickOne v-model="taking.title" said aria-label="Where the title goes" :items="takes" />.
          </p>
          <p class="quiet">
            Drag this to your browser’s bookmarks:
            <a :href="bookmark" data-test="bookmarklet" @click.prevent>{{ form.title || 'Form' }}</a></p
          >
        </template>
        <p v-else class="quiet">First let the link fill something in: at a question, <i>or with the link’s parameter</i>.</p>
      </details>
      <details>
        <summary>Within another site, or sent by a site of your own</summary>
        <p v-if="form.embed?.length" class="embed"
          ><code>{{ snippet }}</code> <button @click="copy('snippet', snippet)">{{ copied === 'snippet' ? 'copied' : 'copy' }}</button></p
        >
        <p v-else class="quiet">To show it within another site, name that site below first.</p>
        <p class="quiet">
          The questions are JSON at <a :href="questions" target="_blank" rel="noopener">{{ questions }}</a>, and answers are posted there,
          with the same checks. <a href="/api/openapi.json" target="_blank" rel="noopener">How it is all described</a>
        </p>
      </details>
    </div>
    <img :src="code('svg')" alt="The address as a code to scan" />
    <div v-if="came?.places.length" class="places">
      <h2>Where it hangs, and what came by it</h2>
      <p v-for="one in came.places" :key="`${one.name}=${one.value}`" class="place">
        <span v-if="one.kept"
          ><button type="button" class="link" :aria-pressed="place === one.value" @click="choosePlace(one.value, one.kept)">{{
            one.value
          }}</button
          ><button type="button" class="link drop" :aria-label="`${one.value} is no place any more`" @click="dropPlace(one.value)"
            >×</button
          ></span
        >
        <span v-else
          >{{ one.name }} <b>{{ one.value }}</b></span
        >
        <span class="bar" aria-hidden="true"><i :style="{ width: `${(100 * one.answers) / most}%` }" /></span>
        <span class="figure">{{ one.answers }}</span>
        <span class="quiet">{{ one.last ? `the last ${one.last}` : 'nothing yet' }}</span>
      </p>
    </div>
  </section>
</template>

<style scoped>
.link[aria-pressed='true'] {
  font-weight: 600;
}
.link.drop {
  margin-left: 6px;
  color: var(--quiet);
  text-decoration: none;
}
.share {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 132px;
  gap: var(--gap-3) var(--gap-5);
  border-top: 1px solid var(--line-strong);
  padding: var(--gap-3) 0 var(--gap-4);
}
h2 {
  font-size: 15px;
}
img {
  width: 132px;
  height: 132px;
  background: #fff;
}
p {
  margin: 4px 0;
}
.address {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
  overflow-wrap: anywhere;
  font: 17px/1.4 var(--serif);
}
.clause {
  font: 16px/1.7 var(--serif);
  color: var(--quiet);
}
.clause input {
  border: 0;
  border-bottom: 1px dashed var(--moss);
  background: none;
  color: var(--moss);
  font: inherit;
  field-sizing: content;
  min-width: 10ch;
  max-width: 100%;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
  margin-top: var(--gap-2);
}
.embed code {
  font-size: 12px;
}
summary,
.embed button {
  color: var(--moss);
  cursor: pointer;
}
.embed button {
  border: 0;
  background: none;
  text-decoration: underline;
}
.places {
  grid-column: 1 / -1;
}
.place {
  display: grid;
  grid-template-columns: minmax(120px, 260px) minmax(60px, 1fr) 40px minmax(120px, 200px);
  gap: var(--gap-3);
  align-items: center;
  border-top: 1px solid var(--line);
  padding-top: 4px;
}
.bar i {
  display: block;
  height: 10px;
  background: color-mix(in srgb, var(--moss) 38%, var(--stone));
}
.figure {
  text-align: right;
  font-weight: 600;
}
@media (max-width: 700px) {
  .share {
    grid-template-columns: minmax(0, 1fr);
  }
  .place {
    grid-template-columns: minmax(0, 1fr) 60px 40px;
  }
  .place .quiet {
    grid-column: 1 / -1;
  }
}
</style>
