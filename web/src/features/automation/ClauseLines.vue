<script setup lang="ts">
// Clauses with the word that hangs before each, and what stands within a clause beneath it.
import { nextTick, ref, watch } from 'vue'
import type { Problem } from '@/api/client'
import type { Clause } from '@/api/types'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import SentenceLine from '@/features/view/SentenceLine.vue'
import { inList, KINDS, type StepKind } from './steps'

const props = defineProps<{
  clauses: Clause[]
  /** The list of steps that these are, as a JSON pointer. */
  list: string
  readonly?: boolean
  problem?: Problem
  /** Where a step is being said that is not kept yet. */
  adding?: string
}>()
const emit = defineEmits<{
  drop: [at: string]
  add: [list: string, kind: StepKind]
  out: [at: string]
  move: [at: string, by: -1 | 1]
}>()
defineSlots<{ editor(props: { at: string; close: () => void }): unknown; adding(props: { list: string }): unknown }>()

const menu = ref<{ x: number; y: number }>()
const about = ref<{ x: number; y: number; at: string }>()
const below = (event: MouseEvent) => {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  return { x: box.left, y: box.bottom + 4 }
}
function begin(kind: StepKind) {
  menu.value = undefined
  emit('add', props.list, kind)
}
function does(what: () => void) {
  about.value = undefined
  what()
}
// Whoever works by keys goes on in what they began, and comes back to where they began it.
const own = ref<HTMLElement>()
watch(
  () => props.adding === props.list,
  async (begun) => {
    await nextTick()
    // The first of a list's boxes is one that nobody sees.
    const to = begun ? '.adding :is(input[role=combobox], input.boxed, textarea, button)' : '.plus:last-of-type button'
    const found = [...(own.value?.querySelectorAll<HTMLElement>(to) ?? [])].filter((one) => one.closest('.clauses') === own.value || begun)
    found[0]?.focus()
  },
)
const isLast = (at: string) => props.clauses.filter((one) => one.at).at(-1)?.at === at
</script>

<template>
  <div ref="own" class="clauses">
    <div v-for="(clause, n) in clauses" :key="clause.at ?? `own ${n}`" class="clause" :data-step="clause.at ?? undefined">
      <span class="word">{{ clause.word }}</span>
      <div class="what">
        <SentenceLine large :phrases="clause.phrases" :faults="problem?.faults" @drop="emit('drop', $event)">
          <template #editor="{ at, close }"><slot name="editor" :at="at" :close="close" /></template>
        </SentenceLine>
        <button
          v-if="clause.at && !readonly"
          type="button"
          class="more"
          :aria-label="`More of this step: ${clause.word} ${clause.phrases.map((one) => one.text).join('')}`"
          data-test="step-more"
          @click="about = { ...below($event), at: clause.at! }"
          >⋯</button
        >
        <div v-if="clause.branches.length" class="branches" :class="{ beside: clause.branches.length > 1 }">
          <div v-for="branch in clause.branches" :key="branch.at" class="branch">
            <p v-if="branch.word" class="branch-word">{{ branch.word }}</p>
            <ClauseLines
              :clauses="branch.clauses"
              :list="branch.at"
              :readonly="readonly"
              :problem="problem"
              :adding="adding"
              @drop="emit('drop', $event)"
              @add="(list, kind) => emit('add', list, kind)"
              @out="emit('out', $event)"
              @move="(at, by) => emit('move', at, by)"
            >
              <template #editor="{ at, close }"><slot name="editor" :at="at" :close="close" /></template>
              <template #adding="{ list: inner }"><slot name="adding" :list="inner" /></template>
            </ClauseLines>
          </div>
        </div>
      </div>
    </div>
    <div v-if="adding === list" class="adding"><slot name="adding" :list="list" /></div>
    <p v-else-if="!readonly" class="plus"
      ><button type="button" class="link" :data-test="`add-step ${list}`" aria-haspopup="menu" @click="menu = below($event)"
        >+ step</button
      ></p
    >
    <PopupMenu :at="menu" label="What is done" @close="menu = undefined">
      <button v-for="kind in KINDS" :key="kind.value" type="button" :data-test="`step-${kind.value}`" @click="begin(kind.value)">{{
        kind.title
      }}</button>
    </PopupMenu>
    <PopupMenu :at="about" label="This step" @close="about = undefined">
      <button v-if="about && inList(about.at).place > 0" type="button" @click="does(() => emit('move', about!.at, -1))">earlier</button>
      <button v-if="about && !isLast(about.at)" type="button" @click="does(() => emit('move', about!.at, 1))">later</button>
      <button type="button" data-test="step-out" @click="does(() => emit('out', about!.at))">take it out</button>
    </PopupMenu>
  </div>
</template>

<style scoped>
.clause {
  display: grid;
  grid-template-columns: 74px minmax(0, 1fr);
  padding: 4px 0;
}
.word {
  font: italic 16px/2 var(--serif);
  color: var(--quiet);
}
.what {
  position: relative;
}
.what > :deep(.sentence) {
  display: inline;
}
.more {
  border: 0;
  background: none;
  color: var(--quiet);
  padding: 0 6px;
  margin-left: 6px;
  min-height: 24px;
  cursor: pointer;
}
.branches {
  border-left: 1px solid var(--line-strong);
  padding-left: var(--gap-3);
  margin-top: 4px;
}
.branches.beside {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: var(--gap-4);
  border-left: 0;
  border-top: 1px solid var(--line-strong);
  padding: var(--gap-2) 0 0;
}
.beside .branch + .branch {
  border-left: 1px solid var(--line-strong);
  padding-left: var(--gap-4);
}
.branch-word {
  margin: 0;
  font: italic 15px/1.6 var(--serif);
  color: var(--quiet);
}
.branch :deep(.clause) {
  grid-template-columns: 56px minmax(0, 1fr);
}
.branch :deep(.sentence) {
  font-size: 18px;
}
.plus {
  margin: 2px 0 0 74px;
  font-size: 14px;
}
.branch .plus {
  margin-left: 56px;
}
.adding {
  border-left: 3px solid var(--copper);
  padding: var(--gap-2) var(--gap-3);
}
@media (max-width: 600px) {
  .clause {
    grid-template-columns: 54px minmax(0, 1fr);
  }
  .branches.beside {
    grid-template-columns: minmax(0, 1fr);
  }
  .beside .branch + .branch {
    border-left: 0;
    padding-left: 0;
  }
}
</style>
