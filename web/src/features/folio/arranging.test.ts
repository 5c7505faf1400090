import { describe, expect, it } from 'vitest'
import type { LaidOut, Section } from '@/api/types'
import { field, table } from '@/testing'
import { isWideAt, restOf, shifted } from './arranging'
import { goesOn, typedInto } from './desk'

const section = (...fields: number[]): Section => ({
  heading: '',
  fields: fields.map((one) => ({ field: one, wide: false })),
  two: false,
  closed: false,
  when: { all: [] },
  not_for: [],
})
const text = (id: number, over: object = {}) => field({ type: 'text', limit: 80 }, { id, name: `F${id}`, ...over })
const ids = (sections: Section[]) => sections.map((one) => one.fields.map((placed) => placed.field))

describe('arranging', () => {
  it('moves a field on over the edges between sections, and stops at the ends', () => {
    const sections = [section(1, 2), section(3)]
    expect(ids(shifted(sections, 0, 0, 1))).toEqual([[2, 1], [3]])
    expect(ids(shifted(sections, 0, 1, 1))).toEqual([[1], [2, 3]])
    expect(ids(shifted(sections, 1, 0, -1))).toEqual([[1, 2, 3], []])
    expect(ids(shifted(sections, 0, 0, -1))).toEqual([[1, 2], [3]])
    expect(ids(shifted(sections, 1, 0, 1))).toEqual([[1, 2], [3]])
    expect(ids(sections)).toEqual([[1, 2], [3]])
  })

  it('makes a field as wide as its edge is drawn, and leaves it where that was little', () => {
    expect([0, 99, 101, 400].map((drawn) => isWideAt(false, drawn, 600))).toEqual([false, false, true, true])
    expect([0, -99, -101, 50].map((drawn) => isWideAt(true, drawn, 600))).toEqual([true, true, false, true])
  })

  it('leaves to the end what stands nowhere, but not what is in the head or kept by itself', () => {
    const fields = [
      text(41),
      text(1),
      text(2),
      field({ type: 'created_at' }, { id: 5 }),
      field({ type: 'numbering', parts: [] }, { id: 6 }),
    ]
    const rest = restOf(table(fields), { sections: [section(1)], away: [], lists: [] })
    expect(rest.map((one) => one.field)).toEqual([2])
  })
})

describe('going on by Tab', () => {
  const laid: LaidOut = { sections: [section(1, 2, 3, 4), { ...section(5), closed: true }], away: [9] }
  const fields = [text(41), text(1), text(2, { writes: false }), field({ type: 'files' }, { id: 3 }), text(4), text(5), text(9)]
  const home = table(fields)

  it('goes from the name along what one types into, in the order in which it stands', () => {
    expect(typedInto({ laid, table: home })).toEqual([41, 1, 4, 5])
    expect(typedInto({ laid, table: home }, (n) => n === 0)).toEqual([41, 1, 4])
  })

  it('goes on, back, and nowhere from the last', () => {
    const order = [41, 1, 4]
    expect(goesOn(order, 41, 'right')).toBe(1)
    expect(goesOn(order, 1, 'down')).toBe(4)
    expect(goesOn(order, 1, 'left')).toBe(41)
    expect(goesOn(order, 4, 'right')).toBeUndefined()
    expect(goesOn(order, 1, 'stay')).toBeUndefined()
    expect(goesOn(order, 77, 'right')).toBeUndefined()
  })
})
