<script setup lang="ts">
// A dashboard: a page of a report. Wires only: how tiles lie and begin is board.ts, what each draws is TileBody.vue.
import { useElementSize, useFullscreen, useIntervalFn, useMediaQuery, useSessionStorage } from '@vueuse/core'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { VueDraggable } from 'vue-draggable-plus'
import { api, saying, told } from '@/api/client'
import type { BoardCondition, CrossBehind as Behind, Dashboard, Tile, TileReply } from '@/api/types'
import { useAsked } from '@/app/asking'
import LastDone from '@/app/LastDone.vue'
import { useTeamSteps } from '@/features/people/steps'
import CrossBehind from '@/features/view/crosstab/CrossBehind.vue'
import BoardOnly from './BoardOnly.vue'
import BoardSettings from './BoardSettings.vue'
import BoardTile from './BoardTile.vue'
import { bodyOf, moved, nextKey, put, spanOf } from './board'
import NewTile from './NewTile.vue'
import TileEditor from './TileEditor.vue'

/** How often it is asked whether something changed, in milliseconds: it looks into several trackers. */
const AGAIN = 2_500

const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.dashboard))
/** What one narrows the page to oneself: until it is closed, and only here. */
const narrowings = useSessionStorage<Record<number, BoardCondition[]>>('dashboards-narrowed', {})
const narrowed = computed(() => narrowings.value[id.value] ?? [])
const asked = useAsked(
  () => ['dashboard', id.value],
  () => {
    const params = { path: { dashboard: id.value } }
    if (!narrowed.value.length) return told(api.GET('/api/dashboards/{dashboard}', { params }))
    return told(api.POST('/api/dashboards/{dashboard}/narrowed', { params, body: { narrowed: narrowed.value } }))
  },
)
// What stands there stays until the other is told.
watch(narrowed, () => void asked.again())
const only = ref<InstanceType<typeof BoardOnly>>()
const view = asked.told
const steps = useTeamSteps(() => asked.again())
const board = computed(() => view.value?.dashboard)
const changes = computed(() => !!view.value?.changes)

// What it shows moves while one looks at it; what one has open stays.
useIntervalFn(async () => {
  if (!view.value || document.hidden) return
  const path = { dashboard: id.value }
  const now = await told(api.GET('/api/dashboards/{dashboard}/seen', { params: { path } })).catch(() => undefined)
  if (now !== undefined && now !== view.value?.seen) await asked.again()
}, AGAIN)

const page = ref<HTMLElement>()
// Before it is measured it is taken to be as wide as the window, so that nothing lies elsewhere a moment later.
const { width } = useElementSize(page, { width: window.innerWidth - 40, height: 0 })
/** As many columns as there is room for. */
const columns = computed(() => Math.max(1, Math.min(board.value?.columns ?? 2, Math.floor((width.value + 24) / 330))))
const { toggle: fullScreen, isSupported, isFullscreen } = useFullscreen(page)
const phone = useMediaQuery('(max-width: 700px)')

/** The tile that is changed, and what it tells by now. */
const edited = ref<Tile>()
const preview = shallowRef<TileReply>()
const isNew = ref(false)
const choosing = ref(false)
const setting = ref(false)
const list = ref<Tile[]>([])
watch([board, edited], () => (list.value = edited.value ? put(board.value?.tiles ?? [], edited.value) : [...(board.value?.tiles ?? [])]), { immediate: true }) // prettier-ignore
const toldOf = (tile: Tile): TileReply | undefined =>
  (tile.key === edited.value?.key ? preview.value : undefined) ?? view.value?.tiles.find((one) => one.key === tile.key)

watch(edited, async (tile) => {
  if (!tile) return (preview.value = undefined)
  try {
    const now = await told(api.POST('/api/dashboards/look', { body: { tile, only: [...(board.value?.only ?? []), ...narrowed.value] } }))
    if (edited.value === tile) preview.value = now
  } catch (error) {
    steps.trouble.value = saying(error)
  }
})

async function keep(next: Partial<Dashboard>) {
  const now = board.value
  if (!now) return false
  const path = { dashboard: now.id }
  const body = bodyOf({ ...now, ...next })
  const done = await steps.attempt(() => told(api.PUT('/api/dashboards/{dashboard}', { params: { path }, body })))
  if (done) await steps.done(done)
  return !!done
}
const tiles = (next: Tile[]) => keep({ tiles: next })
function begin(tile: Tile, fresh: boolean) {
  steps.close()
  choosing.value = false
  behind.value = undefined
  isNew.value = fresh
  edited.value = JSON.parse(JSON.stringify(tile)) as Tile
  // A dashboard that is narrower by its editor lies otherwise.
  void nextTick(() => page.value?.querySelector('.cell.open')?.scrollIntoView({ block: 'nearest' }))
}
async function keepTile() {
  if (edited.value && (await tiles(put(board.value?.tiles ?? [], edited.value)))) edited.value = undefined
}
async function remove() {
  const path = { dashboard: id.value }
  const done = await steps.attempt(() => told(api.DELETE('/api/dashboards/{dashboard}', { params: { path } })))
  if (done) await router.push({ name: 'home' })
}

/** The records behind a figure. */
const behind = shallowRef<{ told: Behind; tile: Tile }>()
async function look(tile: Tile, row: number, column: number) {
  const { crossed, query } = toldOf(tile) ?? {}
  if (tile.shows.as !== 'view' || !crossed || !query) return
  const { tracker, table } = tile.shows
  const body = { query, down: crossed.rows[row]?.values ?? [], across: crossed.columns[column]?.values ?? [] }
  const found = await steps.attempt(() =>
    told(api.POST('/api/trackers/{tracker}/tables/{table}/cross-tab/cell', { params: { path: { tracker, table } }, body })),
  )
  if (!found?.behind) return
  behind.value = { told: { ...found.behind, only: null }, tile }
  // A page that is narrower lies otherwise: what was pressed stays in sight.
  void nextTick(() => {
    page.value?.querySelector(`[data-tile="${tile.key}"]`)?.scrollIntoView({ block: 'nearest' })
    document.querySelector<HTMLElement>('[data-test=close-behind]')?.focus({ preventScroll: true })
  })
}
function openRecord(record: number) {
  const shows = behind.value?.tile.shows
  if (shows?.as === 'view') void router.push({ name: 'record', params: { tracker: shows.tracker, table: shows.table, record } })
}
/** Back to where one was, on its tile. */
function leave() {
  const key = behind.value?.tile.key ?? edited.value?.key
  behind.value = undefined
  edited.value = undefined
  steps.close()
  void nextTick(() => page.value?.querySelector<HTMLElement>(`[data-tile="${key}"] [data-test=tile-menu]`)?.focus())
}
const print = () => window.print()
</script>

<template>
  <div v-if="asked.trouble.value && !view" class="gone">
    <h1>There is no such dashboard here</h1>
    <p class="quiet">It may have been taken away, or it is not open to you.</p>
  </div>
  <div v-else-if="view && board" class="split" :class="{ editing: edited, behind }">
    <section ref="page" class="board" :aria-label="board.name">
      <p class="over">Dashboard. {{ view.open_says }}.</p>
      <div class="head">
        <h1
          ><button v-if="changes" type="button" class="name" data-test="board-settings" @click="setting = true"
            >{{ board.name }} <span class="quiet">▾</span></button
          ><template v-else>{{ board.name }}</template></h1
        >
        <div class="acts">
          <v-btn variant="text" data-test="board-print" @click="print">Print</v-btn>
          <v-btn v-if="isSupported && !phone" variant="text" data-test="board-full" @click="fullScreen">{{
            isFullscreen ? 'Leave full screen' : 'Full screen'
          }}</v-btn>
          <v-btn v-if="changes" color="primary" data-test="add-tile" @click="choosing = true">Add to the page</v-btn>
        </div>
      </div>
      <p v-if="board.about" class="about">{{ board.about }}</p>
      <BoardOnly
        ref="only"
        :view="view"
        :narrowed="narrowed"
        :changes="changes"
        :busy="steps.busy.value"
        :trouble="steps.trouble.value"
        @keep="keep({ only: $event }).then((done) => done && only?.close())"
        @narrow="narrowings = { ...narrowings, [id]: $event }"
      />
      <p v-if="!list.length" class="quiet empty"
        >Nothing stands here yet. <template v-if="changes">Add figures, a cross-tab, a line over time, a list or words.</template></p
      >
      <VueDraggable
        v-model="list"
        class="tiles"
        :class="{ sole: columns === 1 }"
        :style="{ '--columns': columns }"
        handle="h2"
        filter="button"
        :prevent-on-filter="false"
        :disabled="!changes || !!edited || phone"
        :animation="0"
        @end="tiles(list)"
      >
        <div
          v-for="(tile, n) in list"
          :key="tile.key"
          class="cell"
          :class="{ open: tile.key === edited?.key }"
          :style="{ gridColumn: `span ${spanOf(tile, columns)}` }"
        >
          <BoardTile
            v-if="toldOf(tile)"
            :tile="tile"
            :told="toldOf(tile)!"
            :columns="board.columns"
            :changes="changes && !edited"
            :first="n === 0"
            :last="n === list.length - 1"
            @edit="begin(tile, false)"
            @move="tiles(moved(board.tiles ?? [], tile.key, $event))"
            @width="tiles(put(board.tiles ?? [], { ...tile, width: $event }))"
            @copy="begin({ ...tile, key: nextKey(board.tiles ?? []) }, true)"
            @drop="tiles((board.tiles ?? []).filter((one) => one.key !== tile.key))"
            @cell="(row, column) => look(tile, row, column)"
          />
        </div>
      </VueDraggable>
      <LastDone
        :words="steps.words.value"
        :undo="steps.canUndo.value"
        :trouble="edited || setting ? '' : steps.trouble.value"
        @undo="steps.undo"
        @close="steps.close"
      />
    </section>
    <TileEditor
      v-if="edited"
      :key="edited.key"
      :tile="edited"
      :columns="board.columns"
      :busy="steps.busy.value"
      :trouble="steps.trouble.value"
      :is-new="isNew"
      @change="edited = $event"
      @keep="keepTile"
      @leave="leave"
    />
    <div v-else-if="behind" class="aside">
      <CrossBehind
        :behind="behind.told"
        :fields="behind.told.fields.map((id) => ({ id }))"
        :standing="behind.told.fields[0] ?? 0"
        :hues="new Map()"
        one="record"
        @open="openRecord"
        @close="leave"
      />
    </div>
    <v-dialog v-model="choosing" max-width="620" aria-label="Add to the page">
      <NewTile :key-of="nextKey(board.tiles ?? [])" @made="begin($event, true)" @leave="choosing = false" />
    </v-dialog>
    <v-dialog v-model="setting" max-width="560" aria-label="What holds of this dashboard">
      <BoardSettings
        :board="board"
        :busy="steps.busy.value"
        :trouble="steps.trouble.value"
        @keep="keep($event).then((done) => done && (setting = false))"
        @remove="remove"
        @leave="setting = false"
      />
    </v-dialog>
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
.split.editing {
  grid-template-columns: minmax(0, 1fr) minmax(340px, 400px);
}
.split.behind {
  grid-template-columns: minmax(0, 1fr) minmax(260px, 320px);
}
.board {
  overflow-y: auto;
  padding: var(--gap-3) var(--gap-5) var(--gap-5);
  background: var(--stone);
}
.over,
.about {
  margin: 0;
  font-size: 13px;
  color: var(--quiet);
}
.head {
  display: flex;
  align-items: flex-end;
  gap: var(--gap-4);
  border-bottom: 2px solid var(--ink);
  padding-bottom: var(--gap-2);
}
h1 {
  margin: 0;
  font: 600 28px/1.25 var(--serif);
}
.name {
  border: 0;
  padding: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.name .quiet {
  font-size: 16px;
}
.acts {
  display: flex;
  margin-left: auto;
}
.empty {
  padding: var(--gap-5) 0;
}
.tiles {
  display: grid;
  grid-template-columns: repeat(var(--columns), minmax(0, 1fr));
  column-gap: calc(2 * var(--gap-5));
  overflow-x: clip;
}
.cell {
  position: relative;
  border-bottom: 1px solid var(--line-strong);
}
/* Hairlines between columns, none at the page’s edge. */
.cell::before {
  content: '';
  position: absolute;
  left: calc(-1 * var(--gap-5));
  inset-block: 0;
  border-left: 1px solid var(--line);
}
.cell.open {
  background: var(--sheet);
  outline: 1px solid var(--copper);
}
.aside {
  padding: var(--gap-3) var(--gap-3) 0 0;
  overflow-y: auto;
}
@media (max-width: 800px) {
  .split:is(.editing, .behind) {
    grid-template-columns: minmax(0, 1fr);
  }
  .split.editing .board,
  .split.behind .board {
    display: none;
  }
  .aside {
    padding: var(--gap-3);
  }
  .board {
    padding: var(--gap-3);
  }
  .head {
    flex-wrap: wrap;
  }
}
@media print {
  .acts,
  .aside,
  .tile-editor {
    display: none;
  }
  .split,
  .board {
    display: block;
    height: auto;
    overflow: visible;
  }
}
</style>
