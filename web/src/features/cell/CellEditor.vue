<script setup lang="ts">
// Editing one cell in place, by keyboard or hand: the same in rows and in the folio.
import { computed, defineAsyncComponent, nextTick, onMounted, ref, watch } from 'vue'
import { api, saying, told } from '@/api/client'
import type { Cell, Field, Input, Kind, Offered, Value } from '@/api/types'
import { useTracker } from '@/features/tracker/tracker'
import { editor, hue, isMany, isRight, options, typed } from './kinds'
import CellPopup from './CellPopup.vue'
import { useEdits } from './edits'
import FollowSays from './FollowSays.vue'
import { useFollowing } from './following'
import { decimalMark } from '@/theme/own'
import { dayOf, dayText, typedLike } from './days'
import MakeRecord from './MakeRecord.vue'
import PartsEditor from './PartsEditor.vue'
import PickList, { type Pick } from './PickList.vue'

const { tracker: currentTracker } = useTracker()
const CalendarMonth = defineAsyncComponent(() => import('./CalendarMonth.vue'))

/** Where one goes on; `away`: the focus is elsewhere already. */
export type Move = 'down' | 'right' | 'left' | 'stay' | 'away'

const props = defineProps<{
  field: Field
  cell: Cell | null | undefined
  /** What was typed to begin; it replaces what stands there. */
  start?: string
  /** What the choice that this one depends on holds; nothing where that is not known. */
  on?: number | null
  /** The record being edited, for links whose offers depend on it. */
  at?: { tracker: number; table: number; record?: number }
  /** Why the last try was refused. */
  fault?: string
  /** What is put in once one has seen what would follow. */
  hold?: Input
}>()
const emit = defineEmits<{ commit: [input: Input, move: Move]; cancel: [move?: Move] }>()

const YES: Pick[] = [
  { id: 1, name: 'yes' },
  { id: 2, name: 'no' },
]
/** What is typed over a cell of several parts is read by the server, as one line. */
const kind = computed(() => (editor(props.field) === 'parts' && props.start ? 'line' : editor(props.field)))
const text = ref(props.start ?? typed(props.field, props.cell))
const line = ref<HTMLInputElement | HTMLTextAreaElement>()
const root = ref<HTMLElement>()
let ended = false
/** Whether Escape was pressed once over a long text that was changed. */
const leaving = ref(false)
watch(text, () => (leaving.value = false))

const following = useFollowing(
  () => props.at,
  () => props.field,
)
/** What waits for a press, since something would follow that nobody has seen yet. */
const held = ref<{ input: Input; move: Move; name: string }>()
watch(text, (now) => following.weigh(now === typed(props.field, props.cell) && props.start === undefined ? undefined : { text: now }), {
  immediate: true,
})

/** Puts it in, or says first what would follow. */
async function offer(input: Input, move: Move, name = 'it') {
  if ((await following.of(input)).length) return (held.value = { input, move, name })
  ended = true
  emit('commit', input, move)
}
function agree() {
  if (!held.value) return
  ended = true
  emit('commit', held.value.input, held.value.move)
}
function leaveHeld() {
  if (props.hold) return emit('cancel')
  held.value = undefined
  following.weigh(undefined)
  line.value?.focus()
}

onMounted(async () => {
  if (props.hold) void offer(props.hold, 'stay')
  await nextTick()
  line.value?.focus()
  if (props.start === undefined) line.value?.select()
})

const hint = computed(() => {
  const hints: Partial<Record<Kind['type'], string>> = {
    date: `${dayText('2026-11-18')}, ${typedLike()}, tomorrow`,
    date_time: `${dayText('2026-11-18')} 15:40`,
    duration: `1:30, 90 min, 2${decimalMark()}5 h`,
    percent: `12${decimalMark()}5%`,
  }
  return hints[props.field.kind.type] ?? ''
})

function commitText(move: Move) {
  if (ended || held.value) return
  if (text.value === typed(props.field, props.cell) && props.start === undefined) return emit('cancel', move)
  emit('commit', { text: text.value }, move)
}

function keys(event: KeyboardEvent) {
  const long = kind.value === 'long'
  if (event.key === 'Enter' && (!long || event.ctrlKey || event.metaKey)) commitText('down')
  else if (event.key === 'Tab') commitText(event.shiftKey ? 'left' : 'right')
  else if (event.key === 'Escape') {
    // A long text is not lost to one press.
    leaving.value = long && !leaving.value && text.value !== typed(props.field, props.cell)
    if (!leaving.value) {
      ended = true
      emit('cancel')
    }
  } else return event.stopPropagation()
  event.preventDefault()
  event.stopPropagation()
}

/** A day can be picked as well as typed. */
const isDay = computed(() => kind.value === 'line' && ['date', 'date_time'].includes(props.field.kind.type))
const day = computed(() => {
  const now = props.cell?.value
  if (typeof now !== 'object') return ''
  return 'date' in now ? now.date : 'instant' in now ? dayOf(new Date(now.instant)) : ''
})

function pickedDay(picked: string) {
  if (props.field.kind.type === 'date') return void offer({ value: { date: picked } }, 'stay', dayText(picked))
  // The time is still to be said.
  text.value = `${dayText(picked)} `
  line.value?.focus()
}

const people = computed<Pick[]>(() =>
  (currentTracker.value?.people ?? []).map((p) => ({ id: p.id, name: p.name, beside: p.left ? 'has left' : '' })),
)
const value = computed<Value>(() => props.cell?.value ?? 'empty')

const chosen = computed<Pick[]>(() => {
  const now = value.value
  if (typeof now !== 'object') return []
  if ('choice' in now) return options(props.field).filter((o) => o.id === now.choice)
  if ('choices' in now) return now.choices.flatMap((id) => options(props.field).filter((o) => o.id === id))
  if ('person' in now) return people.value.filter((p) => p.id === now.person)
  if ('people' in now) return now.people.flatMap((id) => people.value.filter((p) => p.id === id))
  if ('logical' in now) return YES.filter((pick) => (pick.id === 1) === now.logical)
  return props.cell?.links ?? []
})

const fits = (name: string, typedText: string) => name.toLowerCase().includes(typedText.trim().toLowerCase())

/** The options that may stand here: of a dependent choice, those under what the other field holds. */
function offered() {
  const { kind } = props.field
  const on = kind.type === 'choice' ? kind.on : undefined
  if (on == null || props.on === undefined) return options(props.field)
  return options(props.field).filter((o) => o.under === props.on)
}

async function search(typedText: string): Promise<Pick[]> {
  if (kind.value === 'yes') return YES.filter((pick) => fits(pick.name, typedText))
  if (kind.value === 'choice') {
    return offered()
      .filter((o) => fits(o.name, typedText))
      .map((o) => ({ id: o.id, name: o.name, hue: hue(o) }))
  }
  if (kind.value === 'person') return people.value.filter((p) => fits(p.name, typedText))
  const { kind: own } = props.field
  const tracker = currentTracker.value
  if (own.type !== 'link' || !tracker) return []
  if (!props.at) {
    const params = { path: { tracker: tracker.id, table: own.to }, query: { search: typedText } }
    return told(api.GET('/api/trackers/{tracker}/tables/{table}/names', { params })).catch(() => [])
  }
  const params = {
    path: { tracker: tracker.id, table: props.at.table, field: props.field.id },
    query: { search: typedText, record: props.at.record },
  }
  answer.value = await told(api.GET('/api/trackers/{tracker}/tables/{table}/fields/{field}/offered', { params })).catch(() => undefined)
  return answer.value?.names ?? []
}

/** What the link offers for what was typed. */
const answer = ref<Offered>()
/** One that is to be made, and what was chosen beside it. */
const making = ref<{ name: string; chosen: number[] }>()
const target = computed(() => {
  const { kind: own } = props.field
  return own.type === 'link' ? currentTracker.value?.tables.find((t) => t.id === own.to) : undefined
})

/** Whether an option that is not there can be added where one stands: by those who build, and where the field grows. */
const grows = computed(() => !!props.field.grows && !!props.at?.record)
const makes = computed(() =>
  grows.value ? 'Add the option' : answer.value?.makes && target.value ? `Make the ${target.value.one}` : undefined,
)
const edits = useEdits()
const refused = ref('')

/** What is not there yet is made: a record is asked for first, an option is put in with the cell, as one step. */
async function make(name: string, beside: number[]) {
  if (!grows.value) return (making.value = { name, chosen: beside })
  const names = options(props.field)
    .filter((option) => beside.includes(option.id))
    .map((option) => option.name)
  const { tracker, table, record } = props.at!
  const input: Input = { text: [...names, name].join('; ') }
  try {
    await edits.putBlock({ tracker, table }, { records: [record!], fields: [props.field.id], cells: [[input]], make: true })
    ended = true
    emit('cancel')
  } catch (error) {
    refused.value = saying(error)
  }
}

function made(id: number) {
  picked(many.value ? [...(making.value?.chosen ?? []), id] : [id], 'stay')
  making.value = undefined
}

/** Where nothing hovers, what would follow is seen by nobody before the press. */
const touches = () => window.matchMedia?.('(pointer: coarse)').matches ?? false

function picked(ids: number[], move: Move, names?: string[]) {
  const input: Input = { value: valueOf(ids) }
  if (touches()) void offer(input, move, names?.length === 1 ? `“${names[0]}”` : 'it')
  else emit('commit', input, move)
}

/** What one is at in the list, and has not picked yet. */
function weigh(ids: number[]) {
  const same = ids.length === chosen.value.length && ids.every((id) => chosen.value.some((one) => one.id === id))
  following.weigh(same ? undefined : { value: valueOf(ids) })
}

function valueOf(ids: number[]): Value {
  const first = ids[0]
  if (first === undefined) return 'empty'
  if (kind.value === 'link') return { links: ids }
  if (kind.value === 'yes') return { logical: first === 1 }
  if (kind.value === 'choice') return many.value ? { choices: ids } : { choice: first }
  return many.value ? { people: ids } : { person: first }
}

const many = computed(() => isMany(props.field))
</script>

<template>
  <div ref="root" class="editor" data-test="cell-editor">
    <input
      v-if="kind === 'line'"
      ref="line"
      v-model="text"
      :class="{ right: isRight(field) }"
      :aria-label="field.name"
      :aria-invalid="!!fault"
      :placeholder="hint"
      autocomplete="off"
      @keydown="keys"
      @blur="commitText('away')"
      @mousedown.stop
    />
    <CellPopup
      v-if="kind !== 'line' || fault || isDay || following.says.value.length"
      :anchor="root"
      :place="kind === 'line' ? 'under' : 'over'"
    >
      <!-- The focus stays in the line, so that one can go on typing. -->
      <CalendarMonth v-if="isDay && !fault" :model-value="day" :label="field.name" @mousedown.prevent @pick="pickedDay" />
      <template v-if="kind !== 'line'">
        <PartsEditor v-if="kind === 'parts'" :field="field" :cell="cell" @commit="offer($event, 'stay')" @cancel="emit('cancel')" />
        <textarea
          v-else-if="kind === 'long'"
          ref="line"
          v-model="text"
          rows="6"
          :aria-label="field.name"
          :aria-invalid="!!fault"
          @keydown="keys"
          @blur="commitText('away')"
          @mousedown.stop
        />
        <MakeRecord
          v-else-if="making && target && at"
          class="making"
          :tracker="at.tracker"
          :table="target"
          :name="making.name"
          :near="answer?.near ?? []"
          :asks="answer?.asks ?? []"
          @made="made($event.id)"
          @take="made($event.id)"
          @leave="making = undefined"
        />
        <PickList
          v-else
          :label="field.name"
          :search="search"
          :chosen="chosen"
          :many="many"
          :start="start"
          :makes="makes"
          @pick="picked"
          @weigh="weigh"
          @cancel="emit('cancel', $event)"
          @make="make"
        />
      </template>
      <p v-if="kind === 'long'" class="keys" :class="{ leaving }" :role="leaving ? 'alert' : undefined">{{
        leaving ? 'Escape once more leaves what you typed. Ctrl Enter keeps it.' : 'Ctrl Enter keeps it, Escape leaves it.'
      }}</p>
      <!-- Room is kept for it at a list: else that would jump away from under the pointer. -->
      <div v-if="field.sets_going && !following.says.value.length && !['line', 'long', 'parts'].includes(kind ?? '')" class="room" />
      <FollowSays
        v-if="following.says.value.length && !fault"
        :key="held ? 'held' : 'seen'"
        class="then"
        :says="following.says.value"
        :act="held && `Put ${held.name} in`"
        @act="agree"
        @leave="leaveHeld"
      />
      <p v-if="fault || refused" class="fault-text fault" role="alert">{{ fault || refused }}</p>
    </CellPopup>
  </div>
</template>

<style scoped>
.editor {
  min-width: 100%;
  min-height: calc(var(--row) - 1px);
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
  min-width: min(320px, calc(100vw - 16px));
  padding: 6px 8px;
}
.right {
  text-align: right;
}
.keys {
  margin: 0;
  padding: 3px 8px;
  background: var(--stone);
  border: 1px solid var(--line-strong);
  color: var(--quiet);
  font-size: 12.5px;
}
.leaving {
  color: var(--copper);
}
.then,
.room {
  margin-top: 2px;
}
.room {
  min-height: 50px;
}
.making {
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  min-width: 260px;
}
.fault {
  width: max-content;
  min-width: min(260px, calc(100vw - 16px));
  max-width: min(380px, calc(100vw - 16px));
  margin: 2px 0 0;
  padding: 6px 8px;
  background: var(--fault-soft);
  border: 1px solid var(--fault);
  border-radius: var(--corner);
}
</style>
