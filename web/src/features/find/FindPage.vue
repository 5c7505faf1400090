<script setup lang="ts">
// Finding: the words typed become the heads of columns, and every line says where it holds each of them. Arrows go from the words into
// the lines and through them; a letter typed there goes on in the words.
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useMediaQuery } from '@vueuse/core'
import { useTracker } from '@/features/tracker/tracker'
import { useDraft } from '@/features/view/draft'
import { narrowed } from '@/features/view/slip'
import { figure } from '@/theme/own'
import { columnsOf, leapt, readFrom, sectionsElsewhere, sectionsOf, stepped } from './discovery'
import FindPiece from './FindPiece.vue'
import { useDiscovery } from './finding'
import FoundShort from './FoundShort.vue'
import OfWhom from './OfWhom.vue'

const { tracker: currentTracker } = useTracker()
const route = useRoute()
const router = useRouter()
const narrow = useMediaQuery('(max-width: 700px)')
const wide = useMediaQuery('(min-width: 1100px)')

const trackerId = computed(() => (route.params.tracker ? Number(route.params.tracker) : undefined))
const from = computed(() => readFrom(route.query.from))
const words = ref(String(route.query.words ?? ''))
const only = computed(() => (route.query.in ? Number(route.query.in) : undefined))
const person = computed(() => Number(route.query.of) || undefined)
const people = computed(() => (currentTracker.value?.people ?? []).filter((one) => !one.left || one.id === person.value))

/** The view from which one looks, as one has changed it. */
const homeTable = computed(() => currentTracker.value?.tables.find((one) => one.id === from.value?.table))
const homeView = computed(() => {
  const views = homeTable.value?.views ?? []
  return from.value?.view ? views.find((one) => one.id === from.value!.view) : views[0]
})
const trackerNumber = computed(() => trackerId.value ?? 0)
const { query: homeQuery } = useDraft(trackerNumber, homeTable, homeView)

const { found, elsewhere, lookEverywhere, busy, trouble, ask, upToDate } = useDiscovery({
  tracker: trackerId,
  words,
  only,
  person,
  from: () => (homeTable.value && homeQuery.value ? { table: homeTable.value.id, query: homeQuery.value } : undefined),
})
// The view is known once the tracker was read.
watch(homeQuery, (now, before) => now && !before && words.value && void ask())

// What is looked for stands in the address, so that one can come back to it.
watch(words, (now) => void router.replace({ query: { ...route.query, words: now || undefined } }))
watch(
  () => route.query.words,
  (now) => (now ?? '') !== words.value && (words.value = String(now ?? '')),
)

const sections = computed(() => {
  if (!words.value.trim()) return []
  const here = found.value && trackerId.value !== undefined ? sectionsOf(trackerId.value, found.value, from.value) : []
  return [...here, ...sectionsElsewhere(elsewhere.value ?? [])]
})
const lines = computed(() => sections.value.flatMap((section) => section.lines))
const keys = computed(() => lines.value.map((line) => line.key))
const at = ref<string>()
watch(keys, (now) => {
  if (at.value === undefined || !now.includes(at.value)) at.value = now[0]
})
const line = computed(() => lines.value.find((one) => one.key === at.value))
const recordPlace = computed(() => {
  const records = lines.value.filter((one) => one.record)
  return `${records.findIndex((one) => one.key === at.value) + 1} of ${figure(records.length)} shown`
})
const heads = computed(() => columnsOf(found.value?.words ?? []))

const input = ref<HTMLInputElement>()
onMounted(() => {
  input.value?.focus()
  input.value?.select()
})

async function go(key: string | undefined) {
  at.value = key
  await nextTick()
  document.getElementById(`found-${key}`)?.focus()
}

async function open(whole = false) {
  await upToDate()
  await nextTick()
  if (line.value) await router.push(whole || narrow.value ? line.value.whole : line.value.to)
}

/** Back to where one was, if that was here. */
function leave() {
  const back = String(window.history.state?.back ?? '')
  if (back && !back.includes('/find')) return router.back()
  if (trackerId.value === undefined) return router.push('/')
  const params = { tracker: trackerId.value, table: from.value?.table, view: from.value?.view }
  return router.push(from.value ? { name: 'view', params } : { name: 'tracker', params })
}

/** What was pressed goes; one goes on in the words. */
async function everywhereFrom() {
  input.value?.focus()
  await lookEverywhere()
}

/** Into one table alone, or out of it again. */
const lookInto = (table: number | undefined) => router.replace({ query: { ...route.query, in: table } })

/** Of one person alone, or of anybody again; one goes on in the words. */
async function lookOf(one: number | undefined) {
  await router.replace({ query: { ...route.query, of: one } })
  input.value?.focus()
}

/** The table whose rows are narrowed: its first view, or the one from which one looks. */
const narrowing = ref<number>()
const narrowTable = computed(() => currentTracker.value?.tables.find((one) => one.id === narrowing.value))
const narrowView = computed(() => (narrowing.value === homeTable.value?.id ? homeView.value : narrowTable.value?.views[0]))
const narrowDraft = useDraft(trackerNumber, narrowTable, narrowView)
async function narrowRows(table: number) {
  await upToDate()
  const one = found.value?.tables.find((of) => of.table === table)
  if (!one?.only) return
  narrowing.value = table
  await nextTick()
  narrowDraft.change({ condition: narrowed(narrowDraft.query.value?.condition, one.only) })
  await router.push({ name: 'view', params: { tracker: trackerId.value, table, view: narrowView.value?.id } })
}

/** The rows of the table one is in. */
async function narrowHere() {
  await upToDate()
  await nextTick()
  if (line.value?.record) await narrowRows(line.value.record.table)
}

/** Keys that do the same in the words and in the lines. */
function pressed(event: KeyboardEvent) {
  const { key, altKey } = event
  const mod = event.ctrlKey || event.metaKey
  if (key === 'PageDown' || key === 'PageUp') void go(leapt(sections.value, at.value, key === 'PageDown' ? 1 : -1))
  else if (key === 'Enter' && altKey) void narrowHere()
  else if (key === 'Enter') void open(mod)
  else if (key === 'Escape') void leave()
  else return false
  event.preventDefault()
  return true
}

function pressedInWords(event: KeyboardEvent) {
  if (pressed(event)) return
  if (event.key === 'ArrowDown') void go(at.value)
  else if (event.key === 'ArrowUp') void go(keys.value.at(-1))
  else return
  event.preventDefault()
}

function pressedInLine(event: KeyboardEvent) {
  if (pressed(event)) return
  const plain = !event.ctrlKey && !event.metaKey && !event.altKey
  if (event.key === 'ArrowUp' && at.value === keys.value[0]) input.value?.focus()
  else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') void go(stepped(keys.value, at.value, event.key === 'ArrowDown' ? 1 : -1))
  else {
    // What is typed goes on in the words: the key itself lands there.
    if (plain && (event.key.length === 1 || event.key === 'Backspace')) input.value?.focus()
    return
  }
  event.preventDefault()
}

const says = computed(() => {
  if (!words.value.trim()) return ''
  if (trackerId.value === undefined) return elsewhere.value ? `in ${figure(elsewhere.value.length)} of your trackers` : ''
  return found.value?.says ?? ''
})
const tableName = (id: number) => currentTracker.value?.tables.find((one) => one.id === id)?.name ?? ''
</script>

<template>
  <div class="find" :class="{ wide }">
    <search class="top" aria-label="Find">
      <label for="find-words" class="ask">Find</label>
      <input
        id="find-words"
        ref="input"
        v-model="words"
        type="search"
        autocomplete="off"
        spellcheck="false"
        maxlength="220"
        placeholder="words in any order, a number, a day"
        data-test="find-all-words"
        @keydown="pressedInWords"
      />
      <p class="says" role="status" data-test="find-all-says"
        ><template v-if="says"
          ><b>{{ says }}</b
          >{{ ' ' }}</template
        ><template v-if="currentTracker && trackerId !== undefined"
          >in
          <template v-if="only">
            {{ tableName(only) }};
            <button type="button" class="link" data-test="find-out" @click="lookInto(undefined)">in all of {{ currentTracker.name }}</button
            >,
          </template>
          <template v-else>{{ currentTracker.name }}, </template><OfWhom :person="person" :people="people" @choose="lookOf" /></template
      ></p>
    </search>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-if="found?.cut" class="quiet">Only the first {{ found.words.length }} words are looked for.</p>

    <div class="body">
      <div class="found" :style="{ '--columns': Math.max(1, heads.length) }">
        <div v-if="lines.length && heads.length && !narrow" class="section heads" aria-hidden="true">
          <span></span>
          <div class="line head">
            <span class="small">What it is</span>
            <span v-for="(head, n) in heads" :key="n" class="word">
              <template v-for="(word, w) in head" :key="w">{{ w ? ', ' : '' }}{{ word.text }}</template>
            </span>
          </div>
        </div>
        <div :aria-busy="busy">
          <section v-for="section in sections" :key="section.key" class="section" :aria-label="section.heading">
            <div class="margin">
              <h2 class="heading">
                <button
                  v-if="section.table && !only"
                  type="button"
                  class="press"
                  :data-into="section.table"
                  @click="lookInto(section.table)"
                  >{{ section.heading }}</button
                >
                <template v-else>{{ section.heading }}</template>
              </h2>
              <span v-if="section.says" class="quiet small">{{ section.says }}</span>
            </div>
            <ul class="lines">
              <li
                v-for="one in section.lines"
                :key="one.key"
                class="line"
                :class="{ at: one.key === at, out: one.leftOut }"
                :data-found="one.name"
                @mousemove="at = one.key"
              >
                <span class="what">
                  <router-link
                    :id="`found-${one.key}`"
                    class="name"
                    :to="narrow ? one.whole : one.to"
                    :tabindex="one.key === at ? 0 : -1"
                    @focus="at = one.key"
                    @keydown="pressedInLine"
                    >{{ one.name }}</router-link
                  >
                  <span class="quiet small beside">{{ one.beside }}</span>
                  <span v-if="one.leftOut" class="small why">left out: {{ one.leftOut }}</span>
                </span>
                <span v-for="(column, n) in columnsOf(one.says)" :key="n" class="said">
                  <FindPiece v-for="(piece, p) in column" :key="p" :piece="piece" />
                </span>
              </li>
              <li v-if="section.table && (section.more > 0 || section.narrows)" class="further">
                <button v-if="section.more > 0 && !only" type="button" class="link" @click="lookInto(section.table)"
                  >{{ figure(section.more) }} more</button
                >
                <button v-if="section.narrows" type="button" class="link" :data-narrow="section.table" @click="narrowRows(section.table)"
                  >Narrow the rows to these</button
                >
              </li>
            </ul>
          </section>
        </div>
        <p v-if="words.trim() && found && !lines.length && !busy" class="nothing"
          >Nothing that is open to you holds {{ found.words.length > 1 ? 'all of these words' : 'this' }}.</p
        >
        <p v-if="found && (found.words.length > 1 || trackerId !== undefined) && words.trim()" class="else">
          <template v-if="found.words.length > 1">
            <template v-for="(word, n) in found.words" :key="n"
              >{{ n ? ', ' : ''
              }}<button type="button" class="link" :data-alone="word.text" @click="words = word.text">{{ word.text }}</button> alone finds
              {{ figure(word.alone) }}</template
            >.
          </template>
          <button v-if="!elsewhere && !only" type="button" class="link" data-test="find-everywhere" @click="everywhereFrom"
            >Look in all trackers</button
          >
          <span v-else-if="elsewhere && !elsewhere.length">No other tracker that you may open holds it.</span>
        </p>
        <p v-if="!words.trim()" class="nothing"
          >Parts of words are enough, in any order, with or without accents. Numbers and days are found as you write them: <i>440.65</i>,
          <i>26 Nov</i>. So are tables, views and fields by their names, and what you could do: <i>add fault</i>.</p
        >
      </div>
      <aside v-if="wide && line?.record" aria-label="In short">
        <FoundShort :key="line.key" :line="line" :place="recordPlace" />
      </aside>
    </div>
    <p v-if="!narrow" class="keys" aria-label="Keys">
      <span><kbd>↑</kbd> <kbd>↓</kbd> line</span><span><kbd>Page ↓</kbd> next heading</span
      ><span><kbd>Enter</kbd> opens it beside the rows</span><span><kbd>Ctrl Enter</kbd> as a whole page</span
      ><span><kbd>Alt Enter</kbd> narrows the rows to these</span><span class="last"><kbd>Esc</kbd> back</span>
    </p>
  </div>
</template>

<style scoped>
.find {
  display: flex;
  flex-direction: column;
  height: calc(100dvh - var(--band));
  padding: var(--gap-4) var(--gap-5) 0;
}
.top {
  display: grid;
  grid-template-columns: 148px minmax(0, 1fr) auto;
  align-items: baseline;
  border-bottom: 2px solid var(--ink);
}
.ask {
  font: 600 18px var(--serif);
}
.top input {
  width: 100%;
  border: 0;
  background: none;
  font: 600 27px/1.5 var(--serif);
  padding: 0;
}
.top input:focus-visible {
  outline: none;
  box-shadow: inset 0 -2px 0 var(--moss);
}
.top input::placeholder {
  font: 17px var(--serif);
}
.says {
  margin: 0 0 0 var(--gap-4);
  color: var(--quiet);
}
.says b {
  color: var(--ink);
}
.body {
  display: flex;
  flex: 1;
  min-height: 0;
}
.found {
  flex: 1;
  min-width: 0;
  overflow-y: auto;
  padding-bottom: var(--gap-5);
}
aside {
  width: 330px;
  border-left: 1px solid var(--line-strong);
  padding: var(--gap-4) 0 var(--gap-4) var(--gap-5);
  margin-left: var(--gap-5);
  overflow-y: auto;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) repeat(var(--columns), minmax(0, 1fr));
  gap: 0 var(--gap-4);
}
.heads {
  position: sticky;
  top: 0;
  background: var(--stone);
  z-index: 1;
}
.line.head {
  align-items: baseline;
  padding-top: 4px;
  padding-bottom: 4px;
  cursor: default;
}
.word {
  font: 600 17px var(--serif);
}
.small {
  font-size: 12.5px;
}
.section {
  display: grid;
  grid-template-columns: 132px minmax(0, 1fr);
  gap: 0 var(--gap-4);
  border-bottom: 1px solid var(--line);
}
.margin {
  padding: 8px 0;
}
.heading {
  margin: 0;
  font: 600 16px/1.3 var(--serif);
}
.press {
  border: 0;
  background: none;
  padding: 0;
  text-align: left;
  cursor: pointer;
}
.press:hover {
  text-decoration: underline;
}
.lines {
  list-style: none;
  margin: 0;
  padding: 0;
  min-width: 0;
}
.line {
  position: relative;
  padding: 7px 10px 7px 12px;
  margin-left: -12px;
  border-left: 3px solid transparent;
  border-top: 1px solid var(--line);
  cursor: pointer;
}
.line:first-child {
  border-top-color: transparent;
}
.line.at {
  background: var(--sheet);
  border-left-color: var(--moss);
}
.what,
.said {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.line .name {
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
  overflow-wrap: anywhere;
}
/* The whole line is pressed, and is where the focus is drawn. */
.name::after {
  content: '';
  position: absolute;
  inset: 0;
}
.name:focus-visible {
  outline: none;
}
.name:focus-visible::after {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
.out .name.name {
  font-weight: 400;
}
.why {
  color: var(--copper);
}
.further {
  display: flex;
  gap: var(--gap-4);
  margin: 0;
  padding: 5px 0 8px;
}
.nothing {
  max-width: 62ch;
  margin: var(--gap-5) 0 0 148px;
  font: 16px/1.5 var(--serif);
}
.else {
  margin: var(--gap-4) 0 0 148px;
  color: var(--quiet);
}
.keys {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-5);
  margin: 0 calc(-1 * var(--gap-5));
  padding: 10px var(--gap-5);
  border-top: 1px solid var(--line-strong);
  color: var(--quiet);
  font-size: 13px;
}
.keys .last {
  margin-left: auto;
}
kbd {
  font: 12px var(--sans);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  padding: 1px 6px;
}
@media (max-width: 700px) {
  .find {
    padding: var(--gap-3) var(--gap-3) 0;
  }
  .top {
    grid-template-columns: auto minmax(0, 1fr);
    gap: 0 var(--gap-3);
  }
  .top input {
    font-size: 20px;
    min-height: 44px;
  }
  .top input::placeholder {
    font-size: 14px;
  }
  .says {
    grid-column: 1 / -1;
    margin: 0;
    padding: 4px 0;
  }
  .section {
    grid-template-columns: minmax(0, 1fr);
  }
  .margin {
    display: flex;
    gap: var(--gap-2);
    align-items: baseline;
    padding-bottom: 2px;
  }
  .line {
    grid-template-columns: minmax(0, 1fr);
    gap: 3px 0;
    margin-left: 0;
    padding-left: 9px;
  }
  .line .name {
    display: flex;
    align-items: center;
    min-height: 40px;
  }
  .further button,
  .else button,
  .press {
    min-height: 44px;
  }
  .nothing,
  .else {
    margin-left: 0;
  }
}
</style>
