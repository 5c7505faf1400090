import { describe, expect, it } from 'vitest'
import type { Discovery } from '@/api/types'
import { columnsOf, leapt, readFrom, sectionsElsewhere, sectionsOf, stepped, writeFrom } from './discovery'

const says = [{ of: 'what is wrong', text: [{ text: 'Gate', hit: true }] }]
const found: Discovery = {
  words: [{ text: 'gate', alone: 9 }],
  cut: false,
  count: 9,
  says: '9',
  tables: [
    {
      table: 3,
      name: 'Faults',
      count: 9,
      left_out: 1,
      says: '8, and 1 this view leaves out',
      only: { all: [] },
      lines: [
        { record: 7, name: 'Gate off', beside: 'FR-7', says },
        { record: 9, name: 'Gate gone', beside: 'FR-9', says, left_out: 'status is made good' },
      ],
    },
  ],
  places: [
    { sort: 'Views', name: 'Gates', beside: 'Faults', says, leads: { to: 'view', table: 3, view: 104 } },
    { sort: 'To do with it', name: 'Add a fault', beside: '', says: [], leads: { to: 'add', table: 3, cells: [{ field: 12, option: 4 }] } },
    { sort: 'To do with it', name: 'Add a section', beside: '', says: [], leads: { to: 'add', table: 2, cells: [] } },
  ],
}

describe('what was found', () => {
  it('is laid out by tables, then by sorts of what is called so', () => {
    const sections = sectionsOf(1, found, { table: 3, view: 104 })
    expect(sections.map((one) => [one.heading, one.more, one.lines.length])).toEqual([
      ['Faults', 7, 2],
      ['Views', 0, 1],
      ['To do with it', 0, 2],
    ])
    expect(new Set(sections.flatMap((one) => one.lines.map((line) => line.key))).size).toBe(5)
  })

  it('leads to records beside the rows of the view from which one looks', () => {
    const line = sectionsOf(1, found, { table: 3, view: 104 })[0]!.lines[0]!
    expect(line.to).toEqual({ name: 'view', params: { tracker: 1, table: 3, view: 104 }, query: { record: 7 } })
    expect(line.whole).toEqual({ name: 'record', params: { tracker: 1, table: 3, record: 7 } })
    const elsewhere = sectionsOf(1, found, { table: 2, view: 9 })[0]!.lines[0]!
    expect(elsewhere.to).toMatchObject({ params: { view: undefined } })
  })

  it('says what the words fill in of a new record, in the address', () => {
    const acts = sectionsOf(1, found)[2]!.lines
    expect(acts[0]!.to).toMatchObject({ name: 'view', params: { table: 3 }, query: { add: '12:4' } })
    expect(acts[1]!.to).toMatchObject({ params: { table: 2 }, query: { add: 'one' } })
  })

  it('of other trackers is named by them, and looks into none of their tables alone', () => {
    const sections = sectionsElsewhere([{ tracker: 5, name: 'Village orchard', found }])
    expect(sections.map((one) => one.heading)).toEqual([
      'Faults, Village orchard',
      'Views, Village orchard',
      'To do with it, Village orchard',
    ])
    expect(sections[0]!.table).toBeUndefined()
    expect(sections[0]!.lines[0]!.to).toMatchObject({ params: { tracker: 5 } })
  })
})

describe('the words’ columns', () => {
  it('are one for each word, and the last is shared by what is more', () => {
    expect(columnsOf(['a'])).toEqual([['a']])
    expect(columnsOf(['a', 'b', 'c', 'd', 'e'])).toEqual([['a'], ['b'], ['c', 'd', 'e']])
    expect(columnsOf([])).toEqual([])
  })
})

describe('walking through lines', () => {
  it('goes on from where one is, and stays at the ends', () => {
    const keys = ['a', 'b', 'c']
    expect(stepped(keys, undefined, 1)).toBe('a')
    expect(stepped(keys, 'gone', -1)).toBe('c')
    expect(stepped(keys, 'b', 1)).toBe('c')
    expect(stepped(keys, 'c', 1)).toBe('c')
    expect(stepped([], 'a', 1)).toBeUndefined()
  })

  it('leaps to the next heading and back', () => {
    const sections = sectionsOf(1, found)
    const first = sections.map((one) => one.lines[0]!.key)
    expect(leapt(sections, first[0], 1)).toBe(first[1])
    expect(leapt(sections, sections[0]!.lines[1]!.key, 1)).toBe(first[1])
    expect(leapt(sections, first[2], 1)).toBe(first[2])
    expect(leapt(sections, first[0], -1)).toBe(first[0])
    expect(leapt([], undefined, 1)).toBeUndefined()
  })
})

describe('the view from which one looks', () => {
  it('stands in the address', () => {
    for (const from of [{ table: 3 }, { table: 3, view: 104 }]) expect(readFrom(writeFrom(from))).toEqual(from)
    for (const wrong of [undefined, '', 'x', '3-', '-4', ['3']]) expect(readFrom(wrong)).toBeUndefined()
  })
})
