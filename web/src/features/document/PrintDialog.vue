<script setup lang="ts">
// Where it is said how records are printed.
import type { DocumentLine, PrintBody, Table } from '@/api/types'
import PrintSheet from './PrintSheet.vue'

defineProps<{
  tracker: number
  table: Table
  documents: DocumentLine[]
  what: Pick<PrintBody, 'records' | 'query' | 'view'>
  count: number
}>()
const open = defineModel<boolean>({ required: true })
</script>

<template>
  <v-dialog v-model="open" max-width="520" :aria-label="`Print ${table.many}`">
    <PrintSheet v-if="open" :tracker="tracker" :table="table" :documents="documents" :what="what" :count="count" @close="open = false" />
  </v-dialog>
</template>
