// Putting records in order by hand without carrying them: a place up or down, to the top, the bottom or the n-th place, within
// the lane or group that they stand in.
import { saying } from '@/api/client'
import type { Value } from '@/api/types'
import type { useMoving } from './moving'
import type { Shown } from './window'

/** The lane or group of a place: its first place, how many stand in it, and what they have in common. */
export interface Around {
  first: number
  count: number
  values: readonly Value[]
}

export interface OrderingOptions {
  moving: ReturnType<typeof useMoving>
  window: () => Shown
  /** The lane or group that a place lies in. */
  around: (place: number) => Around | undefined
  trouble: (words: string) => void
}

/** The records at some places one after the other, both ends included. */
export interface Run {
  top: number
  bottom: number
}

export function useOrdering({ moving, window, around, trouble }: OrderingOptions) {
  /** Puts a run beside what stands at a place; whether it could be. */
  async function put({ top, bottom }: Run, place: number): Promise<boolean> {
    const group = around(top)
    if (!group || place < group.first || place >= group.first + group.count || (place >= top && place <= bottom)) return false
    try {
      const records = await window().read(top, bottom - top + 1)
      const [other] = await window().read(place, 1)
      if (!other) return false
      const spot = place < top ? { before: other.id } : { after: other.id }
      const ids = records.map((row) => row.id)
      return await moving.put(ids, { key: '', to: group.values, spot }, group.values)
    } catch (error) {
      trouble(saying(error))
      return false
    }
  }

  /** A place up or down. */
  const step = (run: Run, by: 1 | -1) => put(run, by < 0 ? run.top - 1 : run.bottom + 1)

  /** To a place of its lane or group, from 1; beyond the last: to the last. */
  function nth(run: Run, wanted: number) {
    const group = around(run.top)
    if (!group) return Promise.resolve(false)
    const place = group.first + Math.max(0, Math.min(group.count - 1, Math.round(wanted) - 1))
    return put(run, place)
  }

  const top = (run: Run) => nth(run, 1)
  const bottom = (run: Run) => nth(run, Infinity)

  return { step, top, bottom, nth, around }
}

export type Ordering = ReturnType<typeof useOrdering>
