<script setup lang="ts">
// Raised from the foot while records are chosen: how many, also of those out of sight, and what can be done with them.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { ByHand, Query, Table, View } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import AgainPanel from '@/features/bulk/AgainPanel.vue'
import BinPanel from '@/features/bulk/BinPanel.vue'
import BulkPanel from '@/features/bulk/BulkPanel.vue'
import MergePanel from '@/features/bulk/MergePanel.vue'
import RunPanel from '@/features/bulk/RunPanel.vue'
import { useDocuments } from '@/features/document/documents'
import PrintDialog from '@/features/document/PrintDialog.vue'
import ExportSheet from '@/features/export/ExportSheet.vue'
import { figure } from '@/theme/own'
import type { Picked } from './picked'
import type { Shown } from './window'

const props = defineProps<{
  tracker: number
  table: Table
  /** The view in whose order by hand they stand. */
  view: View | undefined
  query: Query
  window: Shown
  picked: Picked
  readonly: boolean
}>()
const emit = defineEmits<{ done: []; leave: [] }>()

/** Most that are taken up at once. */
const MOST = 10_000
const doing = useDoing()
const open = ref<'change' | 'again' | 'merge' | 'bin' | ByHand>()
const list = computed(() => props.picked.list.value)
const count = computed(() => list.value.length)
const matching = computed(() => props.window.answer.value?.matching ?? 0)
const what = (many: number) => `${figure(many)} ${many === 1 ? props.table.one : props.table.many}`
const path = computed(() => ({ tracker: props.tracker, table: props.table.id }))

/** What can be run on them by hand. */
const runnable = useAsked(
  () => ['by hand', props.tracker, props.table.id],
  () => told(api.GET('/api/trackers/{tracker}/tables/{table}/automations', { params: { path: path.value } })),
)

/** As what they can be printed. */
const { documents } = useDocuments(
  () => props.tracker,
  () => props.table.id,
)
const printing = ref(false)
const exporting = ref(false)
/** Whether anything in any record may be changed by whoever looks. */
const changes = computed(() => props.table.fields.some((field) => field.writes))
const asRows = computed<Query>(() => ({ ...props.query, shape: { as: 'rows' } }))

const copied = ref(false)
watch(list, () => (copied.value = false))
/** As lines that a spreadsheet takes in. */
const copy = () =>
  doing.attempt(async () => {
    const body = {
      query: { ...asRows.value, groups: [] },
      view: props.view?.id ?? null,
      records: list.value,
      name: '',
      format: 'csv' as const,
      separator: 'tab' as const,
      unmarked: true,
      plain: true,
      pictures: false,
    }
    const way = '/api/trackers/{tracker}/tables/{table}/export'
    const lines: unknown = await told(api.POST(way, { params: { path: path.value }, body, parseAs: 'text' }))
    await navigator.clipboard.writeText(String(lines))
    copied.value = true
  })

/** How many of them the view leaves out. */
const outside = ref(0)
let round = 0
watch(
  [list, () => JSON.stringify(props.query), () => props.window.answer.value?.matching],
  async () => {
    const mine = ++round
    if (!count.value) return
    const body = { query: props.query, slices: [], keep: list.value }
    const asked = told(api.POST('/api/trackers/{tracker}/tables/{table}/query', { params: { path: path.value }, body }))
    const found = await asked.catch(() => undefined)
    if (found && mine === round) outside.value = Math.max(0, found.row_count - found.matching)
  },
  { immediate: true },
)
watch(count, (now) => !now && (open.value = undefined))

/** All that the view shows, as many as are taken up at once. */
const all = () =>
  doing.attempt(async () => {
    const rows = await props.window.read(0, Math.min(MOST, props.window.answer.value?.row_count ?? 0))
    props.picked.take(rows.map((row) => row.id))
  })

function done() {
  open.value = undefined
  props.picked.clear()
  emit('done')
}
</script>

<template>
  <template v-if="count">
    <BulkPanel
      v-if="open === 'change'"
      :tracker="tracker"
      :table="table"
      :records="list"
      :query="query"
      :matching="matching"
      @done="done"
      @leave="open = undefined"
    />
    <AgainPanel v-else-if="open === 'again'" :tracker="tracker" :table="table" :records="list" @done="done" @leave="open = undefined" />
    <MergePanel
      v-else-if="open === 'merge' && count === 2"
      :tracker="tracker"
      :table="table"
      :records="list"
      @done="done"
      @leave="open = undefined"
    />
    <RunPanel
      v-else-if="typeof open === 'object'"
      :tracker="tracker"
      :table="table"
      :records="list"
      :automation="open"
      @done="done"
      @leave="open = undefined"
    />
    <BinPanel v-else-if="open === 'bin'" :tracker="tracker" :table="table" :records="list" @done="done" @leave="open = undefined" />
    <div v-else class="tray" role="region" aria-label="Chosen records" data-test="picked-tray">
      <p aria-live="polite"
        ><b>{{ what(count) }} chosen</b><template v-if="outside">, {{ figure(outside) }} of them not in this view</template></p
      >
      <p v-if="doing.trouble.value" class="fault-text" role="alert">{{ doing.trouble.value }}</p>
      <button v-if="matching > count" type="button" class="link" data-test="picked-all" :disabled="doing.busy.value" @click="all"
        >all {{ figure(matching) }} of this view</button
      >
      <button type="button" class="link" data-test="picked-print" @click="printing = true">print …</button>
      <button type="button" class="link" data-test="picked-export" @click="exporting = true">export …</button>
      <button type="button" class="link" data-test="picked-copy" :disabled="doing.busy.value" @click="copy">{{
        copied ? 'copied' : 'copy'
      }}</button>
      <template v-if="!readonly">
        <button v-if="changes" type="button" class="link" data-test="picked-change" @click="open = 'change'">change …</button>
        <button v-if="table.adds" type="button" class="link" data-test="picked-again" @click="open = 'again'">make again …</button>
        <button v-if="count === 2 && changes && table.removes" type="button" class="link" data-test="picked-merge" @click="open = 'merge'"
          >make them one …</button
        >
        <button v-for="one in runnable.told.value ?? []" :key="one.id" type="button" class="link" data-test="picked-run" @click="open = one"
          >{{ one.name }} …</button
        >
        <button v-if="table.removes" type="button" class="link" data-test="picked-bin" @click="open = 'bin'">into the bin …</button>
      </template>
      <button type="button" class="link" data-test="picked-clear" @click="(picked.clear(), emit('leave'))">let go</button>
    </div>
    <v-dialog v-model="exporting" max-width="520" :aria-label="`Export ${table.many}`">
      <ExportSheet
        v-if="exporting"
        :tracker="tracker"
        :table="table"
        :view="view"
        :query="asRows"
        :count="count"
        :records="list"
        standing
        @close="exporting = false"
      />
    </v-dialog>
    <PrintDialog v-model="printing" :tracker="tracker" :table="table" :documents="documents" :what="{ records: list }" :count="count" />
  </template>
</template>

<style scoped>
.tray {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
  align-items: baseline;
  padding: 7px 10px;
  background: var(--moss-soft);
  border-top: 1px solid var(--moss);
  font-size: 13px;
}
p {
  margin: 0 auto 0 0;
}
@media (pointer: coarse) {
  .link {
    min-height: 40px;
  }
}
</style>
