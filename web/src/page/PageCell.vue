<script setup lang="ts">
// A cell that visitors fill in: white, as all that can be written, with its box always open.
import { computed, ref, watch } from 'vue'
import type { Input, PageColumn } from '@/api/types'

type Cell = { text: string; typed?: string; value?: unknown } | null | undefined
const props = defineProps<{
  column: PageColumn
  cell: Cell
  /** What it is read as: the field, and of which record. */
  label: string
  /** What was kept just now, or is wrong. */
  kept?: string
  fault?: string
}>()
const emit = defineEmits<{ keep: [input: Input]; open: [] }>()

const kind = computed(() => props.column.question?.answer.type)
const lists = computed(() => kind.value === 'choice' || kind.value === 'yes')
const types = ['text', 'long', 'number', 'date', 'duration', 'mail', 'phone', 'web', 'person']
const typed = computed(() => types.includes(kind.value ?? ''))

const chosen = computed(() => {
  const value = props.cell?.value
  if (typeof value !== 'object' || value === null) return ''
  if ('choice' in value) return String((value as { choice: number }).choice)
  if ('logical' in value) return (value as { logical: boolean }).logical ? 'yes' : 'no'
  return ''
})
const hue = computed(() => props.column.options?.find((option) => String(option.id) === chosen.value)?.hue)

function choose(word: string) {
  if (!word) emit('keep', { value: 'empty' })
  else emit('keep', { value: kind.value === 'choice' ? { choice: Number(word) } : { logical: word === 'yes' } })
}

// What is typed stays until it was kept, whatever is read meanwhile.
const draft = ref(props.cell?.typed ?? '')
const open = ref(false)
watch(
  () => [props.cell?.typed, props.kept],
  () => {
    if (!open.value && !props.fault) draft.value = props.cell?.typed ?? ''
  },
)
function keep() {
  open.value = false
  if (draft.value.trim() !== (props.cell?.typed ?? '')) emit('keep', { text: draft.value.trim() })
}
function undo() {
  draft.value = props.cell?.typed ?? ''
}
</script>

<template>
  <div class="cell" :class="{ faulty: fault }" :style="hue ? { '--hue': `var(--${hue})` } : undefined">
    <select
      v-if="lists"
      class="box"
      :class="{ hued: hue }"
      :aria-label="label"
      :aria-invalid="!!fault"
      :value="chosen"
      @change="choose(($event.target as HTMLSelectElement).value)"
    >
      <option value="">not said yet</option>
      <template v-if="kind === 'yes'">
        <option value="yes">yes</option>
        <option value="no">no</option>
      </template>
      <option v-for="option in column.options" v-else :key="option.id" :value="String(option.id)">{{ option.name }}</option>
    </select>
    <textarea
      v-else-if="kind === 'long'"
      v-model="draft"
      class="box"
      rows="1"
      :aria-label="label"
      :aria-invalid="!!fault"
      @focus="open = true"
      @blur="keep"
      @keydown.esc="undo"
      @keydown.ctrl.enter="keep"
    />
    <input
      v-else-if="typed"
      v-model="draft"
      class="box"
      :type="kind === 'date' ? 'date' : 'text'"
      :inputmode="kind === 'number' ? 'decimal' : undefined"
      :aria-label="label"
      :aria-invalid="!!fault"
      @focus="open = true"
      @blur="keep"
      @keydown.esc="undo"
      @keydown.enter="keep"
    />
    <button v-else type="button" class="box" :aria-label="`${label}: ${cell?.text || 'not said yet'}`" @click="emit('open')">{{
      cell?.text || 'not said yet'
    }}</button>
    <span v-if="kept && !fault" class="kept" role="status">kept {{ kept }}</span>
    <p v-if="fault" class="fault-text" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.cell {
  position: relative;
  background: var(--sheet);
}
.box {
  display: block;
  width: 100%;
  min-width: 110px;
  min-height: 40px;
  padding: 8px;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  field-sizing: content;
  resize: none;
}
.box:focus {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
.hued {
  box-shadow: inset 3px 0 0 var(--hue);
}
.kept {
  position: absolute;
  right: 6px;
  bottom: 2px;
  font-size: 11.5px;
  color: var(--moss);
  background: var(--sheet);
  pointer-events: none;
}
.fault-text {
  margin: 0;
  padding: 0 8px 6px;
}
@media (max-width: 760px) {
  .box {
    min-height: 44px;
    border: 1px solid var(--line-strong);
    border-radius: var(--corner);
    font-size: 16px;
  }
}
</style>
