// Which cells of a grid are selected, from where one began to where one is; and what is done with them, as one step.
import { computed, ref, shallowRef, watch } from 'vue'
import { api, saying, told } from '@/api/client'
import type { BlockRehearsal, Field, Query, Row, Value } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import type { ActivePlace } from './active'
import { continued, drawnOn, emptied, filledAcross, filledDown, handedOver, pasted, repeated, widest, type Area, type Cells } from './block'
import type { Shown } from './window'

/** Most rows that are copied at once. */
const MOST_ROWS = 20_000

export interface Selecting {
  at: ActivePlace
  tracker: () => number
  table: () => number
  columns: () => Field[]
  query: () => Query
  window: () => Shown
  /** Why nothing may be changed at all. */
  readonly: () => string
  trouble: (words: string) => void
}

/** A block, and what one saw where it goes. */
interface Proposed {
  records: number[]
  fields: number[]
  cells: Cells
  was: Value[][]
  /** What is named in it and not there yet is made. */
  make: boolean
}

/** A block that waits for a word: what it would do is told first. */
export interface Waiting extends Proposed {
  told: BlockRehearsal
}

/** A block over these rows, from a column on. */
function overRows(rows: Row[], fields: number[], left: number, cells: Cells): Proposed {
  const was = rows.map((row) => fields.map((_, n) => row.cells[left + n]?.value ?? 'empty'))
  return { records: rows.map((row) => row.id), fields, cells, was, make: false }
}

export function useSelecting(grid: Selecting) {
  const edits = useEdits()
  const { trouble: wrong, busy, attempt } = useDoing()
  /** Where one began; where one is, is the other end. */
  const anchor = shallowRef<{ place: number; column: number }>()
  const end = shallowRef<{ place: number; column: number }>()
  const waiting = shallowRef<Waiting>()
  const path = () => ({ tracker: grid.tracker(), table: grid.table() })

  const area = computed<Area | undefined>(() => {
    const [from, to] = [anchor.value, end.value]
    if (!from || !to) return undefined
    const last = Math.max(0, grid.columns().length - 1)
    const [left, right] = [Math.min(from.column, to.column), Math.min(last, Math.max(from.column, to.column))]
    return { top: Math.min(from.place, to.place), bottom: Math.max(from.place, to.place), left, right }
  })
  /** What is done is done with: the selection, or the cell one is in. */
  const here = computed<Area | undefined>(() => {
    if (area.value) return area.value
    const place = grid.at.place.value
    const column = grid.at.column.value
    return place === undefined ? undefined : { top: place, bottom: place, left: column, right: column }
  })
  const holds = (place: number, column: number) => {
    const now = area.value
    return !!now && place >= now.top && place <= now.bottom && column >= now.left && column <= now.right
  }
  const size = computed(() => (area.value ? (area.value.bottom - area.value.top + 1) * (area.value.right - area.value.left + 1) : 0))
  const last = () => (grid.window().answer.value?.row_count ?? 1) - 1

  function clear() {
    anchor.value = end.value = undefined
  }
  /** To another cell, from where one is. */
  function to(place: number, column: number) {
    const now = grid.at.place.value
    if (!anchor.value && now !== undefined) anchor.value = { place: now, column: grid.at.column.value }
    anchor.value ??= { place, column }
    end.value = { place: Math.max(0, Math.min(last(), place)), column: Math.max(0, Math.min(grid.columns().length - 1, column)) }
    if (anchor.value.place === end.value.place && anchor.value.column === end.value.column) clear()
  }
  function by(rows: number, columns: number) {
    const now = end.value ?? (grid.at.place.value === undefined ? undefined : { place: grid.at.place.value, column: grid.at.column.value })
    if (now) to(now.place + rows, now.column + columns)
  }
  /** Whole rows, from where one is or began. */
  function rows(place: number, on: boolean) {
    if (!on || !anchor.value) anchor.value = { place, column: 0 }
    anchor.value = { ...anchor.value, column: 0 }
    end.value = { place, column: Math.max(0, grid.columns().length - 1) }
  }
  /** The places of the rows that are selected whole. */
  const whole = computed(() => {
    const now = area.value
    return now && now.left === 0 && now.right === grid.columns().length - 1 ? { top: now.top, bottom: now.bottom } : undefined
  })
  function all() {
    anchor.value = { place: 0, column: 0 }
    end.value = { place: last(), column: grid.columns().length - 1 }
  }
  watch([() => grid.table(), () => JSON.stringify(grid.query())], clear)

  /** The rows of an area, those out of sight too. */
  async function rowsOf({ top, bottom }: Area): Promise<Row[]> {
    if (bottom - top >= MOST_ROWS) throw new Error(`At most ${MOST_ROWS} rows are taken at once. Export the view instead.`)
    return grid.window().read(top, bottom - top + 1)
  }

  /** The records that are about to be changed at once. */
  const changing = shallowRef<number[]>()
  /** The records of the selected cells, those out of sight too. */
  const records = async () => (area.value ? (await rowsOf(area.value)).map((row) => row.id) : [])
  const change = () =>
    attempt(async () => {
      if (area.value) changing.value = (await rowsOf(area.value)).map((row) => row.id)
    }).then(() => grid.trouble(wrong.value))
  /** The selected rows go to the bin, as one step. */
  const bin = () =>
    attempt(async () => {
      if (!whole.value || !area.value) return
      const records = (await rowsOf(area.value)).map((row) => row.id)
      await edits.remove(path(), records)
      clear()
    }).then(() => grid.trouble(wrong.value))

  /** What the selected cells come to, in words. */
  const sums = ref<string[]>([])
  let round = 0
  watch([area, () => grid.window().rows.value], async () => {
    const now = area.value
    const mine = ++round
    if (!now) return void (sums.value = [])
    const fields = fieldsOf(now)
    const body = { ...grid.window().asked(), start: now.top, count: now.bottom - now.top + 1, fields }
    const asked = api.POST('/api/trackers/{tracker}/tables/{table}/block/sums', { params: { path: path() }, body })
    const answer = await told(asked).catch(() => undefined)
    if (mine === round) sums.value = answer?.says ?? []
  })
  const fieldsOf = ({ left, right }: Area) =>
    grid
      .columns()
      .slice(left, right + 1)
      .map((field) => field.id)

  async function put({ records, fields, cells, was, make }: Proposed, leave_out: boolean) {
    const body = { records, fields, cells, was, leave_out, make }
    const asked = api.PATCH('/api/trackers/{tracker}/tables/{table}/block', { params: { path: path() }, body })
    edits.remember(grid.tracker(), await told(asked))
    waiting.value = undefined
    const before = records.map((record) => grid.window().placeOf.value.get(record))
    await grid.window().refresh()
    // What was put in may have moved its records: nothing is selected that one did not choose.
    if (records.some((record, n) => grid.window().placeOf.value.get(record) !== before[n])) clear()
  }

  /** Puts a block in where nothing stands against it; else tells what it would do, and waits for a word. */
  async function propose(proposed: Proposed) {
    const { records, fields, cells, was, make } = proposed
    const why = grid.readonly()
    if (why) return grid.trouble(why)
    try {
      const body = { records, fields, cells, was, make }
      const asked = api.POST('/api/trackers/{tracker}/tables/{table}/block/rehearsal', { params: { path: path() }, body })
      const answer = await told(asked)
      const beyond = widest(cells) > fields.length
      if (answer.unfit || answer.added || answer.refused || beyond || make) waiting.value = { ...proposed, told: answer }
      else await put(proposed, false)
      grid.trouble('')
    } catch (error) {
      grid.trouble(saying(error))
    }
  }

  /** What does not fit stays out. */
  const go = () =>
    attempt(async () => {
      const now = waiting.value
      if (now) await put(now, true)
    })
  /** Options and records that are named and not there are made too, or are not. */
  const making = (make: boolean) => {
    const now = waiting.value
    return now && propose({ ...now, make })
  }

  /** The block that waits is not put in. */
  const leave = () => (waiting.value = undefined)

  async function over(where: Area, made: (rows: Row[]) => Cells) {
    try {
      const rows = await rowsOf(where)
      await propose(overRows(rows, fieldsOf(where), where.left, made(rows)))
    } catch (error) {
      grid.trouble(saying(error))
    }
  }

  /** From the upper left cell on, over what is there and beneath it. */
  async function paste(text: string, html: string) {
    const where = here.value
    if (!where) return
    const whole = pasted(text, html)
    const cells = area.value ? repeated(whole, where.bottom - where.top + 1, where.right - where.left + 1) : whole
    const wide = widest(cells)
    const covered = { ...where, bottom: Math.min(last(), where.top + cells.length - 1) }
    const fields = fieldsOf({ ...covered, right: Math.min(grid.columns().length - 1, where.left + wide - 1) })
    try {
      const rows = await rowsOf(covered)
      await propose(overRows(rows, fields, where.left, cells))
    } catch (error) {
      grid.trouble(saying(error))
    }
  }

  const down = () => area.value && over(area.value, (rows) => filledDown(rows, area.value!.left, area.value!.right))
  const across = () => area.value && over(area.value, (rows) => filledAcross(rows, area.value!.left, area.value!.right))
  const goOn = () => area.value && over(area.value, (rows) => continued(rows, area.value!.left, area.value!.right))
  const empty = () => here.value && over(here.value, (rows) => emptied(rows.length, here.value!.right - here.value!.left + 1))

  /** How far what is selected is being drawn on, beneath it or beside it. */
  const filling = shallowRef<Area>()
  function fillTo(place: number, column: number) {
    const now = here.value
    if (!now) return
    const [down, right] = [Math.min(last(), place) - now.bottom, Math.min(grid.columns().length - 1, column) - now.right]
    if (down <= 0 && right <= 0) filling.value = undefined
    else filling.value = down >= right ? { ...now, bottom: now.bottom + down } : { ...now, right: now.right + right }
  }
  async function fill() {
    const [from, to] = [here.value, filling.value]
    filling.value = undefined
    if (!from || !to) return
    anchor.value = { place: to.top, column: to.left }
    end.value = { place: to.bottom, column: to.right }
    await over(to, (rows) => drawnOn(rows, from, to))
  }

  /** Hands the selected cells over. Rows out of sight have to be read first, which the browser's own copying can't wait for. */
  function copy(data: DataTransfer | null): boolean {
    const where = here.value
    if (!where) return false
    const known = grid.window().rows.value
    const rows = Array.from({ length: where.bottom - where.top + 1 }, (_, n) => known.get(where.top + n))
    const fields = grid.columns().slice(where.left, where.right + 1)
    if (data && rows.every((row) => row)) {
      const { text, html } = handedOver(rows as Row[], fields, where.left)
      data.setData('text/plain', text)
      data.setData('text/html', html)
      return true
    }
    void attempt(async () => {
      // Browsers hand a page the clipboard only where nobody can listen.
      if (!navigator.clipboard) throw new Error('Here the browser copies by Ctrl-C alone, and only rows that are in sight.')
      const { text, html } = handedOver(await rowsOf(where), fields, where.left)
      const kinds = { 'text/plain': new Blob([text], { type: 'text/plain' }), 'text/html': new Blob([html], { type: 'text/html' }) }
      await navigator.clipboard.write([new ClipboardItem(kinds)])
    }).then(() => grid.trouble(wrong.value))
    return true
  }

  return {
    area,
    size,
    holds,
    sums,
    waiting,
    records,
    changing,
    change,
    bin,
    busy,
    wrong,
    clear,
    to,
    by,
    all,
    rows,
    whole,
    copy,
    paste,
    down,
    across,
    goOn,
    empty,
    go,
    making,
    leave,
    filling,
    fillTo,
    fill,
  }
}

export type Selection = ReturnType<typeof useSelecting>
