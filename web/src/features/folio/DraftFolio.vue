<script setup lang="ts">
// A record on its way: laid out as it will be, one's own until it is added. What is typed is kept as one goes.
import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'
import { useEventListener } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { Cell, DraftLinesReply, DraftReply, Field, Input, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import type { Move } from '@/features/cell/CellEditor.vue'
import { useEdits } from '@/features/cell/edits'
import { files } from '@/features/cell/kinds'
import { lookOf } from '@/features/highlight/looks'
import { goesOn, provideDesk, typedInto, type Editing } from './desk'
import FolioFact from './FolioFact.vue'
import FolioSections from './FolioSections.vue'
import { linesOfDraft } from './linesKept'

const props = defineProps<{ tracker: number; table: Table; draft: number; whole?: boolean }>()
const emit = defineEmits<{
  /** It was added; `next`: another one is to be begun. */
  added: [record: number | undefined, next: boolean]
  gone: []
  close: []
}>()

const edits = useEdits()
const { trouble, busy, attempt, newest } = useDoing()
const reply = shallowRef<DraftReply>()
const editing = ref<Editing>()
const panel = ref<HTMLElement>()
const path = computed(() => ({ tracker: props.tracker, table: props.table.id, draft: props.draft }))
const look = computed(() => reply.value?.look)

const cell = (field: number): Cell | null | undefined => {
  const wrong = wrongOf(field)
  // What does not fit stands there as it was typed, so that one mends it and types nothing twice.
  if (wrong && typeof wrong.input === 'object' && 'text' in wrong.input) return { value: 'empty', text: wrong.input.text }
  const place = look.value?.fields.indexOf(field) ?? -1
  return place < 0 ? undefined : look.value!.row.cells[place]
}
const wrongOf = (field: number) => look.value?.wrong.find((one) => one.field === field)
const isMissing = (field: number) => !!look.value?.missing.includes(field)
const title = computed(() => props.table.fields.find((field) => field.id === props.table.standing && field.writes))

const begin = (field: number) => (editing.value = { field })
/** Left as it was; by Tab one goes on. An editor that has gone already leaves no other. */
function cancel(field: number, move?: Move) {
  if (editing.value?.field !== field) return
  editing.value = undefined
  const next = goesOn(typedInto(desk.value), field, move)
  if (next !== undefined) begin(next)
}

const desk = provideDesk(() => ({
  tracker: props.tracker,
  table: props.table,
  at: undefined,
  change: true,
  laid: look.value?.laid ?? { sections: [], away: [] },
  cell,
  look: (field) => (look.value ? lookOf(look.value.row, field) : undefined),
  wrong: (field) => wrongOf(field)?.message,
  isMissing,
  editing: editing.value,
  begin,
  cancel,
  lines: (field) => linesOfDraft(path.value, field, linesChanged),
  commit: (field, input, move) => void commit(field, input, move),
  hang: (field) => {
    const to = { ...path.value, field }
    return (tokens) => putFiles(to, { tokens })
  },
  keep: (field, kept) => {
    const stood = files(cell(field.id)).map((file) => file.id)
    const addresses = kept.filter((file) => !stood.includes(file.id)).map((file) => ({ address: file.id, title: file.name }))
    void attempt(() =>
      putFiles({ ...path.value, field: field.id }, { stays: kept.map((file) => file.id).filter((id) => stood.includes(id)), addresses }),
    )
  },
  changed: () => undefined,
}))

/** What is on its way to the server; whoever adds waits for it. */
let sending: Promise<unknown> = Promise.resolve()

async function commit(field: Field, input: Input, move: Move = 'stay') {
  const next = goesOn(typedInto(desk.value), field.id, move)
  editing.value = undefined
  const body = { cells: [{ field: field.id, input }] }
  const sent = attempt(() =>
    told(api.PATCH('/api/trackers/{tracker}/tables/{table}/drafts/{draft}', { params: { path: path.value }, body })),
  )
  sending = Promise.allSettled([sending, sent])
  const found = await sent
  if (found) reply.value = found
  if (editing.value) return
  // What did not fit is mended where it was typed.
  if (wrongOf(field.id) && move !== 'away') editing.value = { field: field.id, fault: wrongOf(field.id)?.message }
  else if (next !== undefined) begin(next)
  else if (move !== 'away') void nextTick(() => panel.value?.querySelector<HTMLElement>('[data-test=draft-add]')?.focus())
}

/** What comes of the draft by a change of its lines; another one may stand here by then. */
async function linesChanged(change: Promise<DraftLinesReply>) {
  const { draft } = props
  sending = Promise.allSettled([sending, change])
  const found = await change
  if (draft === props.draft) reply.value = { draft, look: found.look }
  return found
}

/** Puts new files into a field of a draft, or says which of it stay; another one may stand here by then. */
async function putFiles(
  to: { tracker: number; table: number; draft: number; field: number },
  body: { tokens?: string[]; stays?: string[]; addresses?: { address: string; title: string }[] },
) {
  const asked = api.PUT('/api/trackers/{tracker}/tables/{table}/drafts/{draft}/files/{field}', { params: { path: to }, body })
  const found = await told(asked)
  if (to.draft === props.draft) reply.value = found
}

const firstAsked = () => look.value?.missing.find((id) => typedInto(desk.value).includes(id))

watch(
  path,
  async () => {
    reply.value = undefined
    editing.value = undefined
    const found = await newest(() =>
      told(api.GET('/api/trackers/{tracker}/tables/{table}/drafts/{draft}', { params: { path: path.value } })),
    )
    if (!found) return
    reply.value = found
    const first = firstAsked()
    if (first !== undefined) begin(first)
  },
  { immediate: true },
)
onMounted(() => panel.value?.focus())

/** What was typed into a line and refused stands there, and nowhere else: it is mended, or left by Escape, before anything is added. */
const refused = () => panel.value?.querySelector<HTMLElement>('[data-lines] .editor [aria-invalid=true]')

async function add(next: boolean) {
  // What is being typed goes along.
  const line = panel.value?.querySelector<HTMLElement>('.editor :is(input, textarea)')
  line?.blur()
  await sending
  await nextTick()
  await nextTick()
  const wrong = refused()
  if (wrong) {
    trouble.value = 'Nothing is added yet: what does not fit is said in its line.'
    return wrong.focus()
  }
  const done = await attempt(() =>
    told(api.POST('/api/trackers/{tracker}/tables/{table}/drafts/{draft}/add', { params: { path: path.value } })),
  )
  if (!done) {
    // One is led to what is still asked, also where its editor was open and had lost the keys.
    editing.value = undefined
    await nextTick()
    const first = firstAsked()
    if (first !== undefined) begin(first)
    return
  }
  edits.remember(props.tracker, done)
  emit('added', done.added?.[0], next)
}

async function letGo() {
  await attempt(async () => {
    await told(api.DELETE('/api/trackers/{tracker}/tables/{table}/drafts/{draft}', { params: { path: path.value } }))
    emit('gone')
  })
}

useEventListener(
  panel,
  'keydown',
  (event: KeyboardEvent) => {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return
    // A long text is kept by the same keys.
    if (event.target instanceof HTMLTextAreaElement) return
    event.preventDefault()
    event.stopPropagation()
    void add(event.shiftKey)
  },
  { capture: true },
)
defineExpose({ focus: () => panel.value?.focus() })
</script>

<template>
  <aside ref="panel" tabindex="-1" class="folio" :class="{ whole }" :aria-label="`A new ${table.one}`" data-test="draft">
    <div class="walk">
      <p class="over">A new {{ table.one }}: nobody else sees it before it is added</p>
      <span class="right">
        <button type="button" data-test="draft-drop" @click="letGo">Let it go</button>
        <button type="button" aria-label="Close; it waits for you" @click="emit('close')">Close</button>
      </span>
    </div>
    <template v-if="look">
      <div class="title-line">
        <FolioFact
          v-if="title"
          class="title"
          :field="title"
          :cell="cell(title.id)"
          change
          :table="table.id"
          :tracker="tracker"
          :editing="editing?.field === title.id ? editing : undefined"
          @begin="begin(title.id)"
          @cancel="cancel(title!.id, $event)"
          @commit="(input, move) => commit(title!, input, move)"
        />
        <h2 v-else class="title">{{ look.name || `New ${table.one}` }}</h2>
        <p v-if="title" class="what" :class="{ asked: isMissing(title.id) }"
          >{{ title.name }}{{ isMissing(title.id) ? ', still asked' : '' }}</p
        >
      </div>
      <FolioSections />
      <footer class="acts">
        <p class="says" role="status">{{ look.says || 'It can be added.' }}</p>
        <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
        <v-btn color="primary" data-test="draft-add" :disabled="busy" @click="add(false)">Add {{ table.one }}</v-btn>
        <v-btn variant="text" data-test="draft-next" :disabled="busy" @click="add(true)">Add and next</v-btn>
        <span class="keys quiet">Tab goes on, Ctrl Enter adds, with Shift also the next</span>
      </footer>
    </template>
    <p v-else-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  </aside>
</template>

<style scoped>
.folio {
  container: folio / inline-size;
  position: relative;
  background: var(--stone);
  padding: var(--gap-3) 22px var(--gap-5);
  overflow-y: auto;
  min-width: 0;
  border-left: 3px solid var(--copper);
}
.folio:focus {
  outline: 0;
}
.whole {
  max-width: 860px;
  margin: 0 auto;
  min-height: calc(100dvh - var(--band));
}
.walk {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-4);
  align-items: baseline;
}
.walk button {
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
  padding: 2px;
  font-size: 13px;
  text-decoration: underline;
  text-underline-offset: 3px;
  text-decoration-color: var(--line-strong);
}
.right {
  margin-left: auto;
  display: flex;
  gap: var(--gap-4);
}
.over {
  color: var(--copper);
  font-size: 13px;
  margin: 0;
}
.title-line {
  margin-bottom: var(--gap-3);
}
.title {
  font: 600 24px/1.25 var(--serif);
  margin: 4px 0 0;
  background: var(--sheet);
  padding: 2px 10px;
}
.what {
  margin: 2px 0 0;
  font-size: 12.5px;
  color: var(--quiet);
}
.asked {
  color: var(--copper);
}
.acts {
  position: sticky;
  bottom: calc(-1 * var(--gap-5));
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--gap-2) var(--gap-3);
  background: var(--stone);
  border-top: 1px solid var(--line-strong);
  margin-top: var(--gap-4);
  padding: var(--gap-2) 0;
  z-index: 1;
}
.acts p {
  margin: 0;
  width: 100%;
}
.says {
  font: 16px/1.4 var(--serif);
  min-height: 22px;
}
.keys {
  font-size: 12.5px;
}
@media (max-width: 800px) {
  .folio {
    padding: var(--gap-3);
  }
  .acts {
    bottom: calc(-1 * var(--gap-3));
  }
  .keys {
    display: none;
  }
}
@media (pointer: coarse) {
  .walk button {
    min-height: 40px;
  }
}
</style>
