// The life of a record as one line, from when it was made until now.
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

/** Where its changes stand, the first at the line's beginning; those too close to each other are moved apart. */
export function lifeOf(trail: readonly TrailEntry[], now: number): Stroke[] {
  const entries = [...trail].sort((a, b) => a.seq - b.seq)
  const times = entries.map((entry) => Date.parse(entry.at))
  const begun = times[0] ?? now
  const span = Math.max(1, now - begun)
  const room = Math.min(CLOSE, 1 / (entries.length + 1))
  // From the end: the last stay before now, and push those before them.
  let limit = 1 - room
  const far: number[] = []
  for (let n = entries.length - 1; n >= 0; n--) {
    far[n] = Math.min((times[n]! - begun) / span, limit)
    limit = far[n]! - room
  }
  // Then from the beginning, where that pushed them out of it.
  far.forEach((at, n) => (far[n] = Math.max(at, n ? far[n - 1]! + room : 0)))
  return entries.map((entry, n) => ({ seq: entry.seq, far: far[n]!, tall: entry.what !== 'changed' }))
}
