<script setup lang="ts">
// Printing records: as which document, all in one file or each by itself, or kept with them; what is being set can be stopped.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { DocumentLine, PrintBody, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import PickOne from '@/features/menu/PickOne.vue'
import { usePrinting } from './printing'

const props = defineProps<{
  tracker: number
  table: Table
  documents: DocumentLine[]
  /** What is printed: these records, or what a view shows. */
  what: Pick<PrintBody, 'records' | 'query' | 'view'>
  /** How many records that is. */
  count: number
}>()
const emit = defineEmits<{ close: [] }>()
const edits = useEdits()
const printing = usePrinting()
const doing = useDoing()
/** Which document; none: as records are laid out where one opens them. */
const chosen = ref<number | null>(props.documents[0]?.id ?? null)
const document = computed(() => props.documents.find((one) => one.id === chosen.value))
const sheets = computed(() => (document.value?.of === 'all' ? 1 : props.count))
const items = computed(() => [
  ...props.documents.map((one) => ({ value: one.id, title: one.title })),
  { value: null, title: props.count === 1 ? 'it is laid out' : 'they are laid out' },
])
const sole = computed(() => props.what.records?.length === 1)

async function print(each: boolean) {
  const of = document.value
  const body = { records: [], query: null, view: null, ...props.what, each }
  const as = of ? { document: of.id } : { table: props.table.id }
  const what = { tracker: props.tracker, as, title: of?.title ?? props.table.name, count: sheets.value }
  if (await printing.print(what, body)) emit('close')
}
async function keep() {
  const of = document.value
  const records = props.what.records ?? []
  if (!of || !records.length) return
  const path = { tracker: props.tracker, document: of.id }
  const done = await doing.attempt(() =>
    told(api.POST('/api/trackers/{tracker}/documents/{document}/keep', { params: { path }, body: { records } })),
  )
  if (!done) return
  done.forEach((one) => edits.remember(props.tracker, one))
  emit('close')
}
</script>

<template>
  <div class="said-sheet" data-test="print-sheet">
    <p class="says"
      >Print {{ count }} {{ count === 1 ? table.one : table.many }} as
      <PickOne v-model="chosen" said :items="items" aria-label="As which document" data-test="print-as" />{{
        document?.of === 'all' ? ', on one sheet together' : ''
      }}.</p
    >
    <p v-if="printing.now.value" role="status" class="quiet" data-test="being-set"
      >{{ sheets === 1 ? 'The sheet is' : `${sheets} sheets are` }} being set …</p
    >
    <v-progress-linear v-if="printing.now.value" indeterminate color="primary" aria-label="Being set" />
    <p v-if="printing.trouble.value || doing.trouble.value" class="fault-text" role="alert">{{
      printing.trouble.value || doing.trouble.value
    }}</p>
    <div class="acts">
      <v-btn v-if="printing.now.value" variant="text" data-test="stop-printing" @click="printing.stop">Stop it</v-btn>
      <v-btn v-else variant="text" @click="emit('close')">Leave it</v-btn>
      <v-btn
        v-if="document?.keeps && what.records?.length"
        variant="text"
        :disabled="!!printing.now.value || doing.busy.value"
        data-test="keep-sheets"
        @click="keep"
        >{{ sole ? 'Keep it with the record' : 'Keep each with its record' }}</v-btn
      >
      <v-btn v-if="sheets > 1" variant="outlined" :disabled="!!printing.now.value" data-test="print-each" @click="print(true)"
        >Each by itself</v-btn
      >
      <v-btn color="primary" :disabled="!!printing.now.value" data-test="print-pdf" @click="print(false)">PDF</v-btn>
    </div>
  </div>
</template>

<style scoped src="../menu/said-sheet.css"></style>
