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
import { askWhy } from '@/features/why/why'
import FolioFact from './FolioFact.vue'
import FolioNewField from './FolioNewField.vue'
import FolioLines from './FolioLines.vue'
import FolioFiles from './FolioFiles.vue'
import FolioTrail from './FolioTrail.vue'
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
onMounted(() => {
  // Where the list it was opened from has gone from sight, the keys come here.
  if (document.activeElement === document.body) panel.value?.focus()
})
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
const number = computed(() => facts.value.find((f) => f.field.kind.type === 'numbering')?.cell?.text)
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
      <template v-if="!whole">
        <button ref="previous" aria-label="Previous" title="Alt ↑" @click="emit('walk', -1)">↑</button>
        <button ref="next" aria-label="Next" title="Alt ↓" @click="emit('walk', 1)">↓</button>
        <span v-if="place !== undefined">{{ place + 1 }} of {{ count }}</span>
      </template>
      <span class="right">
        <button data-test="copy-address" @click="copyAddress">{{ copied ? 'Address copied' : 'Copy address' }}</button>
        <router-link v-if="!whole" :to="address" data-test="whole-page">Whole page</router-link>
        <router-link v-else :to="{ name: 'view', params: { tracker, table: table.id } }">To all {{ table.many }}</router-link>
        <button v-if="!whole" aria-label="Close the folio" @click="emit('close')">✕</button>
      </span>
    </div>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <template v-if="known">
      <div class="columns">
        <div class="left">
          <p class="over">
            {{ number ?? table.one
            }}<template v-if="known.came_by"
              >, came by the form <i>{{ known.came_by }}</i></template
            >
          </p>
          <FolioFact
            v-if="title"
            class="title"
            :field="title.field"
            :cell="title.cell"
            :change="mayChange"
            :editing="editing?.field === title.field.id ? editing : undefined"
            @begin="begin(title.field.id)"
            @cancel="editing = undefined"
            @commit="commit(title.field, $event)"
          />
          <h2 v-else>{{ known.name }}</h2>
          <WaitingNames v-if="known.waiting.length" :waiting="known.waiting" :table="table" :change="mayChange" @settle="settle" />
          <p v-if="known.parameters.length" class="over"
            >By the link with {{ known.parameters.map((p) => `${p.name}=${p.value}`).join(', ') }}</p
          >
          <div class="facts">
            <FolioFact
              v-for="one in plain"
              :key="one.field.id"
              labelled
              :class="{ wide: one.field.kind.type === 'long_text' }"
              :field="one.field"
              :cell="one.cell"
              :change="mayChange"
              :to="opensTable(tableOf(one.field)) ? tableOf(one.field) : undefined"
              :tracker="tracker"
              :on="ground(one.field)"
              :at="at"
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
          <p class="kept quiet"
            ><template v-if="known.created">Made {{ known.created }}.</template>{{ ' ' }}
            <template v-if="known.changed">Last changed {{ known.changed }}.</template></p
          >
        </div>
        <FolioTrail :trail="trail" :runs="runs" :tracker="tracker" :awaits="known.awaits" />
      </div>
    </template>
  </aside>
</template>

<style scoped>
.folio {
  background: var(--sheet);
  border-left: 1px solid var(--line-strong);
  padding: var(--gap-3) 22px var(--gap-5);
  overflow-y: auto;
  min-width: 0;
}
.whole {
  border: 0;
  max-width: 1120px;
  margin: 0 auto;
  min-height: calc(100dvh - var(--band));
}
.whole .columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(260px, 2fr);
  gap: 44px;
}
.walk {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  color: var(--quiet);
  font-size: 13px;
}
.walk button,
.walk a {
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
  text-decoration: none;
  padding: 2px;
}
.walk :is(button, a):hover {
  color: var(--ink);
}
.right {
  margin-left: auto;
  display: flex;
  gap: var(--gap-3);
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: var(--gap-3) 0 0;
}
.title {
  font: 600 21px/1.3 var(--serif);
  margin: 2px 0 var(--gap-3);
}
.facts {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px var(--gap-5);
  border-top: 1px solid var(--line);
  padding-top: var(--gap-3);
}
.wide {
  grid-column: 1 / 3;
}
.linked {
  border-top: 1px solid var(--line);
  margin-top: var(--gap-4);
  padding-top: 10px;
}
h3 {
  font-size: 15px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 6px 0 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-3);
  padding: 3px 0;
}
.change {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  font: 13px var(--sans);
}
.kept {
  font-size: 12.5px;
  margin-top: var(--gap-4);
}
@media (max-width: 800px) {
  .folio {
    padding: var(--gap-3);
  }
  .whole .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
