<script setup lang="ts">
// The files of a record: pictures are shown, others named; added by choosing, dropping or pasting them, and looked at large.
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import { api, told } from '@/api/client'
import type { Cell, Field } from '@/api/types'
import { useDoing } from '@/app/asking'
import { files } from '@/features/cell/kinds'
import { useEdits } from '@/features/cell/edits'
import FileList from '@/features/files/FileList.vue'
import FileSends from '@/features/files/FileSends.vue'
import { addressAs, bringsFiles, filesOf, type Attachment } from '@/features/files/files'
import { useFileSending } from '@/features/files/sending'
import type { Hanging } from './desk'

const props = defineProps<{
  /** The record; none while it is on its way. */
  at: { tracker: number; table: number; record: number } | undefined
  field: Field
  cell: Cell | null | undefined
  change: boolean
  /** They are still asked. */
  missing?: boolean
  /** What puts files that came beside those that are there. */
  hang: (field: number) => Hanging
  /** Says which of them stay. */
  keep: (field: Field, files: Attachment[]) => void
}>()
const emit = defineEmits<{ changed: [] }>()

const edits = useEdits()
const list = computed(() => files(props.cell))
const may = computed(() => props.change && props.field.writes)

// They go to the record at which they were brought, also where one has walked on by then.
const sending = useFileSending<Hanging>((hang, tokens) => hang(tokens))
const send = (files: File[]) => sending.send(files, props.hang(props.field.id))

function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  void send([...(input.files ?? [])])
  input.value = ''
}

const section = useTemplateRef<HTMLElement>('section')
const over = ref(false)
function dropped(event: DragEvent) {
  over.value = false
  if (may.value) void send(filesOf(event.dataTransfer))
}
function dragged(event: DragEvent) {
  over.value = may.value && bringsFiles(event)
  if (over.value) event.preventDefault()
}

function takeOut(id: string) {
  const rest = list.value.filter((file) => file.id !== id)
  props.keep(props.field, rest)
}

// An address with a title.
const address = ref<{ address: string; title: string }>()
async function askAddress() {
  address.value = address.value ? undefined : { address: '', title: '' }
  await nextTick()
  section.value?.querySelector<HTMLElement>('[data-test=address]')?.focus()
}
function putAddress() {
  if (!address.value?.address.trim()) return
  props.keep(props.field, [...list.value, addressAs(address.value.address.trim(), address.value.title)])
  address.value = undefined
}

const { trouble, busy, attempt } = useDoing()
async function turn(file: Attachment, quarters: number) {
  const at = props.at
  if (!at) return
  await attempt(async () => {
    const done = await told(
      api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/files/{field}/turn', {
        params: { path: { ...at, field: props.field.id } },
        body: { file: file.id, quarters },
      }),
    )
    edits.remember(at.tracker, done)
    emit('changed')
  })
}
</script>

<template>
  <section ref="section" class="files" :class="{ over }" @dragover="dragged" @dragleave="over = false" @drop.prevent="dropped">
    <h3>
      {{ field.name }}<span v-if="missing" class="missing">, still asked</span>
      <template v-if="may">
        <label class="put">
          add files
          <input type="file" multiple class="unseen" @change="chosen" />
        </label>
        <button class="put" :aria-expanded="!!address" @click="askAddress"> add an address </button>
      </template>
    </h3>
    <p v-if="over" class="quiet">Let go to add to {{ field.name }}.</p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <form v-if="address" class="address" @submit.prevent="putAddress" @keydown.esc.stop="address = undefined">
      <label class="asked">Address <input v-model="address.address" type="url" placeholder="https://" data-test="address" /></label>
      <label class="asked">Title <input v-model="address.title" /></label>
      <button class="put" type="submit">add</button>
    </form>
    <FileSends :lines="sending.lines.value" @stop="sending.stop" @go-on="sending.goOn" />
    <FileList :files="list" :takes="may" :turns="!!at" :busy="busy" @take-out="takeOut($event.id)" @turn="turn" />
  </section>
</template>

<style scoped>
.files {
  margin-top: var(--gap-4);
  border-radius: var(--corner);
}
.files.over {
  outline: 2px dashed var(--moss);
  outline-offset: 4px;
}
h3 {
  font: 600 16px/1.4 var(--serif);
}
.put {
  display: inline-block;
  min-height: 24px;
  padding: 2px 4px;
  border: 0;
  background: none;
  color: var(--moss);
  font: 13px var(--sans);
  cursor: pointer;
}
.missing {
  font: 13px var(--sans);
  color: var(--copper);
}
h3 .put {
  margin-left: 6px;
}
.put:focus-within {
  outline: 2px solid var(--moss);
}
.address {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: end;
  margin-top: 6px;
}
.address label {
  flex: 1 1 160px;
}
.address input {
  min-height: 32px;
  padding: 3px 8px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
}
</style>
