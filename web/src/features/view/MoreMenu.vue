<script setup lang="ts">
// What can be done with what a view shows, beside looking at it: as a file, on paper, looked through.
import { computed, ref } from 'vue'
import type { Query, Table, View } from '@/api/types'
import { useDocuments } from '@/features/document/documents'
import PrintDialog from '@/features/document/PrintDialog.vue'
import ExportSheet from '@/features/export/ExportSheet.vue'

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
const emit = defineEmits<{ find: [] }>()
const shape = computed(() => props.query.shape?.as ?? 'rows')
const listed = computed(() => shape.value === 'rows' || shape.value === 'cards')
const params = computed(() => ({ tracker: props.tracker, table: props.table.id }))

const exporting = ref(false)
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
      <button data-test="export" @click="exporting = true">Export …</button>
      <router-link v-if="view && listed" data-test="to-paper" :to="{ name: 'print', params: { ...params, view: view.id } }"
        >Print</router-link
      >
      <button v-if="shape === 'cross-tab'" data-test="print-cross" @click="printHere">Print</button>
      <button v-if="shape !== 'cross-tab'" data-test="print-as-document" @click="printing = true">{{
        documents.length ? 'Print as a document …' : `Print each ${table.one} …`
      }}</button>
      <button v-if="listed || shape === 'lanes'" data-test="find-here" @click="emit('find')">Find here <kbd>Ctrl F</kbd></button>
      <router-link v-if="!standing" data-test="to-doubles" :to="{ name: 'doubles', params }">Find what is there twice</router-link>
      <router-link v-if="adds" :to="{ name: 'import', params: { tracker }, query: { into: table.id } }"
        >Add records from a file</router-link
      >
    </div>
  </v-menu>
  <v-dialog v-model="exporting" max-width="520" :aria-label="`Export ${table.many}`">
    <ExportSheet
      v-if="exporting"
      :tracker="tracker"
      :table="table"
      :view="view"
      :query="query"
      :count="count"
      :standing="standing"
      @close="exporting = false"
    />
  </v-dialog>
  <PrintDialog v-model="printing" :tracker="tracker" :table="table" :documents="documents" :what="what" :count="count" />
</template>
