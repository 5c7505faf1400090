<script setup lang="ts">
// A step that goes through records: of which table, which of them, and what they have alike with the record it is about.
import { computed, ref } from 'vue'
import type { Problem } from '@/api/client'
import type { Condition, EachStep, Table } from '@/api/types'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { pruned } from '@/features/condition/checks'
import StepShell from './StepShell.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{ table: Table; step: EachStep; at: string; problem?: Problem; readonly: boolean }>()
const emit = defineEmits<{ keep: [step: EachStep]; leave: [] }>()
const { tracker } = useTracker()

const draft = ref<EachStep>(JSON.parse(JSON.stringify(props.step)) as EachStep)
const there = computed(() => tracker.value?.tables.find((one) => one.id === draft.value.table))
const condition = computed<Condition>(() => {
  const now = draft.value.condition ?? { all: [] }
  return 'test' in now ? { all: [now] } : now
})
function go(table: number) {
  Object.assign(draft.value, { table, condition: { all: [] }, same: [] })
}

/** Fields of both that hold the same sort of thing. */
function alike(theirs: number) {
  const field = there.value?.fields.find((one) => one.id === theirs)
  const same = (one: (typeof props.table.fields)[number]) => {
    if (field?.kind.type === 'link') return one.shows.type === 'link' && one.shows.to === field.kind.to
    return one.shows.type === field?.shows.type
  }
  return props.table.fields.filter(same)
}
const comparable = computed(() => there.value?.fields.filter((one) => alike(one.id).length) ?? [])
function another() {
  const theirs = comparable.value.find((one) => one.kind.type === 'link') ?? comparable.value[0]
  const ours = theirs && alike(theirs.id)[0]
  if (theirs && ours) draft.value.same = [...(draft.value.same ?? []), { theirs: theirs.id, ours: ours.id }]
}
const fault = computed(() =>
  ['/table', '/condition', '/same', ''].map((part) => props.problem?.at(`${props.at}/each${part}`)).find(Boolean),
)
const keep = () => emit('keep', { ...draft.value, condition: pruned(condition.value) })
</script>

<template>
  <StepShell :fault="fault" :blocked="readonly" test="keep-each" @keep="keep" @leave="emit('leave')">
    <p class="lead">
      Go through
      <PickOne
        said
        :model-value="draft.first ? 'first' : 'each'"
        aria-label="How many"
        :items="[
          { value: 'each', title: 'each' },
          { value: 'first', title: 'the first' },
        ]"
        @update:model-value="draft.first = $event === 'first'"
      />
      <PickOne
        said
        :model-value="draft.table"
        aria-label="Of which table"
        data-test="each-table"
        :items="(tracker?.tables ?? []).map((one) => ({ value: one.id, title: one.one }))"
        @update:model-value="go(Number($event))"
      />
    </p>
    <p v-for="(same, n) in draft.same ?? []" :key="n" class="lead">
      whose
      <PickOne
        said
        :model-value="same.theirs"
        aria-label="Which of theirs"
        :items="named(comparable)"
        @update:model-value="Object.assign(same, { theirs: Number($event), ours: alike(Number($event))[0]?.id ?? same.ours })"
      />
      is this {{ table.one }}’s
      <PickOne
        said
        :model-value="same.ours"
        aria-label="Which of this one"
        :items="named(alike(same.theirs))"
        @update:model-value="same.ours = Number($event)"
      />
      <button type="button" class="link" @click="draft.same = (draft.same ?? []).filter((_, at) => at !== n)">not this</button>
    </p>
    <p v-if="comparable.length"
      ><button type="button" class="link" data-test="each-same" @click="another">+ alike with this {{ table.one }}</button></p
    >
    <ConditionEditor
      v-if="there"
      :key="there.id"
      :table="there"
      :model-value="condition"
      lead="Those of which"
      nothing="All of them. Add a condition to narrow it."
      @update:model-value="draft.condition = $event"
    />
  </StepShell>
</template>
