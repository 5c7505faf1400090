<script setup lang="ts">
// A record opened: facts, files, linked records both ways, and its trail.
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { saying, theirsOf } from '@/api/client'
import type { Field, Input, Table, Value } from '@/api/types'
import { useEdits } from '@/features/cell/edits'
import { isKept } from '@/features/cell/kinds'
import { useSession } from '@/features/session/session'
import { useTracker } from '@/features/tracker/tracker'
import { askAccess, askWhy } from '@/features/why/why'
import { lookOf } from '@/features/highlight/looks'
import FolioFact from './FolioFact.vue'
import FolioNewField from './FolioNewField.vue'
import FolioLines from './FolioLines.vue'
import FolioFiles from './FolioFiles.vue'
import FolioTrail from './FolioTrail.vue'
import LifeLine from './LifeLine.vue'
import WaitingNames from './WaitingNames.vue'
import { useFolio } from './folio'

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
const { record: known, trail, runs, trouble, read } = useFolio(at)
/** What is being edited, and what stood there when one began: what somebody else put there since, one has not seen. */
const editing = ref<{ field: number; was?: Value; fault?: string }>()
const copied = ref(false)
const more = ref(false)
const adding = ref(false)

const facts = computed(() =>
  (known.value?.fields ?? []).flatMap((id, n) => {
    const field = props.table.fields.find((f) => f.id === id)
    return field ? [{ field, cell: known.value!.row.cells[n] }] : []
  }),
)
/** What stood in a field before, as far as the trail tells; nothing where it is as it came. */
const until = (field: number) =>
  trail.value.flatMap((entry) => (entry.what === 'added' ? [] : entry.edits)).find((edit) => edit.field === field)?.until
const isList = (field: Field) => field.kind.type === 'link' && !field.kind.one
// What stands in the head or further down is not said twice.
const ELSEWHERE = ['files', 'numbering']
const plain = computed(() =>
  facts.value.filter(
    (f) => !isList(f.field) && !ELSEWHERE.includes(f.field.kind.type) && !isKept(f.field) && f.field.id !== props.table.standing,
  ),
)
const title = computed(() => facts.value.find((f) => f.field.id === props.table.standing))
const pictures = computed(() => facts.value.filter((f) => f.field.kind.type === 'files'))
const tableTo = (field: Field) => currentTracker.value?.tables.find((t) => t.id === tableOf(field))
const asLines = computed(() =>
  facts.value.flatMap((f) => {
    const lines = f.field.lines && isList(f.field) ? tableTo(f.field) : undefined
    return lines ? [{ ...f, lines }] : []
  }),
)
const lists = computed(() => facts.value.filter((f) => isList(f.field) && !asLines.value.some((l) => l.field.id === f.field.id)))
// Where it is what the record is called by, the head says what sort of record it is.
const number = computed(() => facts.value.find((f) => f.field.kind.type === 'numbering' && f !== title.value)?.cell?.text)
const mayChange = computed(() => !!known.value?.row.change && !me.value?.stands_in)
const address = computed(
  () => router.resolve({ name: 'record', params: { tracker: props.tracker, table: props.table.id, record: props.record } }).href,
)

const valueOf = (id: number): Value => facts.value.find((f) => f.field.id === id)?.cell?.value ?? 'empty'
const begin = (id: number) => (editing.value = { field: id, was: valueOf(id) })

async function commit(field: Field, input: Input) {
  const mine = editing.value
  const was = mine?.field === field.id && mine.was ? mine.was : valueOf(field.id)
  try {
    await edits.edit(at.value, field.id, input, was)
    // Whoever went on to another field meanwhile stays there.
    if (editing.value === mine) editing.value = undefined
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
  const there = facts.value.find((f) => f.field.id === id)?.cell?.value
  const others = typeof there === 'object' && 'people' in there ? there.people : []
  const now: Input =
    field.kind.type === 'people' ? { value: { people: person ? [...others, person] : others } } : { value: person ? { person } : 'empty' }
  await edits.edit(at.value, id, now, undefined)
  await read()
  emit('changed')
}

/** What the choice that a dependent one depends on holds. */
function ground(field: Field): number | null | undefined {
  const on = field.kind.type === 'choice' ? field.kind.on : undefined
  if (on == null) return undefined
  const value = facts.value.find((f) => f.field.id === on)?.cell?.value
  return typeof value === 'object' && 'choice' in value ? value.choice : null
}

// Beside the rows, it is the rows that are left.
onBeforeUnmount(() => {
  if (props.whole && known.value?.row.begun) void edits.left(at.value)
})

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

function tableOf(field: Field): number | undefined {
  return field.shows.type === 'link' ? field.shows.to : undefined
}
const opensTable = (id: number | undefined) => currentTracker.value?.tables.some((t) => t.id === id)
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
      <span v-if="!whole" class="steps">
        <template v-if="place !== undefined">{{ place + 1 }} of {{ count }}</template>
        <button ref="previous" aria-label="Previous, Alt ↑" @click="emit('walk', -1)"><kbd>Alt</kbd> ↑</button>
        <button ref="next" aria-label="Next, Alt ↓" @click="emit('walk', 1)"><kbd>Alt</kbd> ↓</button>
      </span>
      <span class="right">
        <button v-if="currentTracker?.tells_access" data-test="who-sees" @click="askWhoSees">Who sees it?</button>
        <button data-test="copy-address" @click="copyAddress">{{ copied ? 'Address copied' : 'Copy address' }}</button>
        <router-link v-if="!whole" class="wide" :to="address" data-test="whole-page">Whole page</router-link>
        <router-link v-else :to="{ name: 'view', params: { tracker, table: table.id } }">To all {{ table.many }}</router-link>
        <button v-if="!whole" aria-label="Close the folio" @click="emit('close')">Close</button>
      </span>
    </div>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <template v-if="known">
      <FolioFact
        v-if="title"
        class="title"
        :field="title.field"
        :cell="title.cell"
        :look="lookOf(known.row, title.field.id)"
        :change="mayChange"
        :editing="editing?.field === title.field.id ? editing : undefined"
        @begin="begin(title.field.id)"
        @cancel="editing = undefined"
        @commit="commit(title.field, $event)"
      />
      <h2 v-else class="title">{{ known.name }}</h2>
      <LifeLine :trail="trail" :made="known.created" :changed="known.changed" @to="told?.show($event)" />
      <div class="columns">
        <div class="left">
          <WaitingNames v-if="known.waiting.length" :waiting="known.waiting" :table="table" :change="mayChange" @settle="settle" />
          <p v-if="known.parameters.length" class="over"
            >By the link with {{ known.parameters.map((p) => `${p.name}=${p.value}`).join(', ') }}</p
          >
          <div class="facts">
            <FolioFact
              v-for="one in plain"
              :key="one.field.id"
              labelled
              :field="one.field"
              :cell="one.cell"
              :look="lookOf(known.row, one.field.id)"
              :change="mayChange"
              :to="opensTable(tableOf(one.field)) ? tableOf(one.field) : undefined"
              :tracker="tracker"
              :on="ground(one.field)"
              :at="at"
              :until="until(one.field.id)"
              :source="known.moved_on.find((m) => m.field === one.field.id)?.source"
              :editing="editing?.field === one.field.id ? editing : undefined"
              @why="(x, y) => askWhy({ ...at, field: one.field.id }, { x, y })"
              @begin="begin(one.field.id)"
              @cancel="editing = undefined"
              @commit="commit(one.field, $event)"
            />
          </div>
          <FolioFiles
            v-for="one in pictures"
            :key="one.field.id"
            :at="at"
            :field="one.field"
            :cell="one.cell"
            :change="mayChange"
            @changed="(read(), emit('changed'))"
            @commit="commit(one.field, $event)"
          />
          <template v-for="one in asLines" :key="`l${one.field.id}`">
            <FolioLines :at="at" :field="one.field" :lines="one.lines" :change="mayChange" @changed="(read(), emit('changed'))" />
          </template>
          <section v-for="one in lists" :key="one.field.id" class="linked">
            <h3>
              {{ one.field.name }} <span class="quiet">{{ one.cell?.links?.length ?? 0 }}</span>
              <button v-if="mayChange && one.field.writes" class="change" @click="begin(one.field.id)">change</button>
            </h3>
            <FolioFact
              v-if="editing?.field === one.field.id"
              :field="one.field"
              :cell="one.cell"
              :change="mayChange"
              :at="at"
              :editing="editing"
              @cancel="editing = undefined"
              @commit="commit(one.field, $event)"
            />
            <ul v-else>
              <li v-for="link in (one.cell?.links ?? []).slice(0, more ? undefined : 8)" :key="link.id">
                <router-link :to="{ name: 'record', params: { tracker, table: tableOf(one.field), record: link.id } }">{{
                  link.name
                }}</router-link>
                <span class="quiet">{{ link.beside }}</span>
              </li>
            </ul>
            <button v-if="(one.cell?.links?.length ?? 0) > 8 && !more" class="change" @click="more = true">Show all</button>
          </section>
          <button v-if="currentTracker?.builds && !me?.stands_in" class="change add" data-test="folio-add-field" @click="adding = true"
            >+ field</button
          >
          <FolioNewField v-if="adding" :tracker="tracker" :table="table.id" @close="adding = false" @made="read()" />
        </div>
        <FolioTrail
          ref="told"
          :at="at"
          :trail="trail"
          :runs="runs"
          :awaits="known.awaits"
          :change="mayChange"
          @changed="(read(), emit('changed'))"
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
.facts {
  border-top: 1px solid var(--line-strong);
}
.linked {
  margin-top: var(--gap-4);
}
h3 {
  font: 600 16px/1.4 var(--serif);
}
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0 0;
  border-top: 1px solid var(--line-strong);
}
li {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-3);
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
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
