// What records on lines of hours have in common, across or down: how they are called, whether they move, and how keys move them.
import type { HourStroke, Thread } from '@/api/types'
import type { AlmanacDesk } from './desk'
import { isTimed, STEP } from './hours'
import type { Carried, End } from './placing'

export function useBars(desk: AlmanacDesk) {
  const rowOf = (stroke: HourStroke) => desk.rows.value.get(stroke.record)
  const nameOf = (stroke: HourStroke) => stroke.name || desk.nameOf(rowOf(stroke))
  /** What came from the day before is moved where it begins. */
  const mayMove = (stroke: HourStroke) => stroke.date != null && !stroke.before && desk.isMoved(rowOf(stroke), stroke.date)

  /** A record as it stands on somebody’s line of a day. */
  const held = (stroke: HourStroke, thread: Thread, day: string) => ({
    date: stroke.date ?? 0,
    mark: { record: stroke.record, date: stroke.date ?? 0, start: day, end: day },
    from: isTimed(stroke) ? stroke.from : undefined,
    to: isTimed(stroke) ? Math.max(stroke.to, stroke.from) : undefined,
    who: thread.who,
  })

  /** @param behind how far behind its beginning it is held, in minutes */
  function lift(event: DragEvent, stroke: HourStroke, from: Partial<Carried>, end: End | undefined, behind: (box: DOMRect) => number) {
    const box = (event.currentTarget as HTMLElement | null)?.getBoundingClientRect?.()
    desk.lift(event, rowOf(stroke), { ...from, end, grab: box && isTimed(stroke) && !end ? behind(box) : 0 })
  }

  /** By keys, a step along its hours, or so much longer. */
  function along(stroke: HourStroke, thread: Thread, day: string, step: number, lasts: boolean) {
    if (!isTimed(stroke)) return
    const minutes = (lasts ? stroke.to : stroke.from) + step * STEP
    desk.shift(stroke.record, held(stroke, thread, day), { day, minutes }, lasts ? 'end' : undefined)
  }
  return { nameOf, mayMove, held, lift, along }
}
