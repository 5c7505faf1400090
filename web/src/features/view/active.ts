// Where one is in a grid: in a cell, on a group's head or on a heading. A cell is remembered by its record, so that it stays
// with it when others come and go.
import { computed, shallowRef, watch, type Ref } from 'vue'
import type { Field, Row } from '@/api/types'
import type { Layout } from './layout'
import type { useWindow } from './window'

export type Active =
  { on: 'cell'; record: number; column: number } | { on: 'group'; group: string; column: number } | { on: 'heading'; column: number }

export interface ActiveGrid {
  columns: Ref<Field[]>
  layout: Ref<Layout>
  window: () => ReturnType<typeof useWindow>
  /** Brings a line into sight. */
  reveal: (line: number) => void
  /** Whether headings can be walked to. */
  headings: () => boolean
  /** One went on from this record to another place. */
  onLeave: (row: Row | undefined) => void
  /** One goes anywhere: what was being edited is left. */
  onGo: () => void
  /** One is at another record, or at none. */
  onMove: (record: number | undefined) => void
}

export function useActive(grid: ActiveGrid) {
  const active = shallowRef<Active>()
  /** A line whose record is still to be read: one is there once it came. */
  const awaited = shallowRef<{ place: number; column: number }>()

  const cell = computed(() => (active.value?.on === 'cell' ? active.value : undefined))
  const place = computed(() => (cell.value ? grid.window().placeOf.value.get(cell.value.record) : undefined))
  const row = computed(() => (place.value === undefined ? undefined : grid.window().rows.value.get(place.value)))
  const field = computed(() => (cell.value ? grid.columns.value[cell.value.column] : undefined))
  const column = computed(() => active.value?.column ?? 0)

  /** The line one is at; before the first: the headings. */
  const line = computed(() => {
    const now = active.value
    if (now?.on === 'heading') return -1
    if (now?.on === 'cell') return place.value === undefined ? undefined : grid.layout.value.lineOf(place.value)
    return now ? grid.layout.value.lineOfGroup(now.group) : undefined
  })

  function set(next: Active | undefined) {
    const from = cell.value?.record
    const to = next?.on === 'cell' ? next.record : undefined
    if (from !== to) grid.onLeave(row.value)
    awaited.value = undefined
    grid.onGo()
    active.value = next && { ...next, column: Math.max(0, Math.min(grid.columns.value.length - 1, next.column)) }
    if (from !== to) grid.onMove(to)
  }

  const toCell = (record: number, at: number) => set({ on: 'cell', record, column: at })

  /** To the record at a place of the view's order, as soon as it is known; while its group is closed, to the group's head. */
  function toPlace(wanted: number, at = column.value): void {
    const found = grid.layout.value.lineOf(wanted)
    if (found === undefined) return toLine(grid.layout.value.headOf(wanted))
    grid.reveal(found)
    const there = grid.window().rows.value.get(wanted)
    if (there) toCell(there.id, at)
    else awaited.value = { place: wanted, column: at }
  }

  function toLine(wanted: number): void {
    const { layout } = grid
    if (wanted < 0 && grid.headings()) return set({ on: 'heading', column: column.value })
    const at = Math.max(0, Math.min(layout.value.length - 1, wanted))
    if (at >= layout.value.length) return
    const found = layout.value.at(at)
    if (found.type === 'row') return toPlace(found.place)
    grid.reveal(at)
    set({ on: 'group', group: found.head.key, column: column.value })
  }

  /** So many lines on, heads of groups included. */
  const step = (by: number) => toLine(line.value === undefined ? 0 : line.value + by)

  /** So many records on in the view's order, past those in closed groups. */
  function walk(by: number) {
    let wanted = Math.max(0, Math.min(last(), (place.value ?? -by) + by))
    while (grid.layout.value.lineOf(wanted) === undefined && wanted > 0 && wanted < last()) wanted += Math.sign(by)
    if (grid.layout.value.lineOf(wanted) !== undefined) toPlace(wanted)
  }

  const last = () => (grid.window().answer.value?.row_count ?? 1) - 1
  const toLast = () => toPlace(last())

  function sideways(to: number) {
    const now = active.value
    if (now) set({ ...now, column: to })
  }

  /** Brings the line one is at into sight. */
  function inSight() {
    if (line.value !== undefined && line.value >= 0) grid.reveal(line.value)
  }

  watch(
    () => grid.window().rows.value,
    (rows) => {
      const wanted = awaited.value
      const there = wanted && rows.get(wanted.place)
      if (there) toCell(there.id, wanted.column)
    },
  )

  return {
    active,
    cell,
    place,
    row,
    field,
    column,
    line,
    toCell,
    toPlace,
    toLast,
    step,
    walk,
    sideways,
    inSight,
    leave: () => grid.onLeave(row.value),
  }
}

export type ActivePlace = ReturnType<typeof useActive>
