<script setup lang="ts">
// What a view shows, as a file, said in one sentence; of a calendar also the address at which others look by themselves.
import { computed, ref } from 'vue'
import type { Query, Table, View } from '@/api/types'
import PickOne from '@/features/menu/PickOne.vue'
import CalendarAddress from './CalendarAddress.vue'
import { type ExportFormat, type ExportSeparator, SEPARATORS, formatsOf, isWorkbook, keeps, useExporting } from './exporting'

const props = defineProps<{
  tracker: number
  table: Table
  view: View | undefined
  /** As it stands on the screen. */
  query: Query
  /** How many records it shows. */
  count: number
  /** These alone. */
  records?: number[]
  standing: boolean
}>()
const emit = defineEmits<{ close: [] }>()
const exporting = useExporting()
const formats = computed(() => formatsOf(props.query))
const format = ref<ExportFormat>(formats.value[0]!.value)
const separator = ref<ExportSeparator>('comma')
const marked = ref(true)
const looks = ref(true)
const pictures = ref(false)
const crossed = computed(() => props.query.shape?.as === 'cross-tab')
const workbook = computed(() => isWorkbook(format.value) && !crossed.value)
const hasPictures = computed(() =>
  props.query.fields.some((shown) => props.table.fields.find((field) => field.id === shown.field)?.shows.type === 'files'),
)
const fields = computed(() => props.query.fields.length)
const share = computed(() => {
  const far = exporting.far.value
  return far?.of ? (100 * far.done) / far.of : undefined
})

async function make() {
  const body = {
    query: props.query,
    view: props.view?.id ?? null,
    records: props.records ?? null,
    name: props.view?.name ?? props.table.name,
    format: format.value,
    separator: separator.value,
    unmarked: !marked.value,
    plain: !looks.value,
    pictures: pictures.value,
  }
  if (await exporting.get(props.tracker, props.table.id, body)) emit('close')
}
function leave() {
  exporting.stop()
  emit('close')
}
</script>

<template>
  <div class="said-sheet" data-test="export-sheet">
    <p class="says"
      >{{ crossed ? 'This cross-tab' : `${count.toLocaleString()} ${count === 1 ? table.one : table.many}`
      }}{{ crossed ? '' : ` with ${fields} ${fields === 1 ? 'field' : 'fields'}, as they stand here,` }} as
      <span class="one"><PickOne v-model="format" said :items="formats" aria-label="As which file" data-test="export-as" />.</span></p
    >
    <p class="quiet" data-test="export-keeps">{{ keeps(format, query) }}</p>
    <p v-if="format === 'csv'"
      >Its cells are told apart by
      <PickOne v-model="separator" said :items="SEPARATORS" aria-label="What stands between two cells" data-test="export-separator" />.</p
    >
    <v-checkbox
      v-if="format === 'csv'"
      v-model="marked"
      label="With the mark by which spreadsheets know its letters (BOM)"
      data-test="export-mark"
    />
    <v-checkbox v-if="workbook" v-model="looks" label="With the highlights of this table" data-test="export-looks" />
    <v-checkbox
      v-if="workbook && hasPictures"
      v-model="pictures"
      label="With the first picture of each record"
      data-test="export-pictures"
    />
    <template v-if="exporting.busy.value">
      <p role="status" class="quiet" data-test="being-written"
        >Being written …
        {{ exporting.far.value?.of ? `${exporting.far.value.done.toLocaleString()} of ${exporting.far.value.of.toLocaleString()}` : '' }}</p
      >
      <v-progress-linear
        :model-value="share ?? 0"
        :indeterminate="share === undefined"
        color="primary"
        aria-label="How far the file has come"
      />
    </template>
    <p v-if="exporting.trouble.value" class="fault-text" role="alert">{{ exporting.trouble.value }}</p>
    <div class="acts">
      <v-btn v-if="exporting.busy.value" variant="text" data-test="stop-export" @click="exporting.stop">Stop it</v-btn>
      <v-btn v-else variant="text" @click="leave">Leave it</v-btn>
      <v-btn color="primary" :disabled="exporting.busy.value" data-test="make-export" @click="make">Make the file</v-btn>
    </div>
    <CalendarAddress v-if="query.shape?.as === 'calendar' && view && !standing" :tracker="tracker" :view="view" />
  </div>
</template>

<style scoped src="../menu/said-sheet.css"></style>
<style scoped>
.one {
  white-space: nowrap;
}
</style>
