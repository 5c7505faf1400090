<script setup lang="ts">
// A record opened: facts, files, linked records both ways, and its trail.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useEventListener } from '@vueuse/core'
import { saying, theirsOf } from '@/api/client'
import type { Field, Input, Table, Value } from '@/api/types'
import { useEdits } from '@/features/cell/edits'
import type { Move } from '@/features/cell/CellEditor.vue'
import { useSession } from '@/features/session/session'
import PresentLine from '@/features/tracker/PresentLine.vue'
import { sayCell, useOthers } from '@/features/tracker/presence'
import { useTracker } from '@/features/tracker/tracker'
import { askAccess, askWhy } from '@/features/why/why'
import { useDocuments } from '@/features/document/documents'
import PrintDialog from '@/features/document/PrintDialog.vue'
import { putOnRecord } from '@/features/files/sending'
import { lookOf } from '@/features/highlight/looks'
import ArrangePanel from './ArrangePanel.vue'
import { goesOn, provideDesk, typedInto, type Editing } from './desk'
import FolioFact from './FolioFact.vue'
import FolioNewField from './FolioNewField.vue'
import FolioSections from './FolioSections.vue'
import GiveTask from '@/features/rounds/GiveTask.vue'
import FolioTrail from './FolioTrail.vue'
import LifeLine from './LifeLine.vue'
import WaitingNames from './WaitingNames.vue'
import { useFolio } from './folio'
import { linesOfRecord } from './linesKept'
import { useLookingBack } from './looking'

const { tracker: currentTracker } = useTracker()

const props = defineProps<{
  tracker: number
  table: Table
  record: number
  /** Its place in the view beside it, from 0. */
  place?: number
  count?: number
  /** It is the whole page. */
  whole?: boolean
  /** Which of its buttons one came by. */
  walked?: 1 | -1
  /** The field of which one came to see what it was. */
  was?: number
}>()
const emit = defineEmits<{ walk: [by: 1 | -1]; close: []; changed: [] }>()

const previous = ref<HTMLElement>()
const next = ref<HTMLElement>()
const panel = ref<HTMLElement>()
onMounted(() =>
  // Where the list it was opened from has gone from sight, which is known once that was drawn, the keys come here.
  requestAnimationFrame(() => requestAnimationFrame(() => document.activeElement === document.body && panel.value?.focus())),
)
onMounted(() => (props.walked === 1 ? next : props.walked === -1 ? previous : undefined)?.value?.focus())

const router = useRouter()
const edits = useEdits()
const { me } = useSession()
const at = computed(() => ({ tracker: props.tracker, table: props.table.id, record: props.record }))
const { record: known, trail, earlier, more, runs, trouble, read } = useFolio(at)
const looking = useLookingBack(at)
const { after } = looking
/** What is being edited, and what stood there when one began: what somebody else put there since, one has not seen. */
const editing = ref<Editing>()
watch(editing, (now) => sayCell(now && { record: props.record, field: now.field, writes: true }))
const others = useOthers()
/** Who else writes in a field of it. */
const writer = (field: number) =>
  others.value.find((one) => one.writes && one.table === props.table.id && one.record === props.record && one.field === field)?.name
const past = ref<Field>()
watch(
  () => props.was,
  (was) => (past.value = props.table.fields.find((field) => field.id === was)),
  { immediate: true },
)
const { documents } = useDocuments(
  () => props.tracker,
  () => props.table.id,
)
const printing = ref(false)
const copied = ref(false)
const arranging = ref(false)
const adding = ref(false)

const cell = (field: number) => {
  const place = known.value?.fields.indexOf(field) ?? -1
  return place < 0 ? undefined : known.value!.row.cells[place]
}
/** What stood in a field before, as far as the trail tells; nothing where it is as it came. */
const until = (field: number) =>
  trail.value.flatMap((entry) => (entry.what === 'added' ? [] : entry.edits)).find((edit) => edit.field === field)?.until
const isThere = (field: Field | undefined) => !!field && !!known.value?.fields.includes(field.id)
const title = computed(() => {
  const field = props.table.fields.find((one) => one.id === props.table.standing)
  return field && isThere(field) ? field : undefined
})
// Where it is what the record is called by, the head says what sort of record it is.
const number = computed(() => {
  const field = props.table.fields.find((one) => one.kind.type === 'numbering' && isThere(one))
  return field && field !== title.value ? cell(field.id)?.text : undefined
})
const may = computed(() => !!known.value?.row.change && !me.value?.stands_in)
/** While one looks back, nothing is typed. */
const mayChange = computed(() => may.value && after.value === undefined)
const address = computed(
  () => router.resolve({ name: 'record', params: { tracker: props.tracker, table: props.table.id, record: props.record } }).href,
)

const valueOf = (id: number): Value => cell(id)?.value ?? 'empty'
const begin = (id: number) => (editing.value = { field: id, was: valueOf(id) })

async function commit(field: Field, input: Input, move?: Move) {
  const mine = editing.value
  const was = mine?.field === field.id && mine.was ? mine.was : valueOf(field.id)
  try {
    await edits.edit(at.value, field.id, input, was)
    // Whoever went on to another field meanwhile stays there.
    if (editing.value === mine) editing.value = undefined
    const next = mine && !editing.value && move !== 'down' ? goesOn(typedInto(desk.value), field.id, move) : undefined
    if (next !== undefined) begin(next)
    await read()
    emit('changed')
  } catch (error) {
    editing.value = { field: field.id, fault: saying(error), was: theirsOf(error) ?? was }
  }
}

/** Says who was meant by a name; without a person, that nobody was. */
async function settle(id: number, person: number | undefined) {
  const field = props.table.fields.find((f) => f.id === id)
  if (!field) return
  const there = cell(id)?.value
  const others = typeof there === 'object' && 'people' in there ? there.people : []
  const now: Input =
    field.kind.type === 'people' ? { value: { people: person ? [...others, person] : others } } : { value: person ? { person } : 'empty' }
  await edits.edit(at.value, id, now, undefined)
  await read()
  emit('changed')
}

/** Left as it was; by Tab one goes on. An editor that has gone already leaves no other. */
function cancel(field: number, move?: Move) {
  if (editing.value?.field !== field) return
  editing.value = undefined
  const next = move === 'down' ? undefined : goesOn(typedInto(desk.value), field, move)
  if (next !== undefined) begin(next)
}

const desk = provideDesk(() => ({
  tracker: props.tracker,
  table: props.table,
  at: at.value,
  change: mayChange.value,
  laid: known.value?.laid ?? { sections: [], away: [] },
  cell,
  look: (field) => (known.value ? lookOf(known.value.row, field) : undefined),
  until,
  past: after.value !== undefined,
  then: looking.then,
  source: (field) => known.value?.moved_on.find((m) => m.field === field)?.source,
  writer,
  editing: editing.value,
  begin,
  cancel,
  lines: (field, lines) => linesOfRecord(at.value, field, lines),
  commit: (field, input, move) => void commit(field, input, move),
  hang: (field) => {
    const to = { ...at.value, field }
    return async (tokens) => {
      edits.remember(to.tracker, await putOnRecord(to, tokens))
      await read()
      emit('changed')
    }
  },
  keep: (field, files) => void commit(field, { value: files.length ? { files } : 'empty' }),
  why: (field, x, y) => void askWhy({ ...at.value, field }, { x, y }),
  history: (field) => (past.value = field),
  changed: () => {
    void read()
    emit('changed')
  },
}))

// Beside the rows, it is the rows that are left, and their keys that take a step back.
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const letter = event.key.toLowerCase()
  const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, [contenteditable]')
  if (!props.whole || typing || !(event.ctrlKey || event.metaKey) || (letter !== 'z' && letter !== 'y')) return
  event.preventDefault()
  void (event.shiftKey || letter === 'y' ? edits.redo() : edits.undo()).then(read, (error: unknown) => (trouble.value = saying(error)))
})
onBeforeUnmount(() => {
  if (props.whole && known.value?.row.begun) void edits.left(at.value)
})

/** Whether something about it is being asked of somebody, and of whom it was last. */
const asking = ref(false)
const given = ref('')
function asked(name: string) {
  asking.value = false
  given.value = name === 'myself' ? 'It is on your rounds.' : `${name} has it on their rounds.`
}
watch(
  () => props.record,
  () => (given.value = ''),
)

const told = ref<InstanceType<typeof FolioTrail>>()
defineExpose({ focus: () => (panel.value?.querySelector<HTMLElement>('.edit') ?? panel.value)?.focus() })

/** Of somebody first: of whom one stands in for, while one does. */
function askWhoSees(event: MouseEvent) {
  const { left, bottom } = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const about = { table: props.table.id, record: props.record, name: known.value?.name ?? '' }
  askAccess({ ...about, person: me.value?.stands_in?.id }, { x: left, y: bottom })
}

async function copyAddress() {
  await navigator.clipboard.writeText(location.origin + address.value)
  copied.value = true
  setTimeout(() => (copied.value = false), 2500)
}
</script>

<template>
  <aside ref="panel" tabindex="-1" class="folio" :class="{ whole }" :aria-label="`One ${table.one}`" data-test="folio">
    <div class="walk">
      <p v-if="known" class="over">
        {{ number ?? table.one
        }}<template v-if="known.came_by"
          >, came by the form <i>{{ known.came_by }}</i></template
        >
      </p>
      <PresentLine :table="table.id" :record="record" />
      <span v-if="!whole" class="steps">
        <template v-if="place !== undefined">{{ place + 1 }} of {{ count }}</template>
        <button ref="previous" aria-label="Previous, Alt ↑" @click="emit('walk', -1)"><kbd>Alt</kbd> ↑</button>
        <button ref="next" aria-label="Next, Alt ↓" @click="emit('walk', 1)"><kbd>Alt</kbd> ↓</button>
      </span>
      <span class="right">
        <button v-if="currentTracker?.tells_access" data-test="who-sees" @click="askWhoSees">Who sees it?</button>
        <button v-if="!me?.stands_in" data-test="ask-about" :aria-expanded="asking" @click="asking = !asking">Ask or remind</button>
        <button v-if="known" data-test="folio-print" @click="printing = true">Print</button>
        <button data-test="copy-address" @click="copyAddress">{{ copied ? 'Address copied' : 'Copy address' }}</button>
        <router-link v-if="!whole" class="wide" :to="address" data-test="whole-page">Whole page</router-link>
        <router-link v-else :to="{ name: 'view', params: { tracker, table: table.id } }">To all {{ table.many }}</router-link>
        <button v-if="!whole" aria-label="Close the folio" @click="emit('close')">Close</button>
      </span>
    </div>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <PrintDialog v-model="printing" :tracker="tracker" :table="table" :documents="documents" :what="{ records: [record] }" :count="1" />
    <GiveTask
      v-if="asking && me"
      class="asks"
      :people="currentTracker?.people ?? []"
      :me="me.person.id"
      :about="[tracker, table.id, record]"
      @given="asked"
    />
    <p v-if="given" class="over" role="status">{{ given }}</p>
    <template v-if="known">
      <FolioFact
        v-if="title"
        class="title"
        :field="title"
        :cell="cell(title.id)"
        :look="lookOf(known.row, title.id)"
        :change="mayChange"
        :then="looking.then(title.id)"
        :editing="editing?.field === title.id ? editing : undefined"
        @begin="begin(title.id)"
        @cancel="cancel(title!.id, $event)"
        @commit="(input, move) => commit(title!, input, move)"
      />
      <h2 v-else class="title">{{ known.name }}</h2>
      <LifeLine
        v-model:after="after"
        :trail="trail"
        :comments="told?.comments ?? []"
        :earlier="earlier"
        :made="known.created"
        :changed="known.changed"
        :change="may"
        @to="told?.show($event)"
        @back="told?.backTo($event)"
      />
      <p v-if="looking.trouble.value" class="fault-text" role="alert">{{ looking.trouble.value }}</p>
      <div class="columns">
        <div class="left">
          <WaitingNames v-if="known.waiting.length" :waiting="known.waiting" :table="table" :change="mayChange" @settle="settle" />
          <p v-if="known.parameters.length" class="over"
            >By the link with {{ known.parameters.map((p) => `${p.name}=${p.value}`).join(', ') }}</p
          >
          <ArrangePanel v-if="arranging" :tracker="tracker" :table="table" @close="arranging = false" @changed="read()" />
          <FolioSections v-else :arranges="!!currentTracker?.builds && !me?.stands_in" @arrange="arranging = true" />
          <button
            v-if="currentTracker?.builds && !me?.stands_in && !arranging"
            class="change add"
            data-test="folio-add-field"
            @click="adding = true"
            >+ field</button
          >
          <FolioNewField v-if="adding" :tracker="tracker" :table="table.id" @close="adding = false" @made="read()" />
        </div>
        <FolioTrail
          ref="told"
          v-model:of="past"
          :at="at"
          :trail="trail"
          :earlier="earlier"
          :runs="runs"
          :awaits="known.awaits"
          :change="may"
          @more="more"
          @changed="((after = undefined), read(), emit('changed'))"
        />
      </div>
    </template>
  </aside>
</template>

<style scoped>
.folio {
  container: folio / inline-size;
  /* What is hidden in it moves with it. */
  position: relative;
  background: var(--stone);
  padding: var(--gap-3) 22px var(--gap-5);
  overflow-y: auto;
  min-width: 0;
}
/* The keys come here where a list has gone from sight; it is nothing that could be pressed. */
.folio:focus {
  outline: 0;
}
.whole {
  max-width: 1120px;
  margin: 0 auto;
  min-height: calc(100dvh - var(--band));
}
.walk {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-4);
  align-items: baseline;
  color: var(--quiet);
  font-size: 13px;
}
.walk button,
.walk a {
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
  text-decoration: underline;
  text-underline-offset: 3px;
  text-decoration-color: var(--line-strong);
  padding: 2px;
}
.walk :is(button, a):hover {
  color: var(--ink);
}
.steps {
  display: flex;
  align-items: baseline;
  gap: 6px;
}
.steps kbd {
  font: inherit;
}
.steps button {
  border: 1px solid var(--line);
  border-radius: var(--corner);
  padding: 1px 6px;
  font-size: 12px;
  text-decoration: none;
}
.right {
  margin-left: auto;
  display: flex;
  gap: var(--gap-4);
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
.title {
  font: 600 24px/1.25 var(--serif);
  margin: 4px 0 0;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
}
.left {
  min-width: 0;
}
.change {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  font: 13px var(--sans);
}
.add {
  margin-top: var(--gap-3);
  padding: 0;
}
@container folio (min-width: 760px) {
  .columns {
    grid-template-columns: minmax(0, 1fr) 280px;
    gap: 28px;
  }
}
@media (max-width: 800px) {
  .folio {
    padding: var(--gap-3);
  }
  .walk :is(.wide, kbd) {
    display: none;
  }
  .steps button {
    font-size: 15px;
  }
}
</style>
