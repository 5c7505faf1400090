import { describe, expect, it } from 'vitest'
import type { TrailEntry } from '@/api/types'
import { dotsOf, heldAt, lifeOf, stepFrom } from './life'

const DAY = 86_400_000
const begun = Date.parse('2026-11-01T08:00:00Z')
const entry = (seq: number, day: number, what: TrailEntry['what'] = 'changed') =>
  ({ seq, at: new Date(begun + day * DAY).toISOString(), what, edits: [], who: '', at_text: '' }) as TrailEntry

describe('the line of a record’s life', () => {
  it('has its strokes where they lie in time, the latest entry being told first', () => {
    const strokes = lifeOf([entry(9, 5), entry(4, 2.5, 'pressed'), entry(1, 0, 'added')], begun + 10 * DAY)
    expect(strokes).toEqual([
      { seq: 1, far: 0, tall: true },
      { seq: 4, far: 0.25, tall: true },
      { seq: 9, far: 0.5, tall: false },
    ])
  })

  it('keeps strokes of one minute apart, and all of them before now', () => {
    const minute = 1 / 1440
    const trail = [0, 9.99, 9.99 + minute, 9.99 + 2 * minute, 10].map((day, n) => entry(n + 1, day))
    const far = lifeOf(trail, begun + 10 * DAY).map((stroke) => stroke.far)
    expect(far[0]).toBe(0)
    expect(Math.max(...far)).toBeLessThan(1)
    for (let n = 1; n < far.length; n++) expect(far[n]! - far[n - 1]!).toBeGreaterThan(0.0079)
  })

  it('has room for any number of changes, and for none', () => {
    const far = lifeOf(Array.from({ length: 1000 }, (_, n) => entry(n + 1, 10)), begun + 10 * DAY).map((s) => s.far) // prettier-ignore
    expect([Math.min(...far) >= 0, Math.max(...far) < 1, new Set(far).size]).toEqual([true, true, 1000])
    expect(lifeOf([], begun)).toEqual([])
  })
})

describe('the moment at which one looks', () => {
  const strokes = lifeOf([entry(9, 5), entry(4, 2.5), entry(1, 0, 'added')], begun + 10 * DAY)

  it('is that of the nearest change, and now behind the middle between the last one and now', () => {
    expect([-0.2, 0.1, 0.13, 0.4, 0.74, 0.76, 1.3].map((far) => heldAt(strokes, far))).toEqual([1, 1, 4, 9, 9, undefined, undefined])
    expect(heldAt([], 0.2)).toBeUndefined()
  })

  it('goes change by change, from now back to the first and on to now', () => {
    expect([stepFrom(strokes, undefined, -1), stepFrom(strokes, 4, -1), stepFrom(strokes, 1, -1)]).toEqual([9, 1, 1])
    expect([stepFrom(strokes, 4, 1), stepFrom(strokes, 9, 1), stepFrom(strokes, undefined, 1)]).toEqual([9, undefined, undefined])
  })

  it('has what was said on the same line, within it', () => {
    const said = [-1, 5, 11].map((day, id) => ({ id, at: new Date(begun + day * DAY).toISOString() }))
    expect(dotsOf(said, [entry(1, 0)], begun + 10 * DAY).map((one) => one.far)).toEqual([0, 0.5, 1])
  })
})
