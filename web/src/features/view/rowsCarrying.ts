// Rows carried by their margin: with the mouse, by keys and from their menu; selected whole, they go together.
import { computed } from 'vue'
import type { Row } from '@/api/types'
import type { ActivePlace } from './active'
import type { Head } from './layout'
import type { useMoving } from './moving'
import type { Ordering, Run } from './ordering'
import type { Selection } from './selecting'
import type { Shown } from './window'

export interface RowsCarrying {
  at: ActivePlace
  selection: Selection
  moving: ReturnType<typeof useMoving>
  ordering: Ordering
  window: () => Shown
  /** Why nothing may be moved at all. */
  readonly: () => string
  trouble: (words: string) => void
}

export function useRowsCarrying({ at, selection, moving, ordering, window, readonly, trouble }: RowsCarrying) {
  const placeOf = (row: Row) => window().placeOf.value.get(row.id)

  /** What goes along with a row: all that are selected whole, if it is one of them. */
  function run(place: number): Run {
    const whole = selection.whole.value
    return whole && place >= whole.top && place <= whole.bottom ? whole : { top: place, bottom: place }
  }
  const isWhole = (place: number) => {
    const whole = selection.whole.value
    return !!whole && place >= whole.top && place <= whole.bottom
  }

  function press(event: MouseEvent, row: Row) {
    const place = placeOf(row)
    if (place === undefined) return
    const on = event.shiftKey && !!selection.area.value
    if (!on) at.toCell(row.id, 0)
    selection.rows(place, on)
  }

  function lift(event: DragEvent, row: Row) {
    const place = placeOf(row)
    const why = readonly()
    if (why || place === undefined) {
      event.preventDefault()
      return trouble(why)
    }
    const { top, bottom } = run(place)
    const known = window().rows.value
    const rows = Array.from({ length: bottom - top + 1 }, (_, n) => known.get(top + n))
    const values = [top, bottom].map((end) => ordering.around(end)?.values ?? [])
    // Of several from more than one group, each leaves its own.
    const from = values[0]!.map((value, level) => (JSON.stringify(value) === JSON.stringify(values[1]![level]) ? value : undefined))
    moving.lift(
      rows.flatMap((one) => (one ? [one.id] : [])),
      from,
    )
  }

  /** Over a row: above it or beneath it. */
  function over(event: DragEvent, row: Row) {
    const place = placeOf(row)
    if (!moving.carried.value || place === undefined) return
    event.preventDefault()
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
    const above = event.clientY < box.top + box.height / 2
    const spot = above ? { before: row.id } : { after: row.id }
    void moving.over({ key: JSON.stringify(spot), to: ordering.around(place)?.values ?? [], spot })
  }

  /** Over the head of a group: first in it. */
  function overGroup(event: DragEvent, head: Head) {
    if (!moving.carried.value) return
    event.preventDefault()
    const first = head.group.count ? window().rows.value.get(head.place) : undefined
    const to = head.path.map((group) => group.value)
    void moving.over({ key: head.key, to, spot: first && { before: first.id } })
  }

  function lands(row: Row): 'above' | 'beneath' | undefined {
    const now = moving.carried.value
    const spot = now?.target?.spot
    if (!now || now.refused || typeof spot !== 'object') return undefined
    if ('before' in spot) return spot.before === row.id && now.target?.key.startsWith('{') ? 'above' : undefined
    return spot.after === row.id ? 'beneath' : undefined
  }
  const landsIn = (head: Head) => moving.carried.value?.target?.key === head.key

  const says = computed(() => {
    const now = moving.carried.value
    return now?.refused || now?.told?.says.join(' ') || ''
  })

  async function drop() {
    await moving.drop()
    selection.clear()
  }

  async function go(row: Row | undefined, move: (run: Run) => Promise<boolean>, by?: 1 | -1) {
    const place = row && placeOf(row)
    if (place === undefined) return
    const why = readonly()
    if (why) return trouble(why)
    const carried = run(place)
    const several = carried.bottom > carried.top
    if (!(await move(carried)) || !several) return
    // Those that were selected still are.
    if (by) {
      selection.rows(carried.top + by, false)
      selection.rows(carried.bottom + by, true)
    } else selection.clear()
  }
  const toTop = (row: Row) => go(row, ordering.top)
  const toBottom = (row: Row) => go(row, ordering.bottom)
  const toPlace = (row: Row, place: number) => go(row, (carried) => ordering.nth(carried, place))

  /** By keys: with Alt and Shift a row goes up and down; with Shift and space it is selected whole. */
  function key(event: KeyboardEvent): boolean {
    const row = at.row.value
    if (!row) return false
    if (event.shiftKey && event.key === ' ' && !event.altKey && !event.ctrlKey) {
      const place = placeOf(row)
      if (place !== undefined) selection.rows(place, false)
      return true
    }
    if (!event.altKey || !event.shiftKey) return false
    if (event.key === 'ArrowUp') void go(row, (carried) => ordering.step(carried, -1), -1)
    else if (event.key === 'ArrowDown') void go(row, (carried) => ordering.step(carried, 1), 1)
    else if (event.key === 'Home') void toTop(row)
    else if (event.key === 'End') void toBottom(row)
    else return false
    return true
  }

  const around = (row: Row) => {
    const place = placeOf(row)
    return place === undefined ? undefined : ordering.around(place)
  }

  return { isWhole, press, lift, over, overGroup, lands, landsIn, says, drop, toTop, toBottom, toPlace, key, around }
}
