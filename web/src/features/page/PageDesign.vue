<script setup lang="ts">
// A shared page as it is composed: who comes in, what stands on it, and what that would do before it holds.
import { computed, ref } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { PageBlock, PageRecords, SharedPage, Table } from '@/api/types'
import { useAsked } from '@/app/asking'
import AccessWhy from '@/features/access/AccessWhy.vue'
import DatePick from '@/features/cell/DatePick.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { useTracker } from '@/features/tracker/tracker'
import SentenceLine from '@/features/view/SentenceLine.vue'
import DoorEditor from './DoorEditor.vue'
import { nextNumber, recordsOf, usePageDesign } from './page'
import RecordsEditor from './RecordsEditor.vue'

const route = useRoute()
const router = useRouter()
const { tracker: currentTracker } = useTracker()
const tracker = computed(() => Number(route.params.tracker))
const id = computed(() => Number(route.params.page))
const { draft, would, kept, faults, changed, faultAt, keep, leave, busy, trouble, drop, shownBy } = usePageDesign(tracker, id)
const pages = useAsked(
  () => ['pages', tracker.value],
  () => told(api.GET('/api/trackers/{tracker}/pages', { params: { path: { tracker: tracker.value } } })),
  () => true,
)
const visits = computed(() => pages.told.value?.find((one) => one.id === id.value)?.visits ?? [])

const tables = computed<Table[]>(() => currentTracker.value?.tables ?? [])
const tableOf = (records: PageRecords | undefined) => tables.value.find((table) => table.id === records?.table)
const forms = computed(() => currentTracker.value?.forms ?? [])
const formName = (form: number) => forms.value.find((one) => one.id === form)?.title ?? 'a form'
const people = computed(() => [
  { value: null as number | null, title: 'nobody in particular' },
  ...(currentTracker.value?.people ?? []).filter((one) => !one.left).map((one) => ({ value: one.id as number | null, title: one.name })),
])
const guests = computed(() => (kept.value?.page.guests ?? []).filter((guest) => !guest.gone))

function put(part: Partial<SharedPage>) {
  if (draft.value) draft.value = { ...draft.value, ...part }
}
const blocks = computed(() => draft.value?.blocks ?? [])
const putBlock = (place: number, block: PageBlock) => put({ blocks: blocks.value.map((one, n) => (n === place ? block : one)) })
const takeBlock = (place: number) => put({ blocks: blocks.value.filter((_, n) => n !== place) })
function moveBlock(place: number, by: number) {
  const next = [...blocks.value]
  const [moved] = next.splice(place, 1)
  if (moved) next.splice(place + by, 0, moved)
  put({ blocks: next })
}
function putRecords(place: number, part: Partial<PageRecords>) {
  const records = recordsOf(blocks.value[place]!)
  if (records) putBlock(place, { records: { ...records, ...part } })
}
/** Of whose records one asks first why they are seen. */
const firstTable = computed(() => blocks.value.map(recordsOf).find((records) => records)?.table)
const inBlock = (place: number) =>
  faults.value
    .filter((fault) => fault.pointer.startsWith(`/blocks/${place}/`))
    .map((fault) => ({ ...fault, pointer: fault.pointer.slice(`/blocks/${place}`.length) }))
const ofBlock = (place: number) =>
  faults.value.filter((fault) => fault.pointer.startsWith(`/blocks/${place}`)).map((fault) => fault.message)

/** What can be put on the page: a view’s records, a form, a text. */
const more = computed(() => [
  { value: '', title: 'something more …' },
  { value: 'text', title: 'a text' },
  ...tables.value.flatMap((table) => table.views.map((view) => ({ value: `view ${view.id}`, title: `${table.name}: ${view.name}` }))),
  ...forms.value.map((form) => ({ value: `form ${form.id}`, title: `the form “${form.title}”` })),
])
async function add(what: string) {
  const [sort, number] = what.split(' ')
  if (sort === 'text') put({ blocks: [...blocks.value, { text: { heading: '', text: '' } }] })
  if (sort === 'form') put({ blocks: [...blocks.value, { form: Number(number) }] })
  const records = sort === 'view' && (await shownBy(Number(number)))
  if (records && draft.value) put({ blocks: [...blocks.value, { records: { ...records, number: nextNumber(draft.value) } }] })
}

/** What actions and links are drawn in where a page has no colour of its own. */
const MOSS = '#4e5b1e'
const copied = ref(false)
async function copy() {
  await navigator.clipboard.writeText(kept.value?.address ?? '')
  copied.value = true
  setTimeout(() => (copied.value = false), 2500)
}
const snippet = computed(
  () => `<iframe src="${kept.value?.address}" style="width:100%;height:720px;border:0" title="${draft.value?.title}"></iframe>`,
)
const qr = computed(() => `/api/public/pages/${encodeURIComponent(kept.value?.page.link ?? '')}/qr/code.svg`)
const tryAs = (guest?: number) => `${kept.value?.address}?as=${guest ?? 0}`

const removing = ref(false)
async function takeAway() {
  leave()
  if (await drop()) await router.push({ name: 'pages', params: { tracker: tracker.value } })
}
onBeforeRouteLeave(() => !changed.value || window.confirm('What you changed on this page is not kept yet. Leave it?'))
</script>

<template>
  <section v-if="draft && would && kept" class="design">
    <p class="over"><router-link :to="{ name: 'pages', params: { tracker } }">Shared pages</router-link></p>
    <div class="head">
      <h1 class="unseen">{{ draft.title }}</h1>
      <span class="grow">
        <textarea
          rows="1"
          :value="draft.title"
          class="title"
          aria-label="Title"
          data-test="page-title"
          @input="put({ title: ($event.target as HTMLTextAreaElement).value })"
          @keydown.enter.prevent
        />
      </span>
      <span class="state" :class="{ closed: !kept.page.open }">{{ kept.page.open ? 'open' : 'closed' }}</span>
      <v-btn
        v-if="!changed"
        :color="kept.page.open ? undefined : 'primary'"
        :variant="kept.page.open ? 'outlined' : 'flat'"
        :disabled="busy"
        data-test="open-page"
        @click="keep({ open: !kept.page.open })"
        >{{ kept.page.open ? 'Close it' : 'Open it' }}</v-btn
      >
    </div>
    <p v-if="faultAt('/title')" class="fault-text" role="alert">{{ faultAt('/title') }}</p>
    <SentenceLine :phrases="would.sentences.door" :faults="faults" large data-test="door-sentence">
      <template #editor="{ at, close }">
        <DoorEditor v-if="at === '/door'" :page="draft" :fault="faultAt('/door')" @change="put" @close="close" />
        <div v-else-if="at === '/until'" class="pick">
          <DatePick
            :model-value="draft.until"
            label="The last day on which it is open"
            @update:model-value="put({ until: $event || null })"
          />
          <button v-if="draft.until" type="button" class="link" @click="(put({ until: null }), close())">No last day</button>
        </div>
        <PickOne
          v-else-if="at === '/by'"
          :model-value="draft.by ?? null"
          aria-label="Whom visitors turn to"
          :items="people"
          @update:model-value="put({ by: $event })"
        />
        <label v-else class="sites"
          >Sites that may hold it within theirs, a line each
          <textarea
            rows="3"
            :value="(draft.embed ?? []).join('\n')"
            placeholder="https://www.paths.example"
            @change="put({ embed: ($event.target as HTMLTextAreaElement).value.split(/\s+/).filter(Boolean) })"
          />
          <span v-if="faultAt('/embed')" class="fault-text" role="alert">{{ faultAt('/embed') }}</span>
          <code v-if="draft.embed?.length">{{ snippet }}</code>
        </label>
      </template>
    </SentenceLine>
    <p
      v-for="words in faults
        .filter((fault) => ['/door', '/guests', '/by'].some((at) => fault.pointer.startsWith(at)))
        .map((fault) => fault.message)"
      :key="words"
      class="fault-text"
      role="alert"
      >{{ words }}</p
    >
    <div class="address">
      <img :src="qr" alt="The address as a code to scan" />
      <div>
        <p
          ><a :href="kept.address" target="_blank" rel="noopener" data-test="page-address">{{ kept.address }}</a>
          <v-btn size="small" variant="text" @click="copy">{{ copied ? 'Copied' : 'Copy the link' }}</v-btn></p
        >
        <p class="quiet"
          >Its words:
          <input
            :value="draft.link"
            class="words"
            aria-label="Words in its address"
            data-test="page-link"
            @input="put({ link: ($event.target as HTMLInputElement).value })"
          />
          <button type="button" class="link" data-test="new-address" @click="keep({ link: '' })">A new address nobody can guess</button>
          <template v-if="faultAt('/link')"
            ><br /><span class="fault-text" role="alert">{{ faultAt('/link') }}</span></template
          ></p
        >
        <p class="tries"
          >Look at it as
          <a v-if="kept.page.door !== 'named'" :href="tryAs()" target="_blank" rel="noopener" data-test="try-page">anybody who comes</a>
          <a
            v-for="guest in kept.page.door === 'named' ? guests : []"
            :key="guest.id"
            :href="tryAs(guest.id)"
            target="_blank"
            rel="noopener"
            >{{ guest.mail }}</a
          >
          <span v-if="kept.page.door === 'named' && !guests.length" class="quiet">nobody: it names nobody yet</span>
          <span v-if="changed" class="quiet">(as it was kept last)</span></p
        >
        <p class="quiet">{{ visits.length ? visits.map((visit) => visit.says).join('; ') : 'Nobody has come yet.' }}</p>
      </div>
    </div>
    <label class="intro"
      >Under its title, if you like
      <textarea
        rows="2"
        :value="draft.intro"
        data-test="page-intro"
        @input="put({ intro: ($event.target as HTMLTextAreaElement).value })"
      />
    </label>

    <p class="colour"
      ><label
        >Its colour
        <input
          type="color"
          :value="draft.colour ?? MOSS"
          data-test="page-colour"
          @change="put({ colour: ($event.target as HTMLInputElement).value })"
      /></label>
      <button v-if="draft.colour" type="button" class="link" @click="put({ colour: null })">As it comes</button>
      <span v-if="faultAt('/colour')" class="fault-text" role="alert">{{ faultAt('/colour') }}</span></p
    >

    <article v-for="(block, place) in blocks" :key="recordsOf(block)?.number ?? `at ${place}`" class="block" data-test="page-block">
      <div class="head">
        <template v-if="'text' in block">
          <input
            :value="block.text.heading"
            class="heading grow"
            placeholder="a heading"
            aria-label="Heading"
            @input="putBlock(place, { text: { ...block.text, heading: ($event.target as HTMLInputElement).value } })"
          />
        </template>
        <h2 v-else-if="'form' in block" class="grow"
          >The form “{{ formName(block.form) }}”
          <router-link class="quiet small" :to="{ name: 'form', params: { tracker, form: block.form } }">its script</router-link></h2
        >
        <input
          v-else
          :value="block.records.title"
          class="heading grow"
          :placeholder="`a heading for these ${tableOf(block.records)?.many ?? 'records'}`"
          aria-label="Heading"
          @input="putRecords(place, { title: ($event.target as HTMLInputElement).value })"
        />
        <span class="moves">
          <button type="button" :disabled="place === 0" :aria-label="`Part ${place + 1} further up`" @click="moveBlock(place, -1)"
            >↑</button
          >
          <button
            type="button"
            :disabled="place === blocks.length - 1"
            :aria-label="`Part ${place + 1} further down`"
            @click="moveBlock(place, 1)"
            >↓</button
          >
          <button type="button" class="link" :aria-label="`Take it off: part ${place + 1}`" @click="takeBlock(place)">Take it off</button>
        </span>
      </div>
      <textarea
        v-if="'text' in block"
        rows="3"
        :value="block.text.text"
        aria-label="Text"
        @input="putBlock(place, { text: { ...block.text, text: ($event.target as HTMLTextAreaElement).value } })"
      />
      <RecordsEditor
        v-else-if="'records' in block && tableOf(block.records)"
        :records="block.records"
        :table="tableOf(block.records)!"
        :phrases="would.sentences.blocks[place] ?? []"
        :shapes="would.sentences.shapes[place] ?? []"
        :faults="inBlock(place)"
        @change="putRecords(place, $event)"
      />
      <p v-for="words in ofBlock(place)" :key="words" class="fault-text" role="alert">{{ words }}</p>
    </article>
    <p class="more">
      <span class="quiet">On the page stands</span>
      <PickOne
        model-value=""
        said
        aria-label="What more stands on the page"
        data-test="add-block"
        :items="more"
        @update:model-value="add(String($event))"
      />
    </p>
    <p v-if="faultAt('/blocks')" class="fault-text" role="alert">{{ faultAt('/blocks') }}</p>

    <AccessWhy v-if="!changed" :page="id" :table="firstTable" />

    <div v-if="changed" class="keep" role="region" aria-label="Not kept yet" data-test="keep-panel">
      <div class="grow">
        <p class="copper">Nothing of this holds yet</p>
        <p v-if="would.moves.length">{{ would.moves.join(' ') }}</p>
        <p v-else class="quiet">{{ draft.open ? 'Visitors see and do the same as before.' : 'It is closed: nobody comes in.' }}</p>
      </div>
      <v-btn variant="text" data-test="leave-page" @click="leave">Leave it</v-btn>
      <v-btn color="primary" :disabled="busy || !!faults.length" data-test="keep-page" @click="keep()">Keep it</v-btn>
    </div>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p class="away">
      <button v-if="!removing" type="button" class="link" data-test="remove-page" @click="removing = true">Take this page away</button>
      <span v-else
        >Its address leads nowhere from then on; what came by it stays.
        <button type="button" class="link fault-link" data-test="remove-page-now" @click="takeAway">Take it away</button>
        <button type="button" class="link" @click="removing = false">Leave it</button></span
      >
    </p>
  </section>
  <p v-else-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.design {
  display: grid;
  gap: var(--gap-3);
  max-width: 980px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-5) 60px;
}
p,
h1,
h2 {
  margin: 0;
}
.over {
  font-size: 13px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
  align-items: center;
}
.grow {
  flex: 1 1 240px;
  min-width: 0;
}
.title,
.heading {
  display: block;
  width: 100%;
  field-sizing: content;
  resize: none;
  padding: 0;
  border: 0;
  border-bottom: 1px solid transparent;
  background: none;
  color: var(--ink);
  font: 600 27px/1.3 var(--serif);
}
.heading {
  font-size: 19px;
}
.heading::placeholder {
  font-weight: 400;
  font-style: italic;
  color: var(--quiet);
}
.title:hover,
.title:focus,
.heading:hover,
.heading:focus {
  border-bottom-color: var(--line-strong);
}
.state {
  color: var(--moss);
}
.state.closed,
.copper {
  color: var(--copper);
}
.address {
  display: flex;
  gap: var(--gap-4);
  padding: var(--gap-3) 0;
  border-top: 1px solid var(--line);
}
.address > div {
  display: grid;
  gap: 4px;
  align-content: start;
  min-width: 0;
  overflow-wrap: anywhere;
}
.address img {
  width: 104px;
  height: 104px;
  background: #fff;
}
.words {
  min-width: 12ch;
  margin-right: var(--gap-3);
  border: 0;
  border-bottom: 1px dashed var(--moss);
  background: none;
  color: var(--moss);
  font: inherit;
  field-sizing: content;
}
.tries a {
  margin-right: var(--gap-3);
}
.intro,
.sites {
  display: grid;
  gap: 4px;
  font-size: 13.5px;
  color: var(--quiet);
}
textarea {
  width: 100%;
  padding: 8px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  font: 15px/1.5 var(--sans);
}
.sites code {
  font-size: 12px;
}
.colour {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
  font-size: 13.5px;
  color: var(--quiet);
}
.colour input {
  width: 44px;
  height: 32px;
  padding: 2px;
  vertical-align: middle;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
}
.block {
  display: grid;
  gap: var(--gap-2);
  padding: var(--gap-3) 0;
  border-top: 1px solid var(--line);
}
.small {
  font: 13px var(--sans);
}
.moves {
  display: flex;
  gap: 4px var(--gap-2);
}
.moves button:not(.link) {
  min-width: 28px;
  min-height: 28px;
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
}
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding-top: var(--gap-3);
  border-top: 1px solid var(--line);
  font: 17px/1.6 var(--serif);
}
.keep {
  position: sticky;
  bottom: 0;
  z-index: 2;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
  padding: var(--gap-3) var(--gap-4);
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--copper);
  border-radius: var(--corner);
  background: var(--sheet);
}
.copper {
  font-size: 12.5px;
}
.fault-link {
  color: var(--fault);
}
@media (max-width: 700px) {
  .design {
    padding: var(--gap-3) var(--gap-3) 40px;
  }
  .address img {
    display: none;
  }
  .moves button {
    min-height: 44px !important;
    min-width: 44px !important;
  }
}
</style>
