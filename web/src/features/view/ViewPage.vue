<script setup lang="ts">
// One view of one table: its name, its sentence, its records, and a folio beside them.
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useEventListener, useMediaQuery } from '@vueuse/core'
import type { Field, Input, Order, Row, SlipAct, Value } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { useDesign } from '@/features/design/design'
import FieldPanel from '@/features/design/FieldPanel.vue'
import DraftFolio from '@/features/folio/DraftFolio.vue'
import FolioPanel from '@/features/folio/FolioPanel.vue'
import { useSession } from '@/features/session/session'
import { useParts } from '@/features/tracker/parts'
import PresentLine from '@/features/tracker/PresentLine.vue'
import { usePresence } from '@/features/tracker/presence'
import { useTracker } from '@/features/tracker/tracker'
import { askBecause, askWhy } from '@/features/why/why'
import { addedWith, useAdding } from './adding'
import { useAltering } from './altering'
import { useBeside } from './beside'
import AlmanacBoard from './calendar/AlmanacBoard.vue'
import CardsCatalogue from './cards/CardsCatalogue.vue'
import CrossTable from './crosstab/CrossTable.vue'
import LanesBoard from './lanes/LanesBoard.vue'
import { useScreen } from './screen'
import { useShaping } from './shaping'
import AskFirst from './AskFirst.vue'
import { useDraft } from './draft'
import { asksMore, useDrafting } from './drafting'
import MoreMenu from './MoreMenu.vue'
import FindBar from './FindBar.vue'
import { useFinding } from './finding'
import { type Computed, type SlipPlace, narrowed } from './slip'
import SlipPopup from './SlipPopup.vue'
import EmptyTable from './EmptyTable.vue'
import { usePicked } from './picked'
import PickedTray from './PickedTray.vue'
import PhraseEditor from './PhraseEditor.vue'
import RowsGrid from './RowsGrid.vue'
import SentenceLine from './SentenceLine.vue'
import ViewMenu from './ViewMenu.vue'
import { bodyOf } from './views'
import { useWindow } from './window'

const { tracker: currentTracker } = useTracker()

const route = useRoute()
const router = useRouter()
const { me } = useSession()
const edits = useEdits()
const parts = useParts(() => tracker.value)

const tracker = computed(() => Number(route.params.tracker))
const tableId = computed(() => Number(route.params.table))
const table = computed(() => currentTracker.value?.tables.find((t) => t.id === tableId.value))
const view = computed(() => {
  const views = table.value?.views ?? []
  return views.find((v) => v.id === Number(route.params.view)) ?? (route.params.view ? undefined : views[0])
})
const { query, changed, change, drop } = useDraft(tracker, table, view)
const keep = ref<number[]>([])
const asked = computed(() => query.value ?? { fields: [] })
/** Rows read at once: few where one is in many lanes at a time. */
const page = computed(() => (query.value?.shape?.as === 'lanes' ? 30 : 100))
const viewId = computed(() => view.value?.id)
const shown = useWindow({ tracker, table: tableId, query: asked, view: viewId, keep, page })
const picked = usePicked(() => ({ tracker: tracker.value, table: tableId.value }))
const screen = useScreen(computed(() => `${tracker.value}/${tableId.value}/${view.value?.id ?? 'all'}`))
/** Whichever shape shows the records. */
const grid = ref<Pick<InstanceType<typeof RowsGrid>, 'box' | 'goTo' | 'goToPlace' | 'goToField' | 'focus' | 'walk' | 'groupHere'>>()
const sentence = ref<InstanceType<typeof SentenceLine>>()
const { trouble, attempt } = useDoing()

const fields = computed(() => {
  const byId = new Map(table.value?.fields.map((f) => [f.id, f]))
  return (query.value?.fields ?? []).flatMap((s) => {
    const field = byId.get(s.field)
    return field ? [{ field, width: screen.widths.value[field.id] ?? s.width }] : []
  })
})
const standing = computed(() => !!me.value?.stands_in)
const adds = computed(() => !!table.value?.adds && !standing.value)

const columns = computed(() => fields.value.map((one) => one.field))
/** The shape on the screen: beside an open record, whatever is shown is a list. */
const lanes = computed(() => (query.value?.shape?.as === 'lanes' && !besideFolio.value ? query.value.shape : undefined))
const calendar = computed(() => (query.value?.shape?.as === 'calendar' && !besideFolio.value ? query.value.shape : undefined))
const cards = computed(() => (query.value?.shape?.as === 'cards' && !besideFolio.value ? query.value.shape : undefined))

const cross = computed(() => (query.value?.shape?.as === 'cross-tab' && !besideFolio.value ? query.value.shape : undefined))

const { shaping, made, before, shape, makeFor, shaped } = useShaping({
  table,
  query,
  change,
  window: () => shown,
  clear: () => beside.open(undefined),
  goToField: (field) => void grid.value?.goToField(field),
})
const opened = ref<InstanceType<typeof FolioPanel>>()
const beside = useBeside({
  focus: () => opened.value?.focus(),
  closed: () => void nextTick(() => grid.value?.focus()),
  walk: (by) => grid.value?.walk(by),
})
const { folio, open: openFolio, openHistory, close: closeFolio, walk } = beside

const drafting = useDrafting({ tracker, table, show })
/** What is open beside the records: a record, or one on its way, which has no number yet. */
const besideOpen = computed(() => folio.value ?? (drafting.draft.value === undefined ? undefined : 0))
const besideFolio = computed(() => besideOpen.value !== undefined && shaping.value === undefined)

usePresence(
  () => tracker.value,
  () => ({ table: tableId.value, record: folio.value }),
)
const narrow = useMediaQuery('(max-width: 700px)')
/** New records stay in sight until one moves on to another. */
function moved(record: number | undefined) {
  if (keep.value.length && (record === undefined || !keep.value.includes(record))) keep.value = []
  beside.follow(record)
}
watch(tableId, () => (keep.value = []))

async function put(cells: Record<string, Input>) {
  if (await drafting.begin(cells)) return
  const record = await edits.add({ tracker: tracker.value, table: tableId.value }, cells, true)
  if (record !== undefined) await show(record)
}

async function show(record: number) {
  keep.value = [record]
  await shown.refresh()
  await nextTick()
  const place = shown.answer.value?.kept.find((k) => k.record === record)?.place
  if (place !== undefined) await grid.value?.goTo(place, record)
  // On a phone a record is filled in on a page of its own.
  if (narrow.value && drafting.draft.value === undefined) openFolio(record)
}
const adding = useAdding({
  table,
  query,
  drafts: (cells) => !!table.value && asksMore(table.value, cells),
  add: (cells) => attempt(() => put(cells)),
})
const add = adding.begin
watch(tableId, adding.leave)
// Somebody who was led here to add a record, with what they said of it.
watch(
  () => route.query.add && shown.answer.value && adds.value && String(route.query.add),
  async (asked) => {
    if (!asked) return
    await router.replace({ query: { ...route.query, add: undefined } })
    await add(undefined, addedWith(asked))
  },
)

async function remove(row: Row) {
  await attempt(async () => {
    const place = shown.placeOf.value.get(row.id) ?? 0
    await edits.remove({ tracker: tracker.value, table: tableId.value }, [row.id])
    if (folio.value === row.id) openFolio(undefined)
    await shown.refresh()
    await nextTick()
    // One goes on where it was.
    grid.value?.goToPlace(Math.min(place, (shown.answer.value?.row_count ?? 1) - 1))
  })
}

const left = (record: number) => edits.left({ tracker: tracker.value, table: tableId.value, record })

const editCell = (at: number, record: number, field: Field, input: Input, was: Value | undefined) =>
  edits.edit({ tracker: tracker.value, table: at, record }, field.id, input, was)

const { reorder, dropPhrase, keepFields, orderBy, groupBy } = useAltering(
  () => query.value,
  change,
  () => void putInOrder(),
)

/** The options of a choice in another order, as its lanes were put. */
async function orderOptions(field: Field, order: number[]) {
  await attempt(async () => {
    await design.read()
    const def = design.design.value?.fields.find((one) => one.field.id === field.id)?.field
    if (def?.kind.type !== 'choice') return
    const { options } = def.kind
    const put = order.flatMap((id) => options.filter((option) => option.id === id))
    // Those that were put take the places that they had among all.
    const places = options.map((option) => (order.includes(option.id) ? put.shift()! : option))
    await design.change({ ...def, kind: { ...def.kind, options: places } }, [])
    await shown.refresh()
  })
}

/** An order by hand begins as these sorts put the records, or is forgotten. */
async function putInOrder(sorts?: Order[]) {
  const now = view.value
  if (!now) return
  await attempt(async () => {
    await edits.orderBy({ tracker: tracker.value, view: now.id }, sorts ? { begin: { sorts } } : { forget: {} })
    // The view as it is saved comes by itself; what one had changed of it is sorted by nothing any more either.
    if (sorts && changed.value) change({ sorts: [] })
    await shown.refresh()
  })
}

/** Words looked for among the records; a calendar shows days, not places. */
const finding = useFinding({
  tracker: () => tracker.value,
  table: () => tableId.value,
  window: () => shown,
  go: (hit) => void grid.value?.goTo(hit.place, hit.record, hit.field, false),
})
const findBar = ref<InstanceType<typeof FindBar>>()
function find(field: number | null = null) {
  if (calendar.value || cross.value) return
  finding.begin(field)
  void findBar.value?.focus()
}

/** The field whose slip is open, and where. */
const slip = ref<SlipPlace>()

/** Opened from the list of fields, where a phone shows no headings: under the sentence. */
function slipOf(field: Field) {
  const box = grid.value?.box()
  slip.value = { field, x: Math.max(8, box?.left ?? 8), y: box?.top ?? 120 }
}

/** The field that a condition is begun on. */
const narrowing = ref<number>()

async function narrowBy(field: Field) {
  narrowing.value = field.id
  await nextTick()
  sentence.value?.open('/condition')
}

/** To what uses a field: where it is read and changed. */
function toUse({ what, number, table: at }: SlipAct & { act: 'use' }) {
  const params = { tracker: tracker.value, table: at ?? tableId.value }
  if (what === 'view') return router.push({ name: 'view', params: { ...params, view: number } })
  if (what === 'form') return router.push({ name: 'form', params: { tracker: tracker.value, form: number } })
  if (what === 'automation') return router.push({ name: 'automations', params: { tracker: tracker.value } })
  if (what === 'role') return router.push({ name: 'access', params: { tracker: tracker.value } })
  return router.push({ name: 'design', params, query: what === 'field' ? { field: number } : {} })
}

async function saveView() {
  const now = view.value
  if (!now || !query.value) return
  await attempt(async () => {
    await parts.save('view', now.id, { view: bodyOf({ id: tableId.value }, now, { query: query.value! }) })
    now.query = query.value!
    drop()
  })
}

function why(row: Row, field: Field | undefined, x: number, y: number) {
  const at = { tracker: tracker.value, table: tableId.value, record: row.id }
  if (field) void askWhy({ ...at, field: field.id, without: asked.value.without ?? [] }, { x, y })
  else void askBecause(at, asked.value.condition ?? { all: [] }, { x, y })
}

function toComputed(name: Computed, field: number | 'new', query: Record<string, number>) {
  void router.push({ name, params: { tracker: tracker.value, table: tableId.value, field }, query: { ...query, view: view.value?.id } })
}

/** A new field behind another: before the one that follows it in the table. */
function compute(what: Computed, after: Field) {
  const all = table.value?.fields ?? []
  const next = all[all.findIndex((f) => f.id === after.id) + 1]
  toComputed(what, 'new', next ? { before: next.id } : {})
}

const design = useDesign(tracker, tableId, () => shaping.value !== undefined)
watch([tableId, folio], ([, now], [was]) => {
  if (now !== undefined || was !== tableId.value) shaping.value = undefined
})

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const mod = event.ctrlKey || event.metaKey
  const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, [contenteditable]')
  const letter = event.key.toLowerCase()
  if (mod && (letter === 'z' || letter === 'y') && !typing) {
    event.preventDefault()
    void attempt(async () => {
      await (event.shiftKey || letter === 'y' ? edits.redo() : edits.undo())
      await shown.refresh()
    })
  } else if (mod && letter === 'f' && !event.shiftKey && !calendar.value && !cross.value) {
    // What is out of sight is not on the page, where the browser itself would look.
    event.preventDefault()
    find()
  } else if (mod && event.key.toLowerCase() === 'e') {
    event.preventDefault()
    sentence.value?.focus()
  } else if (mod && event.shiftKey && event.key === 'Enter' && adds.value) {
    event.preventDefault()
    void add(grid.value?.groupHere())
  } else if (event.altKey && !event.shiftKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
    event.preventDefault()
    grid.value?.walk(event.key === 'ArrowDown' ? 1 : -1)
  }
})
</script>

<template>
  <div v-if="!table" class="gone">
    <h1>There is no such table here</h1>
    <p class="quiet">It may have been taken away, or it is not open to you.</p>
  </div>
  <div v-else class="split" :class="{ shaping: shaping !== undefined, beside: besideFolio }">
    <section class="list" :aria-label="table.name">
      <div class="head">
        <div>
          <p class="over"
            >{{ table.name }}<template v-if="view">, {{ view.owner ? 'a view of your own' : 'a team view' }}</template>
            <PresentLine v-if="!besideFolio" :table="tableId"
          /></p>
          <ViewMenu
            :tracker="tracker"
            :table="table"
            :view="view"
            :query="asked"
            :changed="changed"
            :shapes="shown.answer.value?.shapes"
            @saved="drop"
            @drop="drop"
            @save="saveView"
            @trouble="trouble = $event"
          />
        </div>
        <div class="acts">
          <MoreMenu
            :tracker="tracker"
            :table="table"
            :view="view"
            :query="asked"
            :count="shown.answer.value?.row_count ?? 0"
            :standing="standing"
            :adds="adds"
            @find="find()"
          />
          <v-btn
            v-if="currentTracker?.builds && !standing"
            variant="text"
            data-test="to-fields"
            :to="{ name: 'design', params: { tracker, table: tableId } }"
            >Fields</v-btn
          >
          <v-btn v-if="adds" color="primary" data-test="add" @click="add(grid?.groupHere())">Add {{ table.one }}</v-btn>
        </div>
      </div>
      <!-- The rows begin where they will stay, before there is a sentence. -->
      <div class="said">
        <SentenceLine
          v-if="shown.answer.value"
          ref="sentence"
          :phrases="shown.answer.value.sentence"
          @drop="dropPhrase"
          @closed="narrowing = undefined"
        >
          <template #editor="{ at, close }">
            <PhraseEditor
              slips
              :at="at"
              :table="table"
              :query="asked"
              :begins="narrowing"
              :shapes="shown.answer.value?.shapes"
              :ordering="shown.answer.value?.ordering"
              @by-hand="(close(), putInOrder($event))"
              @change="change"
              @close="close"
              @slip="(close(), slipOf($event))"
              @make="makeFor"
            />
          </template>
        </SentenceLine>
      </div>
      <p v-if="view?.withheld" class="quiet" data-test="withheld"
        >This view is also narrowed by something that is not open to you; for you it is not.</p
      >
      <FindBar ref="findBar" :finding="finding" :fields="columns" @leave="grid?.focus()" />
      <EmptyTable
        v-if="adds && shown.answer.value?.total === 0 && !keep.length"
        :table="table"
        :tracker="tracker"
        @add="add()"
        @made="(done) => (edits.remember(tracker, done), shown.refresh())"
      />
      <LanesBoard
        v-else-if="lanes"
        ref="grid"
        :key="`lanes ${tableId}`"
        :tracker="tracker"
        :table="table"
        :view="viewId"
        :fields="columns"
        :window="shown"
        :query="asked"
        :shape="lanes"
        :edit="editCell"
        :left="left"
        :readonly="standing"
        @moved="moved"
        @open="openFolio"
        @remove="remove"
        @add="add"
        @trouble="trouble = $event"
        @why="why"
        @shape="change({ shape: { ...$event, as: 'lanes' } })"
        @options="orderOptions"
        @drop="dropPhrase"
        @gone="keep = [$event]"
      />
      <AlmanacBoard
        v-else-if="calendar"
        ref="grid"
        :key="`calendar ${tableId}`"
        :tracker="tracker"
        :table="table"
        :fields="columns"
        :window="shown"
        :query="asked"
        :shape="calendar"
        :readonly="standing"
        @moved="moved"
        @open="openFolio"
        @begin="attempt(() => put($event))"
        @remove="remove"
        @trouble="trouble = $event"
        @why="why"
      />
      <CardsCatalogue
        v-else-if="cards"
        ref="grid"
        :key="`cards ${tableId}`"
        :tracker="tracker"
        :table="table"
        :fields="columns"
        :window="shown"
        :query="asked"
        :shape="cards"
        :edit="editCell"
        :left="left"
        :readonly="standing"
        @moved="moved"
        @open="openFolio"
        @remove="remove"
        @add="add"
        @trouble="trouble = $event"
        @why="why"
        @drop="dropPhrase"
        @gone="keep = [$event]"
      />
      <CrossTable
        v-else-if="cross"
        ref="grid"
        :key="`cross ${tableId}`"
        :class="{ unread: !shown.answer.value }"
        :tracker="tracker"
        :table="table"
        :fields="columns"
        :window="shown"
        :query="asked"
        :shape="cross"
        @open="openFolio"
        @rows="change({ condition: narrowed(query?.condition, $event), shape: { as: 'rows' } })"
        @drop="dropPhrase"
      />
      <RowsGrid
        v-else
        ref="grid"
        :class="{ unread: !shown.answer.value }"
        :screen="screen"
        :table="table"
        :view="viewId"
        :fields="fields"
        :window="shown"
        :query="asked"
        :edit="editCell"
        :left="left"
        :readonly="standing"
        :beside="besideFolio ? besideOpen : undefined"
        :slip="slip?.field"
        :is-hit="finding.isHit"
        @moved="moved"
        @open="openFolio"
        @history="openHistory"
        @remove="remove"
        @add="add"
        @trouble="trouble = $event"
        @why="why"
        @slip="slip = $event"
        @tallies="change({ tallies: $event })"
        @fields="reorder"
        @keep="keepFields"
        @find="find()"
        @only="change({ condition: narrowed(query?.condition, $event) })"
        @drop="dropPhrase"
        @gone="keep = [$event]"
      />
      <PickedTray
        :tracker="tracker"
        :table="table"
        :view="view"
        :query="asked"
        :window="shown"
        :picked="picked"
        :readonly="standing"
        @done="(shown.refresh(), grid?.focus())"
        @leave="grid?.focus()"
      />
      <SlipPopup
        :at="slip"
        :tracker="tracker"
        :table="tableId"
        :query="asked"
        :readonly="standing"
        @close="slip = undefined"
        @formula="toComputed($event.kind.type === 'summary' ? 'summary' : 'calculation', $event.id, {})"
        @compute="compute"
        @design="shape"
        @order="orderBy"
        @group="groupBy"
        @narrow="narrowBy"
        @only="change({ condition: narrowed(query?.condition, $event) })"
        @find="(field) => find(field.id)"
        @use="toUse"
      />
      <AskFirst
        v-if="adding.asked.value"
        :table="table"
        :tracker="tracker"
        :field="adding.asked.value"
        @say="adding.say"
        @leave="adding.leave"
      />
      <!-- It has a place of its own, so that what is said moves no row. -->
      <div class="foot">
        <p v-if="trouble || shown.trouble.value" class="fault-text" role="alert" data-test="trouble">{{
          trouble || shown.trouble.value
        }}</p>
        <p v-else-if="edits.last.value" class="undo" role="status" data-test="undo-line">
          {{ edits.last.value.words }}
          <button v-if="edits.last.value.undo" @click="attempt(async () => (await edits.undo(), await shown.refresh()))">Undo</button>
        </p>
      </div>
    </section>
    <FieldPanel
      v-if="shaping === 'new' || (shaping !== undefined && design.design.value)"
      :key="`f${shaping}`"
      :wanted="made?.kind"
      :at="{ tracker, table: tableId }"
      :steps="design"
      :field="shaping === 'new' ? undefined : shaping"
      :before="before"
      @close="shaping = undefined"
      @made="shaped"
    />
    <DraftFolio
      v-else-if="drafting.draft.value !== undefined"
      :key="`draft ${drafting.draft.value}`"
      :tracker="tracker"
      :table="table"
      :draft="drafting.draft.value"
      @added="(record, next) => attempt(() => drafting.added(record, next))"
      @gone="drafting.close"
      @close="drafting.close"
    />
    <FolioPanel
      v-else-if="folio !== undefined"
      ref="opened"
      :key="`${tableId}/${folio}`"
      :tracker="tracker"
      :table="table"
      :record="folio"
      :place="shown.placeOf.value.get(folio)"
      :count="shown.answer.value?.row_count"
      :walked="beside.walkedBy.value"
      :was="beside.was.value"
      @walk="walk"
      @close="closeFolio"
      @changed="shown.refresh"
    />
  </div>
</template>

<style scoped>
.gone {
  max-width: 520px;
  margin: 80px auto;
  padding: 0 var(--gap-5);
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  height: calc(100dvh - var(--band));
}
.split.shaping {
  grid-template-columns: minmax(0, 1fr) minmax(380px, 36%);
}
.split.beside {
  grid-template-columns: minmax(240px, 300px) minmax(0, 1fr);
}
.list {
  overflow-y: auto;
  display: flex;
  flex-direction: column;
  gap: var(--gap-2);
  min-width: 0;
  min-height: 0;
  padding: var(--gap-3) var(--gap-5) var(--gap-3);
}
.head {
  display: flex;
  align-items: flex-end;
  gap: var(--gap-4);
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
.acts {
  margin-left: auto;
  padding-bottom: 4px;
}
.said {
  min-height: 28px;
}
.foot {
  position: relative;
  flex: none;
  height: 22px;
}
.foot p {
  position: absolute;
  inset: auto 0 0;
  z-index: 4;
  background: var(--stone);
}
.undo {
  margin: 0;
  font-size: 13px;
  color: var(--quiet);
}
.undo button {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  text-decoration: underline;
}
/* The list stands beside its open record: its line runs on into the folio, all else ends at a rule. */
.beside .list {
  padding: 0;
  gap: 0;
}
.beside .list > :not(.frame) {
  padding-inline: var(--gap-5) var(--gap-3);
  border-right: 1px solid var(--line-strong);
}
.beside .list > .said {
  padding-bottom: var(--gap-2);
}
.beside .said :deep(.sentence) {
  font-size: 15px;
}
.beside .said :deep(.offer),
.beside .acts > :not([data-test='add']) {
  display: none;
}
.beside .head {
  flex-direction: column;
  align-items: flex-start;
  gap: 0;
  padding-top: var(--gap-3);
}
.beside .acts {
  margin: 0;
  padding: 4px 0;
}
.beside .acts :deep(.v-btn) {
  height: 28px;
}
.beside .foot {
  height: 26px;
}
@media (max-width: 800px) {
  /* Above them a sentence of some lines is still to come. */
  .unread {
    visibility: hidden;
  }
  .list {
    padding: var(--gap-3);
  }
  .head {
    flex-wrap: wrap;
    gap: 0 var(--gap-4);
  }
  .head > div:first-child {
    flex: 1 1 auto;
  }
  /* Who comes and goes takes no room of its own: what one is about to press stays where it is. */
  .over {
    width: 0;
    min-width: 100%;
    overflow: hidden;
    white-space: nowrap;
    text-overflow: ellipsis;
  }
  .split:is(.shaping, .beside) {
    grid-template-columns: minmax(0, 1fr);
  }
  .split:is(.shaping, .beside) .list {
    display: none;
  }
}
</style>
<style>
/* What is on the screen, on paper: the view alone. */
@media print {
  .band,
  .skip,
  .list .acts,
  .list .foot,
  .list .offer {
    display: none !important;
  }
  .split,
  .list {
    display: block !important;
    height: auto !important;
    overflow: visible !important;
  }
}
</style>
