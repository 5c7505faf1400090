<script setup lang="ts">
// A view on a dashboard: its sentence with the editors that every view has, and how it is drawn.
import { computed, ref, toRef } from 'vue'
import type { Query, TileShows } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { worded } from '@/features/menu/pick'
import { useTracker } from '@/features/tracker/tracker'
import PhraseEditor from '@/features/view/PhraseEditor.vue'
import SentenceLine from '@/features/view/SentenceLine.vue'
import { useWindow } from '@/features/view/window'

type View = Omit<Extract<TileShows, { as: 'view' }>, 'as'>
const props = defineProps<{ view: View }>()
const emit = defineEmits<{ change: [view: View] }>()

const { vocabulary } = useVocabulary()
const { tracker } = useTracker()
const table = computed(() => tracker.value?.tables.find((one) => one.id === props.view.table))
const query = toRef(() => props.view.query)
const shown = useWindow({
  tracker: toRef(() => props.view.tracker),
  table: toRef(() => props.view.table),
  query: computed(() => query.value),
  keep: ref([]),
  page: ref(1),
})
const shape = computed(() => query.value.shape?.as ?? 'rows')
const crosses = computed(() => shape.value === 'cross-tab')
/** How many of it are shown can be said. */
const counted = computed(() => (crosses.value ? props.view.draws === 'bars' : props.view.draws !== 'dots'))
const OF_RECORDS: { value: View['draws']; title: string }[] = [
  { value: 'table', title: 'a list' },
  { value: 'dots', title: 'dots, by their first two numbers' },
]
const draws = computed(() => (crosses.value ? worded(vocabulary.value?.draws) : OF_RECORDS))
const put = (part: Partial<View>) => emit('change', { ...props.view, ...part })
function change(part: Partial<Query>) {
  const next = { ...query.value, ...part }
  // Another shape is drawn as it is until one says more.
  const turned = (next.shape?.as ?? 'rows') !== shape.value
  put({ query: next, ...(turned ? { draws: 'table' as const } : {}) })
}
function setMost(typed: string) {
  const most = Math.round(Number(typed))
  if (most >= 1 && most <= 100) put({ most })
}
function drop(at: string) {
  if (at.startsWith('/condition')) change({ condition: { all: [] } })
  else if (at.startsWith('/tallies')) change({ tallies: [] })
  else if (at.startsWith('/sorts')) change({ sorts: [] })
}
/** Figures stand on a dashboard by a cross-tab; rows are a list or dots; of a calendar the days that come. */
const shapes = computed(() => shown.answer.value?.shapes.filter((one) => ['rows', 'cross-tab', 'calendar'].includes(one.name)))
</script>

<template>
  <div class="view-editor">
    <SentenceLine v-if="table && shown.answer.value" :phrases="shown.answer.value.sentence" data-test="tile-sentence" @drop="drop">
      <template #editor="{ at, close }">
        <PhraseEditor
          :at="at"
          :table="table"
          :query="query"
          :shapes="shapes"
          :ordering="shown.answer.value?.ordering"
          @change="change"
          @close="close"
        />
      </template>
    </SentenceLine>
    <p v-if="shown.trouble.value" class="fault-text" role="alert">{{ shown.trouble.value }}</p>
    <p class="says">
      <template v-if="shape !== 'calendar'"
        >drawn as
        <PickOne
          said
          :model-value="view.draws ?? 'table'"
          aria-label="Drawn as"
          data-test="tile-draws"
          :items="draws"
          @update:model-value="put({ draws: $event })" /></template
      ><template v-if="counted"
        >{{ shape === 'calendar' ? 'the next' : ', the first' }}
        <input
          type="text"
          inputmode="numeric"
          size="3"
          aria-label="How many are shown"
          data-test="tile-most"
          :value="view.most"
          @change="setMost(($event.target as HTMLInputElement).value)"
        />
        of them</template
      >
    </p>
  </div>
</template>

<style scoped>
.view-editor {
  display: grid;
  gap: var(--gap-3);
}
.says {
  margin: 0;
  font: 16px/1.6 var(--serif);
}
input {
  width: 48px;
  padding: 2px 6px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: inherit;
  font: 14px var(--sans);
}
</style>
