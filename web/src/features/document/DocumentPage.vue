<script setup lang="ts">
// A document as it is composed: its running order at the left, the true sheet at the right, tied by the same numbers. Wires only: how
// blocks begin and lie is document.ts, what a phrase edits BlockPhrase.vue and DocumentPhrase.vue, the sheet SheetView.vue.
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { watchDebounced } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { PreviewView, SheetBlock, SheetDocument } from '@/api/types'
import { useDoing } from '@/app/asking'
import LastDone from '@/app/LastDone.vue'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import DoneLine from '@/features/tracker/DoneLine.vue'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import SentenceLine from '@/features/view/SentenceLine.vue'
import BlockLine from './BlockLine.vue'
import DocumentPhrase from './DocumentPhrase.vue'
import { begun, blockWith, doubled, moved, rowsOf, SORTS, useDocumentDesign, withBlock, without, wordsOf } from './document'
import { usePrinting } from './printing'
import SheetView from './SheetView.vue'

const route = useRoute()
const router = useRouter()
const { tracker: currentTracker } = useTracker()
const tracker = computed(() => Number(route.params.tracker))
const id = computed(() => Number(route.params.document))
const parts = useParts(() => tracker.value)
const { draft, would, kept, faults, changed, faultAt, put, keep, leave, busy, trouble, drop } = useDocumentDesign(tracker, id)
const table = computed(() => currentTracker.value?.tables.find((one) => one.id === draft.value?.table))
const blocks = computed(() => draft.value?.blocks ?? [])
const each = computed(() => draft.value?.of === 'each')
const rows = computed(() => rowsOf(blocks.value))
const open = ref<number>()
const within = (place: number) => faults.value.filter((fault) => fault.pointer.startsWith(`/blocks/${place}/`))
const rest = computed(() => faults.value.filter((fault) => !fault.pointer.startsWith('/blocks/')))
const typed = (place: number) => (would.value?.words.typed ?? []).filter((one) => one.block === place)
const offered = computed(() => SORTS.filter((one) => one.each === undefined || one.each === each.value))

const setBlocks = (next: SheetBlock[]) => put({ blocks: next })
/** Whoever works by keys goes on at the block, and at the same button where it can be pressed again. */
async function goTo(place: number, button = '') {
  await nextTick()
  const block = document.querySelector(`[data-block="${place + 1}"]`)
  const found = button && block?.querySelector<HTMLElement>(`[data-test=${button}]:not(:disabled)`)
  ;(found || block?.querySelector<HTMLElement>('.line'))?.focus()
}
function move(place: number, by: 1 | -1) {
  setBlocks(moved(blocks.value, place, by))
  open.value = place + by
  void goTo(place + by, by < 0 ? 'block-up' : 'block-down')
}
function double(place: number) {
  setBlocks(doubled(blocks.value, place))
  open.value = place + 1
  void goTo(place + 1)
}
function take(place: number) {
  open.value = undefined
  setBlocks(without(blocks.value, place))
  void goTo(Math.max(0, Math.min(place, blocks.value.length - 1)))
}
async function add(sort: (typeof SORTS)[number]['sort']) {
  const shows = table.value && currentTracker.value && begun(sort, currentTracker.value, table.value)
  if (!shows) return (missing.value = `${table.value?.name ?? 'This table'} has nothing for that yet.`)
  missing.value = ''
  open.value = blocks.value.length
  setBlocks([...blocks.value, blockWith(shows)])
  await goTo(open.value)
  document.querySelector('.block.open')?.scrollIntoView({ block: 'nearest' })
}
const missing = ref('')
function mend(place: number, text: string | undefined) {
  const block = blocks.value[place]
  if (block?.shows.as !== 'text') return
  const shows = text === undefined ? { ...block.shows, typed: true } : { ...block.shows, text }
  setBlocks(withBlock(blocks.value, place, { ...block, shows }))
}
function toggle(place: number) {
  open.value = open.value === place ? undefined : place
}
async function openFromSheet(number: number) {
  open.value = number - 1
  await goTo(number - 1)
}

// The sheet follows what is written, with the record that one chose.
const record = ref<number>()
const preview = shallowRef<PreviewView>()
const setting = useDoing()
watchDebounced(
  [draft, record],
  async () => {
    const document = draft.value
    if (!document) return
    const body = { document, record: record.value ?? null }
    const set = await setting.newest(() =>
      told(api.POST('/api/trackers/{tracker}/documents/preview', { params: { path: { tracker: tracker.value } }, body })),
    )
    if (set) preview.value = set
  },
  { debounce: 120, deep: true, immediate: true },
)
watch(id, () => ((record.value = undefined), (preview.value = undefined), (open.value = undefined)))
const at = computed(() => preview.value?.at)

const printing = usePrinting()
const one = () =>
  printing.print(
    { tracker: tracker.value, as: { document: id.value }, title: draft.value!.title },
    { records: at.value ? [at.value.record] : [], each: false },
  )
const PLAIN = { condition: { all: [] }, groups: [], sorts: [], tallies: [], fields: [] }
const all = (zip: boolean) =>
  printing.print(
    { tracker: tracker.value, as: { document: id.value }, title: draft.value!.title, count: at.value?.count },
    { records: [], query: { ...PLAIN, fields: [{ field: table.value!.standing, width: 100 }] }, each: zip },
  )

const menu = ref<{ x: number; y: number }>()
function openMenu(event: MouseEvent) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  menu.value = { x: box.left, y: box.bottom + 4 }
}
async function copy() {
  menu.value = undefined
  const now = kept.value?.document
  if (!now) return
  const made = await setting.attempt(() =>
    parts.make({ document: { table: now.table, title: `${now.title}, again`, of: now.of, like: now.id } }),
  )
  if (made?.made) await router.push({ name: 'document', params: { tracker: tracker.value, document: made.made } })
}
async function remove() {
  menu.value = undefined
  leave()
  if (await drop()) await router.push({ name: 'documents', params: { tracker: tracker.value } })
}
const change = (part: Partial<SheetDocument>) => put(part)
onBeforeRouteLeave(() => !changed.value || window.confirm('What you changed in this document is not kept yet. Leave it?'))
</script>

<template>
  <div v-if="draft && would && kept && table" class="split">
    <section class="order" aria-label="Running order">
      <p class="over"><router-link :to="{ name: 'documents', params: { tracker } }">Document</router-link> of {{ table.many }}</p>
      <div class="head">
        <h1 class="unseen">{{ draft.title }}</h1>
        <input
          class="title"
          :value="draft.title"
          aria-label="Title"
          data-test="document-title"
          @input="put({ title: ($event.target as HTMLInputElement).value })"
        />
        <button type="button" class="more" aria-label="What can be done with this document" data-test="document-menu" @click="openMenu"
          >▾</button
        >
        <span class="prints">
          <v-btn v-if="each" variant="outlined" :disabled="changed" data-test="print-all" @click="all(false)"
            >PDF of all {{ at?.count ?? '' }}</v-btn
          >
          <v-btn color="primary" :disabled="changed" data-test="print-one" @click="each ? one() : all(false)">{{
            each ? 'PDF of this one' : 'PDF'
          }}</v-btn>
        </span>
      </div>
      <p v-if="faultAt('/title')" class="fault-text" role="alert">{{ faultAt('/title') }}</p>
      <PopupMenu :at="menu" label="This document" @close="menu = undefined">
        <button v-if="each" data-test="print-zip" :disabled="changed" @click="((menu = undefined), all(true))"
          >PDF of each by itself</button
        >
        <button data-test="copy-document" @click="copy">Duplicate it</button>
        <button data-test="drop-document" @click="remove">Take it away</button>
      </PopupMenu>
      <p v-if="changed" class="quiet small">It is printed as it was kept last: keep it first.</p>
      <SentenceLine
        :phrases="would.words.sentence"
        class="says"
        :faults="rest"
        data-test="document-sentence"
        @drop="$event === '/keep' && put({ keep: null })"
      >
        <template #editor="{ at: place }">
          <DocumentPhrase :table="table" :document="draft" :at="place" :fault="faultAt(place, `${place}/text`)" @change="change" />
        </template>
      </SentenceLine>
      <p v-for="fault in rest" :key="fault.pointer + fault.message" class="fault-text" role="alert">{{ fault.message }}</p>

      <div v-for="row in rows" :key="row[0]" class="row" :class="{ beside: row.length > 1 && !row.some((place) => place === open) }">
        <BlockLine
          v-for="place in row"
          :key="place"
          :table="table"
          :block="blocks[place]!"
          :words="wordsOf(blocks, place, would)"
          :place="place"
          :count="blocks.length"
          :each="each"
          :open="open === place"
          :faults="within(place)"
          :typed="typed(place)"
          @toggle="toggle(place)"
          @change="setBlocks(withBlock(blocks, place, $event))"
          @move="move(place, $event)"
          @double="double(place)"
          @drop="take(place)"
          @typed="mend(place, $event)"
        />
      </div>
      <p class="adds">
        <button v-for="kind in offered" :key="kind.sort" type="button" class="link" :data-test="`add-${kind.sort}`" @click="add(kind.sort)"
          >+ {{ kind.says }}</button
        >
      </p>
      <p v-if="missing" class="quiet small" role="status">{{ missing }}</p>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <div v-if="changed" class="keep" role="region" aria-label="Not kept yet" data-test="document-keep">
        <span>Not kept yet</span>
        <v-btn variant="text" :disabled="busy" @click="leave">Leave it</v-btn>
        <v-btn color="primary" :disabled="busy || faults.length > 0" data-test="keep-document" @click="keep()">Keep this</v-btn>
      </div>
      <LastDone
        :words="printing.now.value ? `${printing.now.value.count ? `${printing.now.value.count} sheets are` : 'It is'} being set …` : ''"
        :undo="false"
        :trouble="printing.trouble.value"
        @close="printing.stop"
      />
      <DoneLine v-if="!changed" />
    </section>

    <section class="desk" aria-label="The sheet">
      <div v-if="at" class="steps">
        <button
          type="button"
          :disabled="at.before == null"
          aria-label="The record before"
          data-test="step-before"
          @click="record = at.before ?? undefined"
          >↑</button
        >
        <button
          type="button"
          :disabled="at.after == null"
          aria-label="The record after"
          data-test="step-after"
          @click="record = at.after ?? undefined"
          >↓</button
        >
        <span
          >shown with <b data-test="shown-with">{{ at.name }}</b>, {{ at.place }} of {{ at.count }}</span
        >
        <span v-if="at.longest != null || at.bare != null" class="hard"
          >or with
          <button v-if="at.longest != null" type="button" class="link" data-test="step-longest" @click="record = at.longest ?? undefined"
            >the longest</button
          ><template v-if="at.longest != null && at.bare != null">, </template
          ><button v-if="at.bare != null" type="button" class="link" data-test="step-bare" @click="record = at.bare ?? undefined"
            >one without lines</button
          ></span
        >
      </div>
      <p v-if="setting.trouble.value" class="fault-text" role="alert">{{ setting.trouble.value }}</p>
      <SheetView v-if="preview" :preview="preview" :open="open === undefined ? undefined : open + 1" @open="openFromSheet" />
      <p v-else-if="!setting.trouble.value" class="quiet">The sheet is being set …</p>
    </section>
  </div>
  <p v-else-if="trouble" class="gone fault-text" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: minmax(0, 10fr) minmax(0, 11fr);
  height: calc(100dvh - var(--band));
}
.order,
.desk {
  overflow-y: auto;
  padding: var(--gap-3) var(--gap-5) var(--gap-6);
}
.desk {
  border-left: 1px solid var(--line-strong);
  background: light-dark(#ece8dc, #14160f);
}
.gone {
  padding: var(--gap-6);
}
.over,
.small {
  margin: 0;
  font-size: 13px;
  color: var(--quiet);
}
.head {
  display: flex;
  align-items: baseline;
  gap: 4px;
}
.order :is(button, input) {
  /* What comes into sight does not come beneath what is not kept yet. */
  scroll-margin-block: 60px 90px;
}
.order .title {
  field-sizing: content;
  min-width: 8ch;
  max-width: 100%;
  padding: 0;
  border: 0;
  border-bottom: 1px solid transparent;
  background: none;
  color: inherit;
  font: 600 27px/1.25 var(--serif);
}
.title:hover,
.title:focus {
  border-bottom-color: var(--line-strong);
}
.more {
  min-width: 28px;
  min-height: 28px;
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
}
.head {
  flex-wrap: wrap;
}
.prints {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  margin-left: auto;
}
.order :deep(.says) {
  margin: var(--gap-2) 0 var(--gap-3);
  font: 18px/1.6 var(--serif);
}
.row {
  border-top: 1px solid var(--line);
}
.row.beside {
  display: grid;
  grid-auto-columns: minmax(0, 1fr);
  grid-auto-flow: column;
}
.row.beside > * + * {
  border-left: 1px solid var(--line);
}
.adds {
  display: flex;
  flex-wrap: wrap;
  gap: 6px var(--gap-4);
  margin: 0;
  padding: var(--gap-3) 8px;
  border-top: 1px solid var(--line-strong);
}
.adds button {
  min-height: 24px;
  text-decoration: none;
}
.keep {
  position: sticky;
  bottom: calc(-1 * var(--gap-6));
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  margin: 0 calc(-1 * var(--gap-5));
  padding: 8px var(--gap-5);
  background: var(--copper-soft);
  border-top: 1px solid var(--copper);
}
.keep span {
  margin-right: auto;
}
.steps {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  align-items: center;
  margin-bottom: var(--gap-2);
  font-size: 13px;
  color: var(--quiet);
}
.steps b {
  color: var(--ink);
}
.steps > button {
  min-width: 28px;
  min-height: 28px;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}
.steps > button:disabled {
  opacity: 0.45;
  cursor: default;
}
.hard {
  margin-left: auto;
}
.hard button {
  font-size: inherit;
}
@media (max-width: 800px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
  .order,
  .desk {
    overflow: visible;
    padding-inline: var(--gap-3);
  }
  .keep {
    bottom: 0;
    margin-inline: calc(-1 * var(--gap-3));
    z-index: 2;
  }
  .desk {
    border-left: 0;
    border-top: 1px solid var(--line-strong);
  }
}
</style>
