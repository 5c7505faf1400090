// The part of a view that is on the screen, read from the server as one scrolls, and again when something changed.
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { api, Problem, saying, told } from '@/api/client'
import type { Query, QueryReply, Row } from '@/api/types'
import { touches, useChanges } from '@/features/tracker/tracker'

const PAGE = 100
/** Pages kept beside those on the screen. */
const KEPT_PAGES = 16
/** Pages read before they are needed, the way one scrolls; one is read behind. */
const AHEAD = 4

type Answer = Omit<QueryReply, 'rows' | 'start'>

interface Options {
  tracker: Ref<number>
  table: Ref<number>
  query: Ref<Query>
  /** Records that stay in sight whether or not the conditions hold. */
  keep: Ref<number[]>
}

export function useWindow({ tracker, table, query, keep }: Options) {
  const answer = shallowRef<Answer>()
  const rows = shallowRef(new Map<number, Row>())
  const trouble = ref('')
  const faults = shallowRef<Problem>()
  let shown = { first: 0, last: PAGE - 1 }
  /** Answers to older questions are dropped. */
  let round = 0
  let loading = new Set<number>()

  async function ask(page: number, count: number): Promise<QueryReply> {
    const body = { query: query.value, start: page * PAGE, count, keep: keep.value }
    const path = { tracker: tracker.value, table: table.value }
    return told(api.POST('/api/trackers/{tracker}/tables/{table}/query', { params: { path }, body }))
  }

  function pagesShown(): [number, number] {
    return [Math.floor(shown.first / PAGE), Math.floor(shown.last / PAGE)]
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
    const [first, last] = pagesShown()
    try {
      const answers = await Promise.all(Array.from({ length: last - first + 1 }, (_, n) => ask(first + n, PAGE)))
      if (mine !== round) return
      const fresh = new Map<number, Row>()
      for (const one of answers) one.rows.forEach((row, n) => fresh.set(one.start + n, row))
      rows.value = fresh
      const { rows: _rows, start: _start, ...rest } = answers[0]!
      answer.value = rest
      trouble.value = ''
      faults.value = undefined
      if (last > 0 && first * PAGE >= rest.row_count) show(0, PAGE - 1)
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

  /** Says which places are on the screen; reads those that are missing, and then those that come next. */
  function show(first: number, last: number) {
    const back = first < shown.first
    const stays = first === shown.first && last === shown.last
    shown = { first, last: Math.max(first, last) }
    const [from, to] = pagesShown()
    const onScreen = Array.from({ length: to - from + 1 }, (_, n) => from + n)
    const next = Array.from({ length: AHEAD }, (_, n) => (back ? from - 1 - n : to + 1 + n))
    // Somebody who does not move is not read ahead for again at each change.
    const wanted = stays && answer.value ? onScreen : [...onScreen, ...next, back ? to + 1 : from - 1]
    for (const page of wanted) if (page >= 0 && !rows.value.has(page * PAGE)) void load(page)
  }

  async function load(page: number) {
    if (loading.has(page) || (answer.value && page * PAGE >= answer.value.row_count)) return
    loading.add(page)
    const mine = round
    try {
      const one = await ask(page, PAGE)
      if (mine !== round) return
      if (one.seq !== answer.value?.seq) return void refresh()
      const next = new Map(rows.value)
      one.rows.forEach((row, n) => next.set(one.start + n, row))
      forgetFar(next)
      rows.value = next
    } catch (error) {
      if (mine === round) trouble.value = saying(error)
    } finally {
      loading.delete(page)
    }
  }

  function forgetFar(map: Map<number, Row>) {
    if (map.size <= KEPT_PAGES * PAGE) return
    const middle = (shown.first + shown.last) / 2
    for (const place of map.keys()) if (Math.abs(place - middle) > (KEPT_PAGES * PAGE) / 2) map.delete(place)
  }

  const placeOf = computed(() => new Map([...rows.value].map(([place, row]) => [row.id, place])))

  watch([tracker, table], () => {
    rows.value = new Map()
    answer.value = undefined
    shown = { first: 0, last: PAGE - 1 }
  })
  watch([tracker, table, query, keep], () => void refresh(), { immediate: true, deep: true })
  useChanges(
    () => void refresh(),
    (heard) => touches(answer.value?.of)(heard),
  )

  return { answer, rows, placeOf, trouble, faults, refresh, show }
}
