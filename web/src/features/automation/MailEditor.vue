<script setup lang="ts">
// A message step: to whom, its heading and its text, with fields in braces.
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { api, told, type Problem } from '@/api/client'
import type { MailStep, Reply, Table } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { toFirstWrong } from '@/app/wrong'
import { paths } from '@/features/condition/checks'
import { selectAll } from '@/features/condition/selectAll'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import { useDocuments } from '@/features/document/documents'
import PickOne from '@/features/menu/PickOne.vue'
import { recipients } from './recipients'
import ReplyEditor from './ReplyEditor.vue'
import { alsoWritten, useTexts } from './texts'
import WordingBox from './WordingBox.vue'

const { tracker: currentTracker } = useTracker()

const props = defineProps<{
  table: Table
  step: MailStep
  /** The step's place. */
  at: string
  /** The part of it that was pressed. */
  part?: string
  /** Whether it may be one message of many records. */
  gathers?: boolean
  problem?: Problem
  readonly: boolean
}>()
const emit = defineEmits<{ keep: [step: MailStep]; leave: [] }>()

const draft = ref<MailStep>(JSON.parse(JSON.stringify(props.step)) as MailStep)
const mail = useTemplateRef<HTMLElement>('mail')
// Whoever pressed what may be answered sees that first, once the editor has its place.
onMounted(() => {
  if (!props.part?.startsWith(`${props.at}/mail/reply`)) return
  requestAnimationFrame(() => mail.value?.querySelector('.reply')?.scrollIntoView({ block: 'start' }))
})
// It is longer than a screen, and kept at its foot.
watch(
  () => props.problem,
  (problem) => problem && void toFirstWrong(mail.value),
)
const answered = ref(!!props.step.reply)
/** What may be answered; nothing while it says too little. */
const reply = ref<Reply | undefined>(props.step.reply ?? undefined)
const asks = computed(() => answered.value && !draft.value.digest)
function keep() {
  const encloses = draft.value.digest ? null : draft.value.encloses
  emit('keep', { ...draft.value, encloses, reply: asks.value ? reply.value : undefined })
}
// The team's texts by which it may be written.
const { texts, again: textsAgain } = useTexts(() => currentTracker.value?.id ?? 0)
const parts = useParts(() => currentTracker.value?.id ?? 0)
const storing = useDoing()
const stored = computed(() => texts.value.find((one) => one.id === draft.value.text))
const ways = computed(() => [
  { value: null as number | null, title: 'its own words' },
  ...texts.value
    .filter((one) => one.table === props.table.id)
    .map((one) => ({ value: one.id as number | null, title: `the text “${one.name}”` })),
])
/** What its own words are kept as, for other messages, too. */
const name = ref<string>()
async function store() {
  const { subject, body } = draft.value
  const text = { table: props.table.id, name: name.value ?? '', subject, body }
  const done = await storing.attempt(() => parts.make({ text }))
  if (!done) return
  await textsAgain()
  draft.value.text = done.made
  name.value = undefined
}
// What can be printed of the record.
const { documents } = useDocuments(
  () => currentTracker.value?.id ?? 0,
  () => props.table.id,
)
const sheets = computed(() => [
  { value: null as number | null, title: 'nothing' },
  ...documents.value.map((one) => ({ value: one.id as number | null, title: `“${one.title}”` })),
])
// Which roles there are is told to those who give them.
const roles = useAsked(
  () => ['roles', currentTracker.value?.id ?? 0],
  () => told(api.GET('/api/trackers/{tracker}/roles', { params: { path: { tracker: currentTracker.value?.id ?? 0 } } })),
)
const all = computed(() => (currentTracker.value ? paths(currentTracker.value, props.table) : []))
const ROLE = 'role '
/** What is typed, by the word under which it is kept. */
const TYPED = {
  address: { name: 'another address', label: 'Address', type: 'email' },
  phone: { name: 'a phone number', label: 'Phone number', type: 'tel' },
  room: { name: 'a room of the chat', label: 'Name of the room', type: 'text' },
} as const
type Typed = keyof typeof TYPED
const isTyped = (key: string): key is Typed => key in TYPED
const known = computed(() => {
  const tracker = currentTracker.value
  if (!tracker) return []
  return [
    ...recipients(tracker, props.table).map((one) => ({ key: one.key, name: one.name })),
    ...(roles.told.value ?? []).map(({ role }) => ({ key: `${ROLE}${role.id}`, name: `everybody who is ${role.name}` })),
    ...Object.entries(TYPED).map(([key, { name }]) => ({ key, name })),
  ]
})
const to = computed(() => {
  const now = draft.value.to
  if ('field' in now) return now.field.join('.')
  return 'role' in now ? `${ROLE}${now.role}` : Object.keys(now)[0]!
})
const typed = computed(() => (isTyped(to.value) ? { key: to.value, ...TYPED[to.value] } : undefined))
const written = computed({
  get: () => Object.values(draft.value.to).find((value) => typeof value === 'string') ?? '',
  set: (text) => typed.value && (draft.value.to = recipient(typed.value.key, text.trim())),
})
function recipient(key: Typed, text: string): MailStep['to'] {
  if (key === 'address') return { address: text }
  return key === 'phone' ? { phone: text } : { room: text }
}
/** By which way it goes, where that is not mail to everybody. */
const goes = computed(() => {
  const now = draft.value.to
  if ('address' in now) return undefined
  if ('room' in now) return 'It goes into that room, with its answers as buttons.'
  const kind = 'field' in now ? all.value.find((one) => one.key === to.value)?.field.shows.type : undefined
  if (kind === 'email') return undefined
  if ('phone' in now || kind === 'phone') return 'It goes as a text: the heading, and as much of the text as fits in three parts.'
  return 'Each gets it by the way they chose: mail, chat or text.'
})

function setTo(key: string | null) {
  if (key === null || key === to.value) return
  if (isTyped(key)) draft.value.to = recipient(key, '')
  else if (key.startsWith(ROLE)) draft.value.to = { role: Number(key.slice(ROLE.length)) }
  else draft.value.to = { field: key.split('.').map(Number) }
}

const fault = (part: string) => props.problem?.at(`${props.at}/mail/${part}`)
</script>

<template>
  <div ref="mail" class="mail">
    <p class="label" aria-hidden="true">To</p>
    <v-autocomplete
      :model-value="to"
      :items="known"
      item-value="key"
      item-title="name"
      aria-label="To"
      data-test="mail-to"
      :error-messages="typed ? undefined : fault('to')"
      @focus="selectAll"
      @update:model-value="setTo"
    />
    <v-text-field
      v-if="typed"
      :key="typed.key"
      v-model="written"
      :type="typed.type"
      :aria-label="typed.label"
      :placeholder="typed.label"
      :error-messages="fault('to')"
      data-test="mail-address"
    />
    <p v-if="goes" class="goes" data-test="mail-goes">{{ goes }}</p>
    <p v-if="ways.length > 1" class="digest"
      >It is written by
      <PickOne
        said
        :model-value="draft.text ?? null"
        :items="ways"
        aria-label="By what it is written"
        data-test="mail-text"
        @update:model-value="draft.text = $event"
    /></p>
    <p v-if="fault('text')" class="fault-text" role="alert">{{ fault('text') }}</p>
    <div v-if="stored" class="stored" data-test="stored-text">
      <p class="heading">{{ stored.subject }}</p>
      <p class="body">{{ stored.body }}</p>
      <p class="quiet">{{ alsoWritten(stored) }} It is changed below, among the texts, for all that is written by it.</p>
    </div>
    <template v-else>
      <p class="label" aria-hidden="true">Heading</p>
      <v-text-field v-model="draft.subject" aria-label="Heading" :error-messages="fault('subject')" data-test="mail-subject" />
      <WordingBox
        v-model="draft.body"
        :table="table"
        :label="draft.digest ? `What is said of each ${table.one}` : 'Text'"
        :rows="draft.digest ? 3 : 8"
        :fault="fault('body')"
        test="mail-body"
      />
      <p v-if="name === undefined && !readonly" class="digest"
        ><button type="button" class="link" :disabled="!draft.subject.trim()" data-test="store-text" @click="name = ''"
          >Keep these words as a text, for other messages, too</button
        ></p
      >
      <div v-else-if="name !== undefined" class="storing">
        <v-text-field
          v-model="name"
          aria-label="What the text is called"
          placeholder="what the text is called"
          :error-messages="storing.trouble.value"
          data-test="store-name"
        />
        <v-btn size="small" color="primary" :disabled="!name.trim() || storing.busy.value" data-test="store-yes" @click="store"
          >Keep it</v-btn
        >
        <v-btn size="small" variant="text" @click="name = undefined">Leave it</v-btn>
      </div>
    </template>
    <label v-if="gathers || draft.digest" class="digest"
      ><input v-model="draft.digest" type="checkbox" data-test="mail-digest" /> one message for each reader, of all {{ table.many }} at
      once</label
    >
    <p v-if="!draft.digest && documents.length" class="digest"
      >It encloses
      <PickOne
        said
        :model-value="draft.encloses ?? null"
        :items="sheets"
        aria-label="What it encloses"
        data-test="mail-encloses"
        @update:model-value="draft.encloses = $event"
      /><template v-if="draft.encloses">, printed when it is sent, as its reader may see it then</template>.</p
    >
    <p v-if="fault('encloses')" class="fault-text" role="alert">{{ fault('encloses') }}</p>
    <template v-if="!draft.digest">
      <label class="digest"
        ><input v-model="answered" type="checkbox" data-test="mail-answered" /> it can be answered from within, without signing in</label
      >
      <ReplyEditor v-if="answered" :table="table" :reply="step.reply" :at="`${at}/mail/reply`" :problem="problem" @typed="reply = $event" />
      <p v-if="fault('reply')" class="fault-text" role="alert">{{ fault('reply') }}</p>
    </template>
    <div class="acts">
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
      <v-btn color="primary" :disabled="readonly || (asks && !reply)" data-test="keep-mail" @click="keep">Keep the message</v-btn>
    </div>
  </div>
</template>

<style scoped>
.mail {
  display: grid;
  gap: var(--gap-3);
  width: min(520px, 90vw);
  max-width: 100%;
}
.label {
  margin: 0 0 -8px;
  color: var(--quiet);
  font-size: 12.5px;
}
.stored {
  border-left: 3px solid var(--line-strong);
  padding-left: var(--gap-3);
}
.stored p {
  margin: 0 0 4px;
}
.stored .heading {
  font-weight: 600;
}
.stored .body {
  white-space: pre-line;
}
.storing {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
}
.storing > :first-child {
  flex: 1 1 200px;
}
.digest {
  font-size: 14px;
}
.goes {
  margin: -4px 0 0;
  color: var(--quiet);
  font-size: 13px;
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
}
</style>
