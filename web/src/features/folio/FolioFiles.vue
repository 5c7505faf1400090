<script setup lang="ts">
// The files of a record: pictures are shown, others named; added by choosing, dropping or pasting them, and looked at large.
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import { api, told } from '@/api/client'
import type { Cell, Field, Input } from '@/api/types'
import { useDoing } from '@/app/asking'
import { files } from '@/features/cell/kinds'
import { useEdits } from '@/features/cell/edits'
import FileGlass from '@/features/files/FileGlass.vue'
import FileSends from '@/features/files/FileSends.vue'
import { addressAs, addressOf, bringsFiles, facts, filesOf, isPicture, shownAs, type Attachment } from '@/features/files/files'
import { useFileSending } from '@/features/files/sending'

const props = defineProps<{
  at: { tracker: number; table: number; record: number }
  field: Field
  cell: Cell | null | undefined
  change: boolean
}>()
const emit = defineEmits<{ changed: []; commit: [input: Input] }>()

const edits = useEdits()
const list = computed(() => files(props.cell))
const pictures = computed(() => list.value.filter(isPicture))
const others = computed(() => list.value.filter((file) => !isPicture(file)))
const may = computed(() => props.change && props.field.writes)
const place = () => ({ ...props.at, field: props.field.id })

const sending = useFileSending(place, (done) => {
  edits.remember(props.at.tracker, done)
  emit('changed')
})

function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  void sending.send([...(input.files ?? [])])
  input.value = ''
}

const section = useTemplateRef<HTMLElement>('section')
const over = ref(false)
function dropped(event: DragEvent) {
  over.value = false
  if (may.value) void sending.send(filesOf(event.dataTransfer))
}
function dragged(event: DragEvent) {
  over.value = may.value && bringsFiles(event)
  if (over.value) event.preventDefault()
}

function takeOut(id: string) {
  const rest = list.value.filter((file) => file.id !== id)
  emit('commit', { value: rest.length ? { files: rest } : 'empty' })
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
  emit('commit', { value: { files: [...list.value, addressAs(address.value.address.trim(), address.value.title)] } })
  address.value = undefined
}

// Looked at large: those that are files, in the order in which they stand.
const glass = ref<number>()
const looked = computed<Attachment[]>(() => [...pictures.value, ...others.value.filter((file) => shownAs(file) !== 'address')])
/** What one pressed to look: the keys go back there. */
let pressed: Element | null = null
function lookAt(file: Attachment) {
  pressed = document.activeElement
  glass.value = looked.value.findIndex((one) => one.id === file.id)
}
async function lookAway() {
  glass.value = undefined
  await nextTick()
  if (pressed instanceof HTMLElement) pressed.focus()
}

const { trouble, busy, attempt } = useDoing()
async function turn(file: Attachment, quarters: number) {
  await attempt(async () => {
    const done = await told(
      api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/files/{field}/turn', {
        params: { path: place() },
        body: { file: file.id, quarters },
      }),
    )
    edits.remember(props.at.tracker, done)
    emit('changed')
  })
}
</script>

<template>
  <section ref="section" class="files" :class="{ over }" @dragover="dragged" @dragleave="over = false" @drop.prevent="dropped">
    <h3>
      {{ field.name }}
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
    <div v-if="pictures.length" class="pictures">
      <figure v-for="file in pictures" :key="file.id">
        <button class="look" :aria-label="`Look at ${file.name}`" @click="lookAt(file)">
          <img :src="addressOf(file, 'small')" :alt="file.name" />
        </button>
        <button v-if="may" class="out" :aria-label="`Take out ${file.name}`" @click="takeOut(file.id)">×</button>
      </figure>
    </div>
    <ul v-if="others.length" class="others">
      <li v-for="file in others" :key="file.id">
        <a v-if="shownAs(file) === 'address'" :href="file.id" target="_blank" rel="noreferrer noopener">{{ file.name }}</a>
        <a v-else-if="shownAs(file) === 'named'" :href="addressOf(file, 'keep')" :download="file.name">{{ file.name }}</a>
        <button v-else class="name" @click="lookAt(file)">{{ file.name }}</button>
        <span class="quiet">{{ facts(file) }}</span>
        <button v-if="may" class="put" :aria-label="`Take out ${file.name}`" @click="takeOut(file.id)">take out</button>
      </li>
    </ul>
    <FileGlass
      v-if="glass !== undefined"
      :model-value="glass"
      :files="looked"
      :turns="may"
      :busy="busy"
      @update:model-value="glass = $event"
      @turn="turn"
      @leave="lookAway"
    />
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
.put,
.name {
  display: inline-block;
  min-height: 24px;
  padding: 2px 4px;
  border: 0;
  background: none;
  color: var(--moss);
  font: 13px var(--sans);
  cursor: pointer;
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
.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  margin-top: 6px;
}
figure {
  margin: 0;
  position: relative;
}
.look {
  padding: 0;
  border: 0;
  background: none;
  cursor: zoom-in;
}
img {
  display: block;
  height: 110px;
  max-width: 100%;
  border: 1px solid var(--line);
  border-radius: var(--corner);
}
.out {
  position: absolute;
  top: 4px;
  right: 4px;
  border: 0;
  border-radius: 50%;
  width: 24px;
  height: 24px;
  background: var(--sheet);
  color: var(--ink);
  cursor: pointer;
}
.others {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
.others li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  column-gap: 10px;
  padding: 2px 0;
}
.others .name {
  padding: 2px 0;
  font-size: 14px;
  text-align: left;
  text-decoration: underline;
  text-underline-offset: 2px;
}
.others a,
.others .name {
  overflow-wrap: anywhere;
}
</style>
