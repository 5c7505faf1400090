<script setup lang="ts">
// What a page is about, in one sentence: what its maker keeps for all, and what whoever looks narrows it to for themselves.
import { computed, ref } from 'vue'
import type { BoardCondition, BoardTable, DashboardView, OnlyReply } from '@/api/types'
import OnlyEditor from './OnlyEditor.vue'
import type { Place } from './only'

const props = defineProps<{
  view: DashboardView
  /** What one narrows it to oneself. */
  narrowed: BoardCondition[]
  changes: boolean
  busy: boolean
  trouble: string
}>()
const emit = defineEmits<{ keep: [only: BoardCondition[]]; narrow: [only: BoardCondition[]] }>()

/** Which table is narrowed, and for whom. */
const open = ref<{ place: Place; everybody: boolean }>()
const text = (one: OnlyReply) => one.sentence.map((phrase) => phrase.text).join('')
const others = computed(() => new Set(props.view.tables.map((one) => one.tracker)).size > 1)
const named = (one: BoardTable) => (others.value ? `${one.name} of ${one.tracker_name}` : one.name)
const only = computed(() => (open.value?.everybody ? (props.view.dashboard.only ?? []) : props.narrowed))
const begin = (place: Place, everybody: boolean) => (open.value = { place: { tracker: place.tracker, table: place.table }, everybody })
defineExpose({ close: () => (open.value = undefined) })
function set(next: BoardCondition[]) {
  if (open.value?.everybody) return emit('keep', next)
  open.value = undefined
  emit('narrow', next)
}
</script>

<template>
  <div v-if="view.tables.length" class="only">
    <p v-for="one in view.only" :key="`${one.tracker} ${one.table}`" data-test="board-only">
      <span v-if="one.refused" class="quiet">{{ one.refused }}</span>
      <template v-else
        ><button v-if="changes" type="button" class="phrase" @click="begin(one, true)">Only {{ text(one) }}</button
        ><template v-else>Only {{ text(one) }}</template
        >.</template
      >
    </p>
    <p v-for="one in view.narrowed" :key="`n ${one.tracker} ${one.table}`" class="mine" data-test="board-narrowed">
      For you now:
      <button type="button" class="phrase" @click="begin(one, false)">{{ text(one) || one.refused }}</button>.
    </p>
    <v-menu location="bottom start">
      <template #activator="{ props: menu }"
        ><button v-bind="menu" type="button" class="offer" data-test="board-narrow">+ narrow the page</button></template
      >
      <div class="popup">
        <template v-for="one in view.tables" :key="`${one.tracker} ${one.table}`">
          <button :data-narrow="one.table" @click="begin(one, false)">{{ named(one) }}, for me now</button>
          <button v-if="changes" :data-only="one.table" @click="begin(one, true)">{{ named(one) }}, for every reader</button>
        </template>
      </div>
    </v-menu>
    <v-dialog :model-value="!!open" max-width="640" aria-label="Which records the page is about" @update:model-value="open = undefined">
      <OnlyEditor
        v-if="open"
        :key="`${open.place.tracker} ${open.place.table} ${open.everybody}`"
        :place="open.place"
        :only="only"
        :everybody="open.everybody"
        :busy="busy"
        :trouble="trouble"
        @set="set"
        @leave="open = undefined"
      />
    </v-dialog>
  </div>
</template>

<style scoped>
.only {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px var(--gap-4);
  margin: 0 0 var(--gap-3);
  font: 16px/1.6 var(--serif);
}
p {
  margin: 0;
}
.phrase,
.offer {
  display: inline;
  border: 0;
  padding: 0;
  background: none;
  color: var(--moss);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.phrase {
  border-bottom: 1px dashed currentcolor;
}
.offer {
  color: var(--quiet);
  font: 14px/1.6 var(--sans);
}
/* Not the usual state. */
.mine,
.mine .phrase {
  color: var(--copper);
}
@media (max-width: 700px) {
  .offer {
    min-height: 44px;
  }
}
@media print {
  .offer {
    display: none;
  }
}
</style>
