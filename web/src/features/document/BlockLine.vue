<script setup lang="ts">
// A block of the running order: closed in a few words, open as a sentence with what can be done with it.
import type { BlockWords, Fault, SheetBlock, Table, TypedDate } from '@/api/types'
import SentenceLine from '@/features/view/SentenceLine.vue'
import BlockPhrase from './BlockPhrase.vue'

const props = defineProps<{
  table: Table
  block: SheetBlock
  words: BlockWords | undefined
  /** Its place, from 0. */
  place: number
  count: number
  each: boolean
  open: boolean
  faults: Fault[]
  typed: TypedDate[]
}>()
const emit = defineEmits<{
  toggle: []
  change: [block: SheetBlock]
  move: [by: 1 | -1]
  double: []
  drop: []
  typed: [text: string | undefined]
}>()
/** Its words may be from where it stood before. */
const inner = (at: string) => at.replace(/^\/blocks\/\d+/, '')
const faultAt = (at: string) => props.faults.find((fault) => fault.pointer === at || fault.pointer.startsWith(`${at}/`))?.message
function dropped(at: string) {
  if (inner(at).startsWith('/when')) emit('change', { ...props.block, when: { all: [] } })
}
</script>

<template>
  <div class="block" :class="{ open, wrong: faults.length }" :data-block="place + 1">
    <button type="button" class="line" :aria-expanded="open" :data-test="`block-${place + 1}`" @click="emit('toggle')">
      <span class="number">{{ place + 1 }}</span>
      <span class="what"
        ><b>{{ words?.name }}</b>
        <template v-if="!open"
          ><span v-for="(phrase, n) in words?.short ?? []" :key="n" :class="phrase.tone"
            >{{ n === 0 ? ' ' : '' }}{{ phrase.text }}</span
          ></template
        ></span
      >
    </button>
    <div v-if="open && words" class="inside">
      <SentenceLine :phrases="words.sentence" :faults="faults" :data-test="`sentence-${place + 1}`" @drop="dropped">
        <template #editor="{ at, close }">
          <BlockPhrase
            :table="table"
            :block="block"
            :at="inner(at)"
            :each="each"
            :fault="faultAt(`/blocks/${place}${inner(at)}`)"
            @change="emit('change', $event)"
            @close="close"
          />
        </template>
      </SentenceLine>
      <p v-for="fault in faults" :key="fault.message" class="fault-text" role="alert">{{ fault.message }}</p>
      <p class="acts">
        <button type="button" class="link" :disabled="place === 0" data-test="block-up" @click="emit('move', -1)">Move up</button>
        <button type="button" class="link" :disabled="place === count - 1" data-test="block-down" @click="emit('move', 1)"
          >Move down</button
        >
        <button
          v-if="place > 0"
          type="button"
          class="link"
          data-test="block-beside"
          @click="emit('change', { ...block, beside: !block.beside })"
          >{{ block.beside ? 'On a line of its own' : `Beside block ${place}` }}</button
        >
        <button type="button" class="link" data-test="block-double" @click="emit('double')">Duplicate</button>
        <button type="button" class="link away" data-test="block-drop" @click="emit('drop')">Take away</button>
      </p>
    </div>
    <p v-for="(one, n) in typed" :key="n" class="typed" role="note" data-test="typed-by-hand"
      ><b>▲ {{ one.says }}</b> {{ one.wrong }}
      <button v-if="one.offer" type="button" class="link" data-test="typed-mend" @click="emit('typed', one.becomes)">{{
        one.offer
      }}</button>
      <template v-if="one.offer"> or </template>
      <button type="button" class="link" data-test="typed-leave" @click="emit('typed', undefined)">leave it typed</button></p
    >
  </div>
</template>

<style scoped>
.block {
  border-left: 3px solid transparent;
}
.block.open {
  background: var(--sheet);
  border-left-color: var(--moss);
}
.block.wrong {
  border-left-color: var(--fault);
}
.line {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr);
  width: 100%;
  min-height: 36px;
  padding: 7px 8px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.number {
  font-weight: 700;
  color: var(--moss);
}
.what {
  overflow-wrap: anywhere;
}
.what .plain {
  color: var(--quiet);
}
.inside {
  padding: 0 8px 8px 34px;
}
.inside :deep(.sentence) {
  margin: 0 0 6px;
  font: 16px/1.6 var(--serif);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
  margin: 0;
}
.away {
  margin-left: auto;
  color: var(--quiet);
}
.typed {
  margin: 0 8px 8px 34px;
  padding-left: 8px;
  border-left: 3px solid var(--fault);
  font-size: 13px;
}
.typed b {
  color: var(--fault);
}
</style>
