// Editing the cell one is in: what is typed goes out at once and in order, and one goes on; what is refused waits in its cell.
import { nextTick, ref } from 'vue'
import { Problem, saying } from '@/api/client'
import type { Field, Input, Row, Value } from '@/api/types'
import { askFollowing } from '@/features/cell/following'
import type { Move } from '@/features/cell/CellEditor.vue'
import { editor } from '@/features/cell/kinds'
import { useTracker } from '@/features/tracker/tracker'
import type { ActivePlace } from './active'
import { useSending } from './sending'
import type { useWindow } from './window'

const EMPTY: Input = { value: 'empty' }

export interface Editing {
  at: ActivePlace
  columns: () => Field[]
  table: () => number
  window: () => ReturnType<typeof useWindow>
  /** Puts a value into a cell; throws what the server refuses. */
  edit: (table: number, record: number, field: Field, input: Input, was: Value | undefined) => Promise<unknown>
  may: (row: Row | undefined, field: Field | undefined) => boolean
  /** Why a cell can't be edited. */
  refusal: (row: Row, field: Field) => string
  open: (record: number) => void
  trouble: (words: string) => void
  /** What was typed took the record out of what is shown, or far away in it. */
  gone: (record: number) => void
  /** Puts the keys back to the grid. */
  focus: () => void
}

export function useCellEditing(grid: Editing) {
  const { at } = grid
  const { tracker } = useTracker()
  const editing = ref<{ start?: string; fault?: string; was?: Value; hold?: Input }>()
  /** Counts what is done by hand, so that it can be known whether somebody went on. */
  let moves = 0

  const sending = useSending(({ row, field, stamp }, error) => {
    const column = grid.columns().findIndex((f) => f.id === field.id)
    // Whoever went on since is not called back: the cell keeps what was typed, marked, until they come to it.
    if (stamp === moves && !editing.value && column >= 0) mend(row.id, column)
    else grid.trouble(`${row.cells.find((c) => c?.text)?.text}, ${field.name}: ${saying(error)} What you typed waits in its cell.`)
    if (error instanceof Problem && error.status === 409) void grid.window().refresh()
  })

  function begin(start?: string) {
    const [row, field] = [at.row.value, at.field.value]
    if (!row || !field) return
    if (!grid.may(row, field)) return grid.trouble(grid.refusal(row, field))
    if (editor(field) === 'files') return grid.open(row.id)
    grid.trouble('')
    const refused = sending.mend(row.id, field.id)
    // What is on its way from here stands there by the time that this arrives, and is no clash.
    const was = sending.typed(row.id, field.id) === undefined ? (row.cells[at.column.value]?.value ?? 'empty') : undefined
    editing.value =
      start === undefined && refused ? { start: refused.start, fault: refused.fault, was: refused.theirs ?? was } : { start, was }
  }

  /** Sends a change and moves on at once: whoever types fast loses nothing to a slow line. */
  function commit(input: Input, move: Move) {
    const [row, field, column] = [at.row.value, at.field.value, at.column.value]
    if (!row || !field || !editing.value) return
    const table = grid.table()
    // As it stood when one began: whatever somebody else put there since, one has not seen.
    const { was } = editing.value
    const send = async () => {
      await grid.edit(table, row.id, field, input, was)
      await grid.window().refresh()
      await nextTick()
      if (!grid.window().placeOf.value.has(row.id)) grid.gone(row.id)
      // Where it has gone, if one is still at it.
      if (at.cell.value?.record === row.id) at.inSight()
    }
    sending.put({ row, field, input, send, stamp: ++moves })
    editing.value = undefined
    if (move === 'down') at.walk(1)
    else if (move === 'left' || move === 'right') at.sideways(column + (move === 'right' ? 1 : -1))
    if (move !== 'away') grid.focus()
  }

  /** Opens what was refused in a cell, with what is wrong beneath it. */
  function mend(record: number, column: number) {
    at.toCell(record, column)
    const found = sending.mend(record, grid.columns()[column]?.id ?? 0)
    const was = found?.theirs ?? at.row.value?.cells[column]?.value ?? 'empty'
    editing.value = { start: found?.start, fault: found?.fault, was }
  }

  function cancel() {
    editing.value = undefined
    grid.focus()
  }

  /** Empties the cell. */
  async function clear() {
    const [row, field] = [at.row.value, at.field.value]
    if (!row || !field || !grid.may(row, field)) return
    const about = { edit: [{ field: field.id, input: EMPTY, was: null }] }
    const place = { tracker: tracker.value?.id ?? 0, table: grid.table(), record: row.id }
    const follows = field.sets_going ? await askFollowing(place, about) : []
    if (follows.length) return void (editing.value = { was: row.cells[at.column.value]?.value ?? 'empty', hold: EMPTY })
    try {
      await grid.edit(grid.table(), row.id, field, EMPTY, row.cells[at.column.value]?.value ?? 'empty')
      await grid.window().refresh()
    } catch (error) {
      grid.trouble(saying(error))
    }
  }

  return { editing, sending, begin, commit, cancel, clear, end: () => (editing.value = undefined), moved: () => (moves += 1) }
}
