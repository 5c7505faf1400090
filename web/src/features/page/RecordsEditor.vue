<script setup lang="ts">
// A part of a shared page that shows records: its sentence, and what opens at each phrase of it.
import { computed } from 'vue'
import type { Condition, Fault, PageRecords, Phrase, Query, ShapeOffer, Table } from '@/api/types'
import { isIn } from '@/app/pointer'
import { without } from '@/features/condition/checks'
import RuleEditor from '@/features/condition/RuleEditor.vue'
import { useVocabulary } from '@/features/condition/vocabulary'
import PhraseEditor from '@/features/view/PhraseEditor.vue'
import { droppedAt } from '@/features/view/altering'
import SentenceLine from '@/features/view/SentenceLine.vue'
import { useTracker } from '@/features/tracker/tracker'
import { alsoShown } from './page'

const props = defineProps<{
  records: PageRecords
  table: Table
  phrases: Phrase[]
  /** The shapes that it can have. */
  shapes: ShapeOffer[]
  faults: Fault[]
}>()
const emit = defineEmits<{ change: [part: Partial<PageRecords>] }>()

const { ofKind } = useVocabulary()
const QUERY = '/query'
const OFFERS = '/offers'
const ONLY = '/only'
/** The link that a place speaks of, and the table among whose records visitors choose. */
const fieldOf = (at: string) => at.split('/')[2] ?? ''
const { tracker } = useTracker()
function chosenFrom(at: string) {
  const kind = props.table.fields.find((field) => String(field.id) === fieldOf(at))?.kind
  return kind?.type === 'link' ? tracker.value?.tables.find((one) => one.id === kind.to) : undefined
}
const shown = computed(() => props.records.query.fields.flatMap((one) => props.table.fields.filter((field) => field.id === one.field)))
const fillable = computed(() => shown.value.filter((field) => ofKind(field.kind.type)?.shared))

function query(part: Partial<Query>) {
  const changed = { ...props.records.query, ...part }
  // What its groups, figures and shape tell of is shown: whoever shares the one shares the other.
  const fields = part.fields ? changed.fields : [...changed.fields, ...alsoShown(part, changed)]
  const next = { ...changed, fields }
  const changes = props.records.changes.filter((id) => next.fields.some((one) => one.field === id))
  emit('change', { query: next, changes })
}
function fill(field: number, on: boolean) {
  emit('change', { changes: on ? [...props.records.changes, field] : props.records.changes.filter((id) => id !== field) })
}

/** What a phrase says is taken away. */
function drop(at: string) {
  const ofCondition = (whole: Condition | undefined, from: string) => without(whole ?? { all: [] }, at.slice(from.length))
  const offers = `${OFFERS}/${fieldOf(at)}`
  if (at === '/changes') emit('change', { changes: [] })
  else if (at === '/adds') emit('change', { adds: false })
  else if (at === '/removes') emit('change', { removes: false })
  else if (isIn(at, OFFERS))
    emit('change', { offers: { ...props.records.offers, [fieldOf(at)]: ofCondition(props.records.offers?.[fieldOf(at)], offers) } })
  else if (isIn(at, ONLY)) emit('change', { only: ofCondition(props.records.only, ONLY) })
  else if (isIn(at, QUERY)) query(droppedAt(props.records.query, at.slice(QUERY.length)))
}
</script>

<template>
  <SentenceLine :phrases="phrases" :faults="faults" data-test="records-sentence" @drop="drop">
    <template #editor="{ at, close }">
      <PhraseEditor
        v-if="isIn(at, QUERY)"
        :at="at.slice(QUERY.length)"
        :table="table"
        :query="records.query"
        :shapes="shapes"
        outside
        @change="query"
        @close="close"
      />
      <div v-else-if="at === '/changes'" class="fills" data-test="fills">
        <p class="quiet">Visitors fill in:</p>
        <label v-for="field in fillable" :key="field.id">
          <input
            type="checkbox"
            :checked="records.changes.includes(field.id)"
            @change="fill(field.id, ($event.target as HTMLInputElement).checked)"
          />
          {{ field.name }}
        </label>
        <p v-if="fillable.length < shown.length" class="quiet">What is computed, or kept at other records, is not theirs to fill in.</p>
        <p class="done"><v-btn variant="text" size="small" @click="close">Done</v-btn></p>
      </div>
      <div v-else-if="at === '/adds' || at === '/removes'" class="fills">
        <label v-if="at === '/adds'">
          <input type="checkbox" :checked="records.adds" @change="emit('change', { adds: !records.adds })" />
          Visitors add {{ table.many }}, with the fields that they fill in
        </label>
        <label v-else>
          <input type="checkbox" :checked="records.removes" @change="emit('change', { removes: !records.removes })" />
          Visitors put {{ table.many }} into the bin
        </label>
      </div>
      <div v-else-if="isIn(at, OFFERS) && chosenFrom(at)" data-test="page-offers">
        <RuleEditor
          :table="chosenFrom(at)!"
          :model-value="records.offers?.[fieldOf(at)] ?? { all: [] }"
          lead="They choose among those where"
          nothing="Among all of them. Visitors see their names."
          @update:model-value="emit('change', { offers: { ...records.offers, [fieldOf(at)]: $event } })"
        />
        <p class="done"><v-btn variant="text" size="small" @click="close">Done</v-btn></p>
      </div>
      <div v-else>
        <RuleEditor
          :table="table"
          :model-value="records.only"
          lead="Filled in and removed only where"
          nothing="Wherever they see it."
          @update:model-value="emit('change', { only: $event })"
        />
        <p class="done"><v-btn variant="text" size="small" @click="close">Done</v-btn></p>
      </div>
    </template>
  </SentenceLine>
</template>

<style scoped>
.fills {
  display: grid;
  gap: 4px;
}
.fills label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 32px;
}
p {
  margin: 0;
}
.done {
  text-align: right;
}
</style>
