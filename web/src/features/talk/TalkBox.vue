<script setup lang="ts">
// Where one says something: typed, with people by @ and records by #, each picked from a list that says who would be reached.
import { computed, nextTick, ref, watch } from 'vue'
import { useSessionStorage } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { Addressee, TalkPart } from '@/api/types'
import { useDoing } from '@/app/asking'
import { askedAt, partsOf, typedOf, type Named } from './wording'

const props = defineProps<{
  at: { tracker: number; table: number; record: number }
  /** Under what it is kept until it is said. */
  draft: string
  label: string
  does: string
  /** What was said before, to be changed. */
  before?: { part: TalkPart; text: string }[]
  send: (said: TalkPart[]) => Promise<void>
  small?: boolean
}>()
const emit = defineEmits<{ done: []; leave: [] }>()

const kept = useSessionStorage<Record<string, { text: string; named: Named[] }>>('westerfall talk', {})
const began = props.before ? typedOf(props.before) : kept.value[props.draft]
const text = ref(began?.text ?? '')
const named = ref<Named[]>(began?.named ?? [])
const box = ref<HTMLTextAreaElement>()
const { attempt, trouble, busy } = useDoing()

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
  if (!text.value.trim()) return
  const sent = await attempt(async () => {
    await props.send(partsOf(text.value, named.value))
    return true
  })
  if (!sent) return
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
  <div class="box" :class="{ small }">
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
    ></textarea>
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
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-if="text.trim() || before" class="acts">
      <v-btn size="small" color="primary" :loading="busy" data-test="talk-say" @click="say">{{ does }}</v-btn>
      <button v-if="small || before" type="button" class="link" @click="emit('leave')">Leave it</button>
      <span class="quiet keys">Ctrl Enter; <kbd>@</kbd> a person, <kbd>#</kbd> a record, **strong**, *soft*</span>
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
.keys {
  font-size: 12.5px;
}
@media (pointer: coarse) {
  .keys {
    display: none;
  }
  .list li,
  .acts .link {
    min-height: 44px;
  }
}
</style>
