<script setup lang="ts">
// A part of a shared page that shows records: its sentence, and what opens at each phrase of it.
import { computed } from 'vue'
import type { Fault, PageRecords, Phrase, Query, Table } from '@/api/types'
import { isIn, ruleOf } from '@/app/pointer'
import RuleEditor from '@/features/condition/RuleEditor.vue'
import { useVocabulary } from '@/features/condition/vocabulary'
import PhraseEditor from '@/features/view/PhraseEditor.vue'
import SentenceLine from '@/features/view/SentenceLine.vue'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{ records: PageRecords; table: Table; phrases: Phrase[]; faults: Fault[] }>()
const emit = defineEmits<{ change: [part: Partial<PageRecords>] }>()

const { ofKind } = useVocabulary()
const QUERY = '/query'
const OFFERS = '/offers'
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
  const next = { ...props.records.query, ...part }
  const changes = props.records.changes.filter((id) => next.fields.some((one) => one.field === id))
  emit('change', { query: next, changes })
}
function fill(field: number, on: boolean) {
  emit('change', { changes: on ? [...props.records.changes, field] : props.records.changes.filter((id) => id !== field) })
}

/** What a phrase says is taken away. */
function drop(at: string) {
  const rule = ruleOf(at)
  if (at === '/changes') emit('change', { changes: [] })
  else if (at === '/adds') emit('change', { adds: false })
  else if (at === '/removes') emit('change', { removes: false })
  else if (isIn(at, OFFERS)) emit('change', { offers: { ...props.records.offers, [fieldOf(at)]: { all: [] } } })
  else if (rule === '/only') emit('change', { only: { all: [] } })
  else if (rule === '/query/condition') query({ condition: { all: [] } })
  else if (rule === '/query/sorts') query({ sorts: (props.records.query.sorts ?? []).filter((_, n) => at !== `/query/sorts/${n}`) })
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
