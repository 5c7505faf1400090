<script setup lang="ts">
// Where one says something: typed, with people by @ and records by #, each picked from a list that says who would be reached.
import { computed, nextTick, ref, watch } from 'vue'
import { useSessionStorage } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { Addressee, TalkPart } from '@/api/types'
import { useDoing } from '@/app/asking'
import FileList from '@/features/files/FileList.vue'
import FileSends from '@/features/files/FileSends.vue'
import { bringsFiles, filesOf, type Attachment } from '@/features/files/files'
import { useFilesBeside } from '@/features/files/sending'
import type { Beside } from './talking'
import { askedAt, partsOf, typedOf, type Named } from './wording'

const props = defineProps<{
  at: { tracker: number; table: number; record: number }
  /** Under what it is kept until it is said. */
  draft: string
  label: string
  does: string
  /** What was said before, to be changed. */
  before?: { part: TalkPart; text: string }[]
  /** The files that it brought. */
  brought?: Attachment[]
  send: (said: TalkPart[], beside: Beside) => Promise<void>
  small?: boolean
}>()
const emit = defineEmits<{ done: []; leave: [] }>()

const kept = useSessionStorage<Record<string, { text: string; named: Named[] }>>('westerfall talk', {})
const began = props.before ? typedOf(props.before) : kept.value[props.draft]
const text = ref(began?.text ?? '')
const named = ref<Named[]>(began?.named ?? [])
const box = ref<HTMLTextAreaElement>()
const { attempt, trouble, busy } = useDoing()

// What it brings: new files on their way, and those of what was said before, which can be taken out.
const files = useFilesBeside()
const stays = ref<Attachment[]>([...(props.brought ?? [])])
const says = computed(() => !!text.value.trim() || !!files.tokens.value.length || !!stays.value.length)
const over = ref(false)
function bring(event: Event) {
  const input = event.target as HTMLInputElement
  void files.send([...(input.files ?? [])])
  input.value = ''
}
/** Dropped or pasted: files are taken, everything else goes its own way. */
function given(event: DragEvent | ClipboardEvent) {
  over.value = false
  const brought = props.before ? [] : filesOf('dataTransfer' in event ? event.dataTransfer : event.clipboardData)
  if (!brought.length) return
  event.preventDefault()
  void files.send(brought)
}
function dragged(event: DragEvent) {
  over.value = !props.before && bringsFiles(event)
  if (over.value) event.preventDefault()
}

// A page loaded anew loses nothing that was typed.
watch([text, named], () => {
  if (props.before) return
  const rest = Object.fromEntries(Object.entries(kept.value).filter(([key]) => key !== props.draft))
  kept.value = text.value ? { ...rest, [props.draft]: { text: text.value, named: named.value } } : rest
})

interface Proposal {
  label: string
  says: string
  reached: boolean
  part: TalkPart
}
const asking = ref<{ sign: '@' | '#'; words: string; from: number }>()
const proposals = ref<Proposal[]>([])
const chosen = ref(0)
const picks = useDoing()

const person = (one: Addressee): Proposal => ({ label: `@${one.name}`, says: one.says, reached: one.sees, part: one.whom })
async function propose() {
  asking.value = askedAt(text.value, box.value?.selectionStart ?? text.value.length)
  const now = asking.value
  if (!now || (now.sign === '#' && now.words.trim().length < 2)) {
    proposals.value = []
    return
  }
  const found = await picks.newest(async () => {
    if (now.sign === '@') {
      const params = { path: { ...props.at }, query: { search: now.words } }
      return (await told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/whom', { params }))).map(person)
    }
    const body = { text: now.words, lines: 4 }
    const records = await told(api.POST('/api/trackers/{tracker}/find', { params: { path: { tracker: props.at.tracker } }, body }))
    return records.tables.flatMap((one) =>
      one.lines.map((line): Proposal => ({
        label: `#${line.name}`,
        says: [one.name, line.beside].filter(Boolean).join(', '),
        reached: true,
        part: { record: { table: one.table, record: line.record } },
      })),
    )
  })
  if (!found) return
  // What one has already typed whole, and goes on behind, asks for nothing.
  proposals.value = named.value.some((one) => text.value.slice(now.from).startsWith(one.label)) ? [] : found.slice(0, 8)
  chosen.value = 0
}

async function pick(one: Proposal) {
  const now = asking.value
  if (!now) return
  const end = now.from + 1 + now.words.length
  text.value = `${text.value.slice(0, now.from)}${one.label} ${text.value.slice(end)}`
  if (!named.value.some((other) => other.label === one.label)) named.value = [...named.value, { label: one.label, part: one.part }]
  proposals.value = []
  await nextTick()
  const caret = now.from + one.label.length + 1
  box.value?.focus()
  box.value?.setSelectionRange(caret, caret)
}

async function say() {
  if (!says.value || files.isComing.value) return
  const sent = await attempt(async () => {
    const beside = { tokens: files.tokens.value, files: stays.value.map((file) => file.id) }
    await props.send(partsOf(text.value, named.value), beside)
    return true
  })
  if (!sent) return
  files.done()
  text.value = ''
  named.value = []
  emit('done')
}

function keys(event: KeyboardEvent) {
  const open = proposals.value.length
  if (open && (event.key === 'ArrowDown' || event.key === 'ArrowUp'))
    chosen.value = (chosen.value + (event.key === 'ArrowDown' ? 1 : -1) + open) % open
  else if (open && (event.key === 'Enter' || event.key === 'Tab') && !event.ctrlKey) void pick(proposals.value[chosen.value]!)
  else if (open && event.key === 'Escape') proposals.value = []
  else if (event.key === 'Escape') emit('leave')
  else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void say()
  else return
  event.preventDefault()
  event.stopPropagation()
}

/** Named ones who would not be told, in the list’s own words. */
const unreached = ref<Record<string, string>>({})
watch(proposals, (now) => {
  for (const one of now) if (!one.reached) unreached.value[one.label] = one.says
})
const warned = computed(() => named.value.filter((one) => text.value.includes(one.label) && unreached.value[one.label]))

defineExpose({ focus: () => box.value?.focus() })
</script>

<template>
  <div class="box" :class="{ small, over }" @dragover="dragged" @dragleave="over = false" @drop="given">
    <textarea
      ref="box"
      v-model="text"
      class="boxed"
      :rows="small || !text ? 2 : 3"
      :aria-label="label"
      :placeholder="label"
      maxlength="5000"
      role="combobox"
      aria-autocomplete="list"
      :aria-expanded="!!proposals.length"
      :aria-controls="`${draft}-list`"
      :aria-activedescendant="proposals.length ? `${draft}-${chosen}` : undefined"
      data-test="talk-box"
      @input="propose"
      @click="propose"
      @keydown="keys"
      @blur="proposals = []"
      @paste="given"
    ></textarea>
    <p v-if="over" class="quiet dropping">Let go to add it to what you say.</p>
    <ul v-if="proposals.length" :id="`${draft}-list`" class="list" role="listbox" aria-label="Whom or what you mean">
      <li
        v-for="(one, n) in proposals"
        :id="`${draft}-${n}`"
        :key="one.label + n"
        role="option"
        :aria-selected="n === chosen"
        :class="{ chosen: n === chosen, not: !one.reached }"
        :data-named="one.label"
        @mousedown.prevent="pick(one)"
      >
        <b>{{ one.label.slice(1) }}</b> <span>{{ one.says }}</span>
      </li>
    </ul>
    <p v-for="one in warned" :key="one.label" class="warned" data-test="not-reached"
      >{{ one.label.slice(1) }}: {{ unreached[one.label] }}.</p
    >
    <FileList :files="stays" takes @take-out="(file) => (stays = stays.filter((one) => one.id !== file.id))" />
    <FileSends :lines="files.lines.value" @stop="files.stop" @go-on="files.goOn" />
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p class="acts">
      <v-btn
        v-if="says || before || files.lines.value.length"
        size="small"
        color="primary"
        :loading="busy"
        :disabled="!says || files.isComing.value"
        data-test="talk-say"
        @click="say"
        >{{ does }}</v-btn
      >
      <button v-if="small || before" type="button" class="link" @click="emit('leave')">Leave it</button>
      <label v-if="!before" class="bring"
        >add files <input type="file" multiple class="unseen" :aria-label="`add files to: ${label}`" data-test="talk-files" @change="bring"
      /></label>
      <span v-if="says" class="quiet keys">Ctrl Enter; <kbd>@</kbd> a person, <kbd>#</kbd> a record, **strong**, *soft*</span>
    </p>
  </div>
</template>

<style scoped>
.box {
  position: relative;
}
textarea {
  width: 100%;
  padding: 8px 12px;
  font: 16px/1.4 var(--serif);
  resize: vertical;
}
.small textarea {
  font-size: 15px;
}
.list {
  position: absolute;
  z-index: 4;
  right: 0;
  left: 24px;
  margin: -6px 0 0;
  padding: 0;
  list-style: none;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--moss);
}
.list li {
  padding: 6px 10px;
  cursor: pointer;
}
.list span {
  display: block;
  font-size: 12.5px;
  color: var(--quiet);
}
.chosen {
  background: var(--moss-soft);
}
.not b {
  font-weight: 400;
}
.warned {
  margin: 4px 0 0;
  color: var(--copper);
  font-size: 13px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-3);
  align-items: center;
  margin: 6px 0 0;
}
.over textarea {
  outline: 2px dashed var(--moss);
  outline-offset: 2px;
}
.dropping {
  margin: 4px 0 0;
  font-size: 13px;
}
.bring {
  position: relative;
  font-size: 13px;
  color: var(--moss);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
.bring:focus-within {
  outline: 2px solid var(--moss);
}
.keys {
  font-size: 12.5px;
}
@media (pointer: coarse) {
  .keys {
    display: none;
  }
  .list li,
  .bring,
  .acts .link {
    min-height: 44px;
  }
}
</style>
