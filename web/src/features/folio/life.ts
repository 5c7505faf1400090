// The life of a record as one line, from when it was made until now, with the moment of it that one looks at. Pure.
import type { TrailEntry } from '@/api/types'

export interface Stroke {
  seq: number
  /** How far along the line, from 0 to 1. */
  far: number
  /** More than a change of what stands in it: it came, went, or something was set going. */
  tall: boolean
}

/** So close that two strokes could not be told apart, as a share of the line. */
const CLOSE = 0.008

/** From when to when the line goes, in milliseconds. */
function spanOf(trail: readonly TrailEntry[], now: number): { begun: number; span: number } {
  const begun = Math.min(now, ...trail.map((entry) => Date.parse(entry.at)))
  return { begun, span: Math.max(1, now - begun) }
}

/** Where its changes stand, the first at the line's beginning; those too close to each other are moved apart. */
export function lifeOf(trail: readonly TrailEntry[], now: number): Stroke[] {
  const entries = [...trail].sort((a, b) => a.seq - b.seq)
  const { begun, span } = spanOf(entries, now)
  const room = Math.min(CLOSE, 1 / (entries.length + 1))
  // From the end: the last stay before now, and push those before them.
  let limit = 1 - room
  const far: number[] = []
  for (let n = entries.length - 1; n >= 0; n--) {
    far[n] = Math.min((Date.parse(entries[n]!.at) - begun) / span, limit)
    limit = far[n]! - room
  }
  // Then from the beginning, where that pushed them out of it.
  far.forEach((at, n) => (far[n] = Math.max(at, n ? far[n - 1]! + room : 0)))
  return entries.map((entry, n) => ({ seq: entry.seq, far: far[n]!, tall: entry.what !== 'changed' }))
}

/** Where what was said stands on the same line, from 0 to 1. */
export function dotsOf(
  said: readonly { id: number; at: string }[],
  trail: readonly TrailEntry[],
  now: number,
): { id: number; far: number }[] {
  const { begun, span } = spanOf(trail, now)
  return said.map(({ id, at }) => ({ id, far: Math.min(1, Math.max(0, (Date.parse(at) - begun) / span)) }))
}

/** The change at which one holds, so far along the line; behind the middle between the last one and now, it is now. */
export function heldAt(strokes: readonly Stroke[], far: number): number | undefined {
  const away = (stroke: { far: number }) => Math.abs(stroke.far - far)
  const nearest = strokes.reduce<Stroke | undefined>((best, one) => (best && away(best) <= away(one) ? best : one), undefined)
  return nearest && away(nearest) < 1 - far ? nearest.seq : undefined
}

/** The change so many steps on from one, or from now; behind the last one is now. */
export function stepFrom(strokes: readonly Stroke[], from: number | undefined, by: number): number | undefined {
  const at = from === undefined ? strokes.length : strokes.findIndex((stroke) => stroke.seq === from)
  return strokes[Math.max(0, at + by)]?.seq
}
