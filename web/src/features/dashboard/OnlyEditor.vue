<script setup lang="ts">
// Which records of a table a page is about: for everybody, by whoever may change it; or for oneself alone, for now.
import { computed, onScopeDispose, ref, watch } from 'vue'
import type { BoardCondition, Condition } from '@/api/types'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { pruned } from '@/features/condition/checks'
import { makeTracker, provideTracker } from '@/features/tracker/tracker'
import { conditionOf, type Place, withCondition } from './only'

const props = defineProps<{
  place: Place
  /** What holds so far: of the page, or for oneself. */
  only: BoardCondition[]
  /** Whether it is kept for everybody. */
  everybody: boolean
  busy: boolean
  trouble: string
}>()
const emit = defineEmits<{ set: [only: BoardCondition[]]; leave: [] }>()
const context = provideTracker(makeTracker())
watch(() => props.place.tracker, (id) => void context.open(id), { immediate: true }) // prettier-ignore
onScopeDispose(() => context.leave())
const table = computed(() => context.tracker.value?.tables.find((one) => one.id === props.place.table))
const condition = ref<Condition>(conditionOf(props.only, props.place))
const grouped = computed(() => (condition.value && !('test' in condition.value) ? condition.value : { all: [condition.value] }))
const set = (next: Condition) => emit('set', withCondition(props.only, props.place, next))
</script>

<template>
  <v-card class="sheet" data-test="only-editor">
    <h2>{{ everybody ? 'This page is about' : 'Look at' }} {{ table?.many }} where</h2>
    <ConditionEditor
      v-if="table"
      :table="table"
      :model-value="grouped"
      nothing="All of them. Add a condition to narrow the page."
      @update:model-value="condition = $event"
    />
    <p class="quiet">{{
      everybody
        ? 'Whatever on the page looks at them keeps to it, for every reader.'
        : 'For you alone, until you close the page. Nothing of it is kept.'
    }}</p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p class="acts">
      <v-btn color="primary" :loading="busy" data-test="only-keep" @click="set(pruned(condition))">{{
        everybody ? 'Keep it so' : 'Look at these'
      }}</v-btn>
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
      <v-btn v-if="only.length" variant="text" class="away" data-test="only-all" @click="set({ all: [] })">All of them</v-btn>
    </p>
  </v-card>
</template>

<style scoped>
.sheet {
  display: grid;
  gap: var(--gap-3);
  padding: var(--gap-5);
}
h2,
p {
  margin: 0;
}
h2 {
  font: 600 19px/1.3 var(--serif);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
.away {
  margin-left: auto;
}
</style>
