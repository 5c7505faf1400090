<script setup lang="ts">
// What a pressed phrase of the document's own sentence edits.
import { computed } from 'vue'
import type { PaperPage, SheetDocument, SheetFoot, Table } from '@/api/types'
import PickOne from '@/features/menu/PickOne.vue'
import { CUSTOMS } from '@/features/session/customs'
import WordsEditor from './WordsEditor.vue'

const props = defineProps<{ table: Table; document: SheetDocument; at: string; fault?: string }>()
const emit = defineEmits<{ change: [part: Partial<SheetDocument>] }>()
const page = (part: Partial<PaperPage>) => emit('change', { page: { ...props.document.page, ...part } })
const foot = (part: Partial<SheetFoot>) => emit('change', { foot: { ...props.document.foot, ...part } })
const each = computed(() => props.document.of === 'each')
const OF = computed(() => [
  { value: 'each' as const, title: `a sheet for each ${props.table.one}` },
  { value: 'all' as const, title: `one sheet for all ${props.table.many} together` },
])
const SIZES = (['A4', 'A5', 'Letter'] as const).flatMap((size) => [
  { value: `${size} upright`, title: `${size} upright` },
  { value: `${size} across`, title: `${size} across` },
])
const size = computed(() => `${props.document.page.size} ${props.document.page.across ? 'across' : 'upright'}`)
function setSize(key: string) {
  const [size, how] = key.split(' ')
  page({ size: size as PaperPage['size'], across: how === 'across' })
}
const MARGINS = [8, 10, 12, 15, 18, 20, 25, 30, 40].map((value) => ({ value, title: `${value} mm` }))
const margins = computed(() => (MARGINS.some((one) => one.value === props.document.page.margin) ? MARGINS : [...MARGINS, { value: props.document.page.margin, title: `${props.document.page.margin} mm` }])) // prettier-ignore
const kept = computed(() => [
  { value: null as number | null, title: 'not kept with the record' },
  ...props.table.fields
    .filter((field) => field.kind.type === 'files')
    .map((field) => ({ value: field.id as number | null, title: `in ${field.within}` })),
])
const FOOT = [
  { part: 'team' as const, says: 'the team' },
  { part: 'day' as const, says: 'the day on which it is printed' },
  { part: 'pages' as const, says: 'the page’s number' },
]
</script>

<template>
  <PickOne
    v-if="at === '/of'"
    :model-value="document.of"
    :items="OF"
    aria-label="Of what"
    @update:model-value="emit('change', { of: $event })"
  />
  <PickOne
    v-else-if="at === '/page/size'"
    :model-value="size"
    :items="SIZES"
    aria-label="The page"
    data-test="page-size"
    @update:model-value="setSize"
  />
  <PickOne
    v-else-if="at === '/page/margin'"
    :model-value="document.page.margin"
    :items="margins"
    aria-label="Margins"
    @update:model-value="page({ margin: $event })"
  />
  <WordsEditor
    v-else-if="at === '/called'"
    :table="table"
    :text="document.called"
    :values="each"
    label="What a sheet is called"
    :fault="fault"
    @change="emit('change', { called: $event })"
  />
  <div v-else-if="at === '/keep'" class="keep">
    <PickOne
      :model-value="document.keep ?? null"
      :items="kept"
      aria-label="Where it is kept"
      @update:model-value="emit('change', { keep: $event })"
    />
    <p v-if="kept.length === 1" class="quiet">A sheet is kept in a field of files, and {{ table.many }} have none.</p>
  </div>
  <PickOne
    v-else-if="at === '/customs'"
    :model-value="document.customs"
    :items="CUSTOMS"
    aria-label="Days and numbers"
    @update:model-value="emit('change', { customs: $event })"
  />
  <div v-else-if="at === '/foot'" class="foot">
    <label v-for="one in FOOT" :key="one.part"
      ><input
        type="checkbox"
        :checked="document.foot[one.part]"
        :data-test="`foot-${one.part}`"
        @change="foot({ [one.part]: ($event.target as HTMLInputElement).checked })"
      />
      {{ one.says }}</label
    >
    <WordsEditor
      :table="table"
      :text="document.foot.text"
      :values="each"
      label="Words at its foot"
      :fault="fault"
      @change="foot({ text: $event })"
    />
  </div>
</template>

<style scoped>
.foot,
.keep {
  display: grid;
  gap: 6px;
  width: min(380px, 86vw);
}
label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
p {
  margin: 0;
}
</style>
