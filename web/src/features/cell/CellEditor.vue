<script setup lang="ts">
// Editing one cell in place, by keyboard or hand: the same in rows and in the folio.
import { computed, nextTick, onMounted, ref } from 'vue'
import { api, told } from '@/api/client'
import type { Cell, Field, Input, Value } from '@/api/types'
import { currentTracker } from '@/features/tracker/tracker'
import { editor, hue, options, typed } from './kinds'
import PickList, { type Pick } from './PickList.vue'

export type Move = 'down' | 'right' | 'left' | 'stay'

const props = defineProps<{
  field: Field
  cell: Cell | null | undefined
  /** What was typed to begin; it replaces what stands there. */
  start?: string
  /** Why the last try was refused. */
  fault?: string
}>()
const emit = defineEmits<{ commit: [input: Input, move: Move]; cancel: [] }>()

const kind = computed(() => editor(props.field))
const text = ref(props.start ?? typed(props.cell))
const line = ref<HTMLInputElement | HTMLTextAreaElement>()
let ended = false

onMounted(async () => {
  await nextTick()
  line.value?.focus()
  if (props.start === undefined) line.value?.select()
})

const hint = computed(() => {
  const { type } = props.field.kind
  if (type === 'date') return '18 Nov 2026, 18/11/2026, tomorrow'
  if (type === 'date_time') return '18 Nov 2026 15:40'
  return ''
})

function commitText(move: Move) {
  if (ended) return
  if (text.value === typed(props.cell) && props.start === undefined) return emit('cancel')
  emit('commit', { text: text.value }, move)
}

function keys(event: KeyboardEvent) {
  const long = kind.value === 'long'
  if (event.key === 'Enter' && (!long || event.ctrlKey || event.metaKey)) commitText('down')
  else if (event.key === 'Tab') commitText(event.shiftKey ? 'left' : 'right')
  else if (event.key === 'Escape') {
    ended = true
    emit('cancel')
  } else return event.stopPropagation()
  event.preventDefault()
  event.stopPropagation()
}

const people = computed(() => currentTracker.value?.people ?? [])
const value = computed<Value>(() => props.cell?.value ?? 'empty')

const chosen = computed<Pick[]>(() => {
  const now = value.value
  if (typeof now !== 'object') return []
  if ('choice' in now) return options(props.field).filter((o) => o.id === now.choice)
  if ('person' in now) return people.value.filter((p) => p.id === now.person)
  return props.cell?.links ?? []
})

const fits = (name: string, typedText: string) => name.toLowerCase().includes(typedText.trim().toLowerCase())

async function search(typedText: string): Promise<Pick[]> {
  if (kind.value === 'choice') {
    return options(props.field)
      .filter((o) => fits(o.name, typedText))
      .map((o) => ({ id: o.id, name: o.name, hue: hue(o) }))
  }
  if (kind.value === 'person') return people.value.filter((p) => fits(p.name, typedText))
  const { kind: own } = props.field
  const tracker = currentTracker.value
  if (own.type !== 'link' || !tracker) return []
  const params = { path: { tracker: tracker.id, table: own.to }, query: { search: typedText } }
  return told(api.GET('/api/trackers/{tracker}/tables/{table}/names', { params })).catch(() => [])
}

function picked(ids: number[], move: Move) {
  const first = ids[0]
  const value: Value =
    kind.value === 'link' ? (ids.length ? { links: ids } : 'empty') : first === undefined ? 'empty' : kind.value === 'choice' ? { choice: first } : { person: first }
  emit('commit', { value }, move)
}

const many = computed(() => props.field.kind.type === 'link' && !props.field.kind.one)
</script>

<template>
  <div class="editor" data-test="cell-editor">
    <textarea
      v-if="kind === 'long'"
      ref="line"
      v-model="text"
      rows="6"
      :aria-label="field.name"
      :aria-invalid="!!fault"
      @keydown="keys"
      @blur="commitText('stay')"
      @mousedown.stop
    />
    <input
      v-else-if="kind === 'line'"
      ref="line"
      v-model="text"
      :class="{ right: field.kind.type === 'number' }"
      :aria-label="field.name"
      :aria-invalid="!!fault"
      :placeholder="hint"
      autocomplete="off"
      @keydown="keys"
      @blur="commitText('stay')"
      @mousedown.stop
    />
    <PickList v-else :label="field.name" :search="search" :chosen="chosen" :many="many" :start="start" @pick="picked" @cancel="emit('cancel')" />
    <p v-if="fault" class="fault-text fault" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.editor {
  position: relative;
  min-width: 100%;
  z-index: 5;
}
input,
textarea {
  width: 100%;
  min-height: calc(var(--row) - 1px);
  border: 2px solid var(--moss);
  border-radius: 0;
  outline: none;
  background: var(--sheet);
  padding: 0 8px;
  display: block;
}
textarea {
  min-width: 320px;
  padding: 6px 8px;
}
.right {
  text-align: right;
}
.fault {
  position: absolute;
  top: 100%;
  left: 0;
  min-width: 260px;
  max-width: 380px;
  margin: 2px 0 0;
  padding: 6px 8px;
  background: var(--fault-soft);
  border: 1px solid var(--fault);
  border-radius: var(--corner);
  white-space: normal;
  z-index: 6;
}
</style>
