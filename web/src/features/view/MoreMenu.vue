<script setup lang="ts">
// What can be done with what a view shows, beside looking at it: as a file, on paper, looked through.
import { computed, ref } from 'vue'
import { download } from '@/api/client'
import type { Query, Table, View } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useDocuments } from '@/features/document/documents'
import PrintDialog from '@/features/document/PrintDialog.vue'

const props = defineProps<{
  tracker: number
  table: Table
  view: View | undefined
  /** As it stands on the screen. */
  query: Query
  /** How many records it shows. */
  count: number
  standing: boolean
  adds: boolean
}>()
const emit = defineEmits<{ find: []; trouble: [trouble: string] }>()
const doing = useDoing()
const FORMATS = ['csv', 'xlsx', 'ods', 'json'] as const
const shape = computed(() => props.query.shape?.as ?? 'rows')
const listed = computed(() => shape.value === 'rows' || shape.value === 'cards')
const params = computed(() => ({ tracker: props.tracker, table: props.table.id }))

/** What the view shows, as a file. */
async function exported(format: (typeof FORMATS)[number]) {
  const name = props.view?.name ?? props.table.name
  const body = { query: props.query, view: props.view?.id ?? null, name, format }
  const done = await doing.attempt(async () => {
    await download(`/api/trackers/${props.tracker}/tables/${props.table.id}/export`, body, `${name}.${format}`)
    return true
  })
  if (!done) emit('trouble', doing.trouble.value)
}
const { documents } = useDocuments(
  () => props.tracker,
  () => props.table.id,
)
const printing = ref(false)
const what = computed(() => ({ records: [], query: { ...props.query, shape: { as: 'rows' as const } }, view: props.view?.id ?? null }))
const printHere = () => window.print()
</script>

<template>
  <v-menu location="bottom end">
    <template #activator="{ props: menu }"><v-btn v-bind="menu" variant="text" data-test="more">More ▾</v-btn></template>
    <div class="popup">
      <button v-for="format in FORMATS" :key="format" :data-export="format" @click="exported(format)"
        >Export as {{ format.toUpperCase() }}</button
      >
      <router-link v-if="view && listed" data-test="to-paper" :to="{ name: 'print', params: { ...params, view: view.id } }"
        >Print</router-link
      >
      <button v-if="shape === 'cross-tab'" data-test="print-cross" @click="printHere">Print</button>
      <button v-if="documents.length && shape !== 'cross-tab'" data-test="print-as-document" @click="printing = true"
        >Print as a document …</button
      >
      <button v-if="listed || shape === 'lanes'" data-test="find-here" @click="emit('find')">Find here <kbd>Ctrl F</kbd></button>
      <router-link v-if="!standing" data-test="to-doubles" :to="{ name: 'doubles', params }">Find what is there twice</router-link>
      <router-link v-if="adds" :to="{ name: 'import', params: { tracker }, query: { into: table.id } }"
        >Add records from a file</router-link
      >
    </div>
  </v-menu>
  <PrintDialog v-model="printing" :tracker="tracker" :table="table" :documents="documents" :what="what" :count="count" />
</template>
