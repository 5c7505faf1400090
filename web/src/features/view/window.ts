// What a view shows: its counts, groups and figures, told once, and of its rows those that are on the screen, read as they come
// into sight, and again when something changed.
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { api, Problem, saying, told } from '@/api/client'
import type { Query, QueryReply, Row, SliceReply } from '@/api/types'
import { touches, useChanges } from '@/features/tracker/tracker'

const PAGE = 100
/** Rows that are kept though they are not on the screen. */
const KEPT_ROWS = 1600
/** Pages read before they are needed, the way one scrolls; one is read behind. */
const AHEAD = 4
/** Rows of one slice, and slices of one reading, where many are read. */
const IN_A_SLICE = 500
const SLICES = 4
/** Most rows that are asked for at once. */
const AT_ONCE = 2000

type Answer = Omit<QueryReply, 'slices'>

/** Some places in the view's order, the last one included. */
export interface Span {
  first: number
  last: number
}

interface Options {
  tracker: Ref<number>
  table: Ref<number>
  query: Ref<Query>
  /** The view whose own order they stand in. */
  view?: Ref<number | undefined>
  /** Records that stay in sight whether or not the conditions hold. */
  keep: Ref<number[]>
  /** Rows read at once from where one is; few where one is in many places at once. */
  page?: Ref<number>
}

export function useWindow({ tracker, table, query, view = ref(), keep, page: pageSize = ref(PAGE) }: Options) {
  const answer = shallowRef<Answer>()
  const rows = shallowRef(new Map<number, Row>())
  const trouble = ref('')
  const faults = shallowRef<Problem>()
  let shown: Span[] = [{ first: 0, last: 0 }]
  /** Pages, those that were on the screen last at the end. */
  let recent: number[] = []
  /** Answers to older questions are dropped. */
  let round = 0
  let loading = new Set<number>()

  const path = () => ({ tracker: tracker.value, table: table.value })
  const slices = (pages: number[]) => pages.map((page) => ({ start: page * pageSize.value, count: pageSize.value }))
  const body = (pages: number[]) => ({ ...asked(), slices: slices(pages) })
  /** What is shown, as it is asked for. */
  const asked = () => ({ query: query.value, view: view.value ?? null, keep: keep.value })

  function pagesOf(spans: readonly Span[]): number[] {
    const pages = spans.flatMap(({ first, last }) => {
      const from = Math.floor(first / pageSize.value)
      return Array.from({ length: Math.floor(last / pageSize.value) - from + 1 }, (_, n) => from + n)
    })
    return [...new Set(pages)]
  }

  function put(into: Map<number, Row>, read: readonly SliceReply[]) {
    for (const slice of read) slice.rows.forEach((row, n) => into.set(slice.start + n, row))
  }

  let newest: Promise<void> = Promise.resolve()

  /** Reads everything on the screen anew; what stands there stays until the answer comes. Ends once the newest reading has. */
  async function refresh() {
    let awaited
    newest = readAnew()
    do {
      awaited = newest
      await awaited
    } while (awaited !== newest)
  }

  async function readAnew() {
    const mine = ++round
    loading = new Set()
    const pages = pagesOf(shown).slice(0, Math.floor(AT_ONCE / pageSize.value))
    try {
      const wanted = { params: { path: path() }, body: body(pages) }
      const { slices: read, ...rest } = await told(api.POST('/api/trackers/{tracker}/tables/{table}/query', wanted))
      if (mine !== round) return
      const fresh = new Map<number, Row>()
      put(fresh, read)
      rows.value = fresh
      recent = pages
      answer.value = rest
      trouble.value = ''
      faults.value = undefined
      const first = Math.min(...shown.map((span) => span.first))
      if (first > 0 && first >= rest.row_count) show({ first: 0, last: pageSize.value - 1 })
    } catch (error) {
      if (mine !== round) return
      trouble.value = saying(error)
      faults.value = error instanceof Problem ? error : undefined
      // What may not be seen any more does not stay on the screen.
      if (error instanceof Problem && [401, 403, 404].includes(error.status)) {
        rows.value = new Map()
        answer.value = undefined
      }
    }
  }

  /** Pages that come next, the way one moves. */
  function ahead(now: readonly Span[], before: readonly Span[]): number[] {
    const [only, was] = [now[0]!, before[0]]
    const [from, to] = [Math.floor(only.first / pageSize.value), Math.floor(only.last / pageSize.value)]
    // Who is in several places at once is read on by one page in each.
    if (now.length > 1) return now.map(({ last }) => Math.floor(last / pageSize.value) + 1)
    const back = !!was && only.first < was.first
    return [...Array.from({ length: AHEAD }, (_, n) => (back ? from - 1 - n : to + 1 + n)), back ? to + 1 : from - 1]
  }

  /** Says which places are on the screen; reads those that are missing, and then those that come next. */
  function show(...spans: Span[]) {
    const next = spans.map(({ first, last }) => ({ first, last: Math.max(first, last) }))
    if (!next.length) return
    const stays = JSON.stringify(next) === JSON.stringify(shown)
    const before = shown
    shown = next
    const onScreen = pagesOf(next)
    recent = [...recent.filter((page) => !onScreen.includes(page)), ...onScreen]
    void load(onScreen)
    // Somebody who does not move is not read ahead for again at each change.
    if (!stays || !answer.value) void load(ahead(next, before))
  }

  async function load(pages: readonly number[]) {
    const count = answer.value?.row_count
    const missing = pages.filter((page) => {
      const start = page * pageSize.value
      return page >= 0 && !rows.value.has(start) && !loading.has(page) && (count === undefined || start < count)
    })
    // The first answer brings what is on the screen by itself.
    if (!missing.length || !answer.value) return
    missing.forEach((page) => loading.add(page))
    const mine = round
    try {
      const wanted = { params: { path: path() }, body: body(missing.slice(0, Math.floor(AT_ONCE / pageSize.value))) }
      const one = await told(api.POST('/api/trackers/{tracker}/tables/{table}/slices', wanted))
      if (mine !== round) return
      if (one.seq !== answer.value?.seq) return void refresh()
      const next = new Map(rows.value)
      put(next, one.slices)
      recent = [...missing.filter((page) => !recent.includes(page)), ...recent]
      forget(next)
      rows.value = next
    } catch (error) {
      if (mine === round) trouble.value = saying(error)
    } finally {
      missing.forEach((page) => loading.delete(page))
    }
  }

  /** What was on the screen longest ago goes first. */
  function forget(map: Map<number, Row>) {
    const most = Math.max(KEPT_ROWS / pageSize.value, pagesOf(shown).length + AHEAD)
    const going = recent.slice(0, Math.max(0, recent.length - most))
    recent = recent.slice(going.length)
    for (const page of going) for (let n = 0; n < pageSize.value; n++) map.delete(page * pageSize.value + n)
  }

  const placeOf = computed(() => new Map([...rows.value].map(([place, row]) => [row.id, place])))

  watch([tracker, table], () => {
    rows.value = new Map()
    answer.value = undefined
    shown = [{ first: 0, last: 0 }]
  })
  watch(pageSize, () => (rows.value = new Map()))
  watch([tracker, table, query, view, keep, pageSize], () => void refresh(), { immediate: true, deep: true })
  useChanges(
    () => void refresh(),
    (heard) => touches(answer.value?.of)(heard),
  )

  /** The rows at some places, those out of sight too. */
  async function read(first: number, count: number): Promise<Row[]> {
    const places = Array.from({ length: count }, (_, n) => first + n)
    if (places.every((place) => rows.value.has(place))) return places.map((place) => rows.value.get(place)!)
    const found: Row[] = []
    for (let start = first; start < first + count; start += IN_A_SLICE * SLICES) {
      const slices = Array.from({ length: SLICES }, (_, n) => start + n * IN_A_SLICE)
        .filter((from) => from < first + count)
        .map((from) => ({ start: from, count: Math.min(IN_A_SLICE, first + count - from) }))
      const body = { ...asked(), slices }
      const answer = await told(api.POST('/api/trackers/{tracker}/tables/{table}/slices', { params: { path: path() }, body }))
      found.push(...answer.slices.flatMap((slice) => slice.rows))
    }
    return found
  }

  return { answer, rows, placeOf, trouble, faults, refresh, show, read, asked }
}

export type Shown = ReturnType<typeof useWindow>
