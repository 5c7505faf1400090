<script setup lang="ts">
// What a pressed phrase of a block edits, by its place in the block.
import { computed } from 'vue'
import type { BlockShows, Field, SheetBlock, Table } from '@/api/types'
import RuleEditor from '@/features/condition/RuleEditor.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { useTracker } from '@/features/tracker/tracker'
import FieldsEditor from '@/features/view/FieldsEditor.vue'
import { linksOf, toOf } from './document'
import FactsEditor from './FactsEditor.vue'
import PathPick from './PathPick.vue'
import SetEditor from './SetEditor.vue'
import TotalsEditor from './TotalsEditor.vue'
import WordsEditor from './WordsEditor.vue'

const props = defineProps<{
  table: Table
  block: SheetBlock
  /** Its place in the block: */
  at: string
  /** Values of a record can be put in. */
  each: boolean
  fault?: string
}>()
const emit = defineEmits<{ change: [block: SheetBlock]; close: [] }>()
const { tracker } = useTracker()

const shows = computed(() => props.block.shows)
const put = (part: Partial<SheetBlock>) => emit('change', { ...props.block, ...part })
const set = (part: object) => put({ shows: { ...shows.value, ...part } as BlockShows })
const part = computed(() => props.at.split('/')[2] ?? '')
/** The table of which lines are. */
const lined = computed(() => {
  const of = shows.value
  if (of.as !== 'lines') return props.table
  const link = props.table.fields.find((field) => field.id === of.link)
  return (link && tracker.value && toOf(tracker.value, link)) || props.table
})
const columns = computed(() => ('shows' in shows.value ? shows.value.shows : []))
/** A yes or no, as it reads. */
const WAYS: Record<string, [yes: string, no: string]> = {
  team: ['under the team’s name, with its mark', 'without the team’s name'],
  signed: ['signed with the name', 'a line to be signed by hand'],
  total: ['the last one is what they come to', 'all alike'],
  ruled: ['a hairline under each', 'no lines between'],
  again: ['with its headings again', 'without its headings'],
}
const ways = computed(() => WAYS[part.value]?.map((title, n) => ({ value: n === 0, title })))
const yes = computed(() => (shows.value as unknown as Record<string, unknown>)[part.value] === true)
const EMPTY = [
  { value: 'line' as const, title: 'a line to write on' },
  { value: 'blank' as const, title: 'nothing beside it' },
  { value: 'out' as const, title: 'it is not there' },
]
const by = computed(() => (shows.value.as === 'lines' ? `${shows.value.by ?? 0} ${shows.value.descending}` : '0 false'))
const orders = computed(() => [
  { value: '0 false', title: 'in its own order' },
  ...lined.value.fields.flatMap((field) => [
    { value: `${field.id} false`, title: `by ${field.within}, first to last` },
    { value: `${field.id} true`, title: `by ${field.within}, last to first` },
  ]),
])
function setOrder(key: string) {
  const [field, down] = key.split(' ')
  set({ by: Number(field) || null, descending: down === 'true' })
}
function setLink(link: number) {
  const field = props.table.fields.find((one) => one.id === link)
  const to = field && tracker.value && toOf(tracker.value, field)
  if (to) set({ link, by: null, shows: to.fields.slice(0, 3).map((one) => one.id), totals: [] })
}
function setColumns(next: number[]) {
  const totals = ('totals' in shows.value ? shows.value.totals : []).filter((total) => next.includes(total.field))
  set({ shows: next, totals })
}
const isPerson = (field: Field) => ['person', 'people', 'text', 'link'].includes(field.shows.type)
const isDay = (field: Field) => ['date', 'date_time', 'range'].includes(field.shows.type)
const isFiles = (field: Field) => field.kind.type === 'files'
</script>

<template>
  <RuleEditor
    v-if="at.startsWith('/when')"
    :model-value="block.when"
    :table="table"
    lead="It is there only where"
    @update:model-value="put({ when: $event })"
  />
  <SetEditor v-else-if="at === '/set'" :set="block.set" @change="put({ set: $event })" />
  <WordsEditor
    v-else-if="at === '/shows/text' && 'text' in shows"
    :table="table"
    :text="shows.text"
    :long="shows.as === 'text'"
    :values="each"
    label="What it says"
    :fault="fault"
    @change="set({ text: $event })"
  />
  <FactsEditor
    v-else-if="part === 'facts' && 'facts' in shows"
    :table="table"
    :facts="shows.facts"
    :fault="fault"
    @change="set({ facts: $event })"
  />
  <PickOne
    v-else-if="part === 'empty' && 'empty' in shows"
    :model-value="shows.empty"
    :items="EMPTY"
    aria-label="Where one is empty"
    data-test="block-empty-facts"
    @update:model-value="(set({ empty: $event }), emit('close'))"
  />
  <PickOne
    v-else-if="ways"
    :model-value="yes"
    :items="ways"
    aria-label="Which way"
    :data-test="`block-${part}`"
    @update:model-value="(set({ [part]: $event }), emit('close'))"
  />
  <PickOne
    v-else-if="part === 'link' && shows.as === 'lines'"
    :model-value="shows.link"
    :items="named(linksOf(table))"
    aria-label="Lines of"
    @update:model-value="setLink"
  />
  <PickOne v-else-if="part === 'by'" :model-value="by" :items="orders" aria-label="In which order" @update:model-value="setOrder" />
  <FieldsEditor
    v-else-if="part === 'shows'"
    :table="lined"
    :fields="columns.map((field) => ({ field, width: 100 }))"
    @change="setColumns($event.map((one) => one.field))"
  />
  <TotalsEditor
    v-else-if="part === 'totals' && 'totals' in shows"
    :table="lined"
    :shows="columns"
    :totals="shows.totals"
    @change="set({ totals: $event })"
  />
  <v-text-field
    v-else-if="part === 'without' && shows.as === 'lines'"
    class="one"
    :model-value="shows.without"
    aria-label="What it says without lines"
    placeholder="nothing"
    data-test="block-without"
    :error-messages="fault"
    @update:model-value="set({ without: $event })"
  />
  <v-text-field
    v-else-if="part === 'words' && shows.as === 'signature'"
    class="one"
    :model-value="shows.words"
    aria-label="Words under it"
    placeholder="approved"
    data-test="block-words"
    :error-messages="fault"
    @update:model-value="set({ words: $event })"
  />
  <v-text-field
    v-else-if="part === 'height' && 'height' in shows"
    class="one"
    type="number"
    :model-value="shows.height"
    aria-label="Height in millimetres"
    suffix="mm"
    :error-messages="fault"
    @update:model-value="set({ height: Math.max(0, Math.min(255, Math.round(Number($event) || 0))) })"
  />
  <PathPick
    v-else-if="part === 'path' && shows.as === 'picture'"
    :table="table"
    :path="shows.path"
    :fits="isFiles"
    label="Which pictures"
    @change="set({ path: $event })"
  />
  <PathPick
    v-else-if="part === 'person' && shows.as === 'signature'"
    :table="table"
    :path="shows.person"
    :fits="isPerson"
    none="whoever signs"
    label="Whose it is"
    @change="set({ person: $event })"
  />
  <PathPick
    v-else-if="part === 'on' && shows.as === 'signature'"
    :table="table"
    :path="shows.on"
    :fits="isDay"
    none="no day"
    label="Its day"
    @change="set({ on: $event })"
  />
</template>

<style scoped>
.one {
  width: min(300px, 86vw);
}
</style>
