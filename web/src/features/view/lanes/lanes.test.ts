import { describe, expect, it } from 'vitest'
import type { Group, LanesShape, Value } from '@/api/types'
import { field } from '@/testing'
import { combOf, lanesOf, limited, narrowed, put, reordered, scaleOf } from './lanes'

const option = (id: number, name: string) => ({ id, name, hue: 'slate' as const })
const status = field({ type: 'choice', options: [option(1, 'reported'), option(2, 'checked'), option(3, 'made good')] } as never, {
  id: 47,
})
const group = (value: Value, count: number, over: Partial<Group> = {}): Group => ({
  value,
  text: JSON.stringify(value),
  count,
  counted: `${count} faults`,
  tallies: [],
  within: [],
  ...over,
})
const shape = (over: Partial<LanesShape> = {}): LanesShape => ({ by: 47, away: [], limits: [], ...over })
const groups = [
  group({ choice: 1 }, 3),
  group({ choice: 2 }, 30, { stuck: 4 }),
  group({ choice: 3 }, 0, { outside: true }),
  group('empty', 0),
]

describe('lanes', () => {
  it('stand in their order; what takes records and is not shown whole stands beside', () => {
    const all = lanesOf(groups, shape({ away: [{ choice: 1 }] }), status)
    expect(all.shown.map((lane) => lane.group.count)).toEqual([30])
    expect(all.away.map((lane) => lane.group.value)).toEqual([{ choice: 1 }, 'empty'])
    expect(all.outside.map((lane) => lane.group.value)).toEqual([{ choice: 3 }])
    // Their places go on being those of the view's order.
    expect(all.shown[0]!.head.place).toBe(3)
    expect(all.shown[0]!.hue).toContain('slate')
  })

  it('without a value have a lane as soon as there is such a record', () => {
    const all = lanesOf([...groups.slice(0, 3), group('empty', 2)], shape(), status)
    expect(all.shown.map((lane) => lane.group.value)).toEqual([{ choice: 1 }, { choice: 2 }, 'empty'])
  })

  it('are put away and brought back, once', () => {
    const away = put(put(shape(), { choice: 2 }, true), { choice: 2 }, true)
    expect(away.away).toEqual([{ choice: 2 }])
    expect(put(away, { choice: 2 }, false).away).toEqual([])
  })

  it('have limits of their own, or none', () => {
    const some = limited(shape(), { choice: 2 }, { most: 20, days: undefined })
    expect(limited(some, { choice: 1 }, { most: undefined, days: 3 }).limits).toHaveLength(2)
    expect(limited(some, { choice: 2 }, { most: undefined, days: undefined }).limits).toEqual([])
  })
})

describe('combs', () => {
  const comb = (count: number, limit: { most?: number; days?: number }, stuck = 0, per = 1) =>
    combOf(lanesOf([group({ choice: 1 }, count, { stuck })], shape({ limits: [{ lane: { choice: 1 }, ...limit }] }), status).shown[0]!, per)

  it('have a stroke a record: those that stand too long, the others, those beyond the limit', () => {
    expect(comb(22, { most: 20, days: 14 }, 5)).toEqual({ stuck: 5, plain: 15, over: 2 })
    expect(comb(22, {})).toEqual({ stuck: 0, plain: 22, over: 0 })
    expect(comb(3, { most: 0 })).toEqual({ stuck: 0, plain: 0, over: 3 })
  })

  it('stand for more records each where there are many, all at one scale', () => {
    const lanes = (...counts: number[]) =>
      lanesOf(
        counts.map((count, n) => group({ choice: n + 1 }, count)),
        shape(),
        status,
      ).shown
    expect(scaleOf(lanes(45, 3))).toBe(1)
    expect(scaleOf(lanes(46, 3))).toBe(5)
    expect(scaleOf(lanes(17_000, 3))).toBe(500)
    expect(comb(46, {}, 0, 5)).toEqual({ stuck: 0, plain: 10, over: 0 })
  })
})

describe('one lane among others', () => {
  const [first, second] = [{ choice: 1 }, { choice: 2 }]
  it('goes to the left and to the right, as far as there are lanes', () => {
    const { shown } = lanesOf(groups, shape(), status)
    expect(reordered(shown, first, 1)).toEqual([second, first])
    expect(reordered(shown, second, -1)).toEqual([second, first])
    expect([reordered(shown, first, -1), reordered(shown, second, 1), reordered(shown, { choice: 9 }, 1)]).toEqual([
      undefined,
      undefined,
      undefined,
    ])
  })

  it('is narrow until it is wide again', () => {
    const thin = narrowed(shape(), first, true)
    expect(lanesOf(groups, thin, status).shown.map((lane) => lane.narrow)).toEqual([true, false])
    expect(narrowed(narrowed(thin, first, true), first, false).narrow).toEqual([])
  })
})
