<script setup lang="ts">
// One highlight as it is being written: a large sentence whose phrases open beneath themselves, how many it touches, and a true
// record as it is and as it looks then.
import { computed, nextTick, ref } from 'vue'
import type { Fault, HighlightsRehearsal, Table } from '@/api/types'
import { ruleOf } from '@/app/pointer'
import { pruned } from '@/features/condition/checks'
import RuleEditor from '@/features/condition/RuleEditor.vue'
import SentenceLine from '@/features/view/SentenceLine.vue'
import { dropped, lookSaidAt, touchAt, withTouch, type Drafted } from './drafting'
import LookEditor from './LookEditor.vue'
import LookedCells from './LookedCells.vue'
import TouchedFields from './TouchedFields.vue'

const props = defineProps<{
  table: Table
  /** Its place in the list. */
  number: number
  draft: Drafted
  told: HighlightsRehearsal['draft']
  /** Fields of the sample. */
  fields: number[]
  isNew: boolean
  busy: boolean
  trouble: string
}>()
const emit = defineEmits<{ change: [draft: Drafted]; keep: []; leave: []; remove: [] }>()

/** The touch that was just begun, whose look is chosen next. */
const begun = ref<number>()
const faults = computed<Pick<Fault, 'pointer' | 'message'>[]>(() => props.told?.faults ?? [])
async function begin(fields: number[]) {
  begun.value = props.draft.touches.length
  emit('change', { ...props.draft, touches: [...props.draft.touches, { fields, look: {} }] })
  await nextTick()
  // What was chosen from is gone: the keys go on to what comes next.
  document.querySelector<HTMLElement>('[data-test=look-editor] button')?.focus()
}
const setLook = (place: number, look: Drafted['touches'][number]['look']) => emit('change', withTouch(props.draft, place, { look }))
function dropTouch(place: number) {
  begun.value = undefined
  emit('change', dropped(props.draft, `/touches/${place}/fields`))
}
</script>

<template>
  <article class="sheet" data-test="highlight-sheet">
    <b class="number">{{ number }}</b>
    <div>
      <SentenceLine
        v-if="told"
        large
        :phrases="told.words.sentence"
        :faults="faults"
        :looks="(at) => lookSaidAt(draft, at)"
        @drop="emit('change', dropped(draft, $event))"
        @closed="begun = undefined"
      >
        <template #editor="{ at, close }">
          <RuleEditor
            v-if="ruleOf(at) === '/condition'"
            :model-value="draft.condition"
            :table="table"
            :lead="`Those ${table.many} where`"
            :nothing="`It touches all ${table.many}, as they always look. Add a condition, so that it touches some.`"
            @update:model-value="emit('change', { ...draft, condition: pruned($event) })"
          />
          <template v-else-if="at === '/touches'">
            <TouchedFields v-if="begun === undefined" :table="table" :fields="[]" fresh @change="begin" />
            <LookEditor v-else :look="draft.touches[begun]?.look ?? {}" @change="setLook(begun!, $event)" />
          </template>
          <TouchedFields
            v-else-if="at.endsWith('/fields')"
            :table="table"
            :fields="draft.touches[touchAt(at)]?.fields ?? []"
            @change="emit('change', withTouch(draft, touchAt(at), { fields: $event }))"
            @remove="(dropTouch(touchAt(at)), close())"
          />
          <LookEditor v-else :look="draft.touches[touchAt(at)]?.look ?? {}" @change="setLook(touchAt(at), $event)" />
          <p class="done"><v-btn variant="text" size="small" data-test="phrase-done" @click="close">Done</v-btn></p>
        </template>
      </SentenceLine>
      <p v-else class="quiet">…</p>
      <p v-for="fault in faults" :key="fault.message" class="fault-text" role="alert">{{ fault.message }}</p>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <table v-if="told?.sample" class="sample">
        <tbody>
          <tr>
            <th scope="row">as it is</th>
            <LookedCells :table="table" :fields="fields" :row="told.sample.as_it_is" />
          </tr>
          <tr>
            <th scope="row">{{ told.matches ? 'then' : 'if it matched' }}</th>
            <LookedCells :table="table" :fields="fields" :row="told.sample.then" />
          </tr>
        </tbody>
      </table>
      <div class="acts">
        <p v-if="told" aria-live="polite"
          ><b>{{ told.words.matching }}</b> match now, <b>{{ told.in_sight }}</b> of them in sight</p
        >
        <v-btn v-if="!isNew" variant="text" color="error" data-test="remove-highlight" :disabled="busy" @click="emit('remove')"
          >Take it away</v-btn
        >
        <v-btn variant="text" data-test="leave-highlight" @click="emit('leave')">Leave it</v-btn>
        <v-btn
          color="primary"
          data-test="keep-highlight"
          :disabled="busy || faults.length > 0 || !draft.touches.length"
          @click="emit('keep')"
          >Keep highlight</v-btn
        >
      </div>
    </div>
  </article>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr);
  gap: 0 var(--gap-2);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--copper);
  border-radius: var(--corner);
  padding: var(--gap-3) var(--gap-3) var(--gap-3) var(--gap-2);
}
.number {
  font: 600 17px/1.6 var(--serif);
  color: var(--copper);
  text-align: center;
}
.sample {
  border-collapse: collapse;
  margin-top: var(--gap-3);
  width: 100%;
  table-layout: fixed;
  font-size: 13.5px;
}
.sample th {
  width: 84px;
  text-align: left;
  font-weight: 400;
  color: var(--quiet);
}
.sample tr {
  border-top: 1px solid var(--line);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
  margin-top: var(--gap-3);
}
.acts p {
  margin: 0 auto 0 0;
}
.done {
  margin: var(--gap-2) 0 0;
  text-align: right;
}
</style>
