import { describe, expect, it } from 'vitest'
import type { CrossCell, Crossed, CrossHead } from '@/api/types'
import { asLines, combsOf, combWidth, huesOf, oversOf, partOf, readsOf, strokePath, walked } from './crossing'

const head = (text: string, depth: number, count: number): CrossHead => ({ text, depth, count, values: [] })
const cell = (count: number, ...figures: string[]): CrossCell => ({
  count,
  text: String(count),
  lead: String(count),
  figures: figures.map((text) => ({ text, value: null })),
})
const crossed: Crossed = {
  rows: [head('All', 0, 5), head('Eskermoor', 1, 3), head('Low Marrow', 1, 0), head('Ninestone', 1, 2)],
  columns: [head('All months', 0, 5), head('May', 1, 4), head('June', 1, 0), head('July', 1, 1)],
  cells: [
    [cell(5, '9.0 h'), cell(4, '8.0 h'), null, cell(1, '1.0 h')],
    [cell(3, '6.0 h'), cell(3, '6.0 h'), null, null],
    [null, null, null, null],
    [cell(2, '3.0 h'), cell(1, '2.0 h'), null, cell(1, '1.0 h')],
  ],
  within: [],
  stroke: 1,
  stroke_says: '',
  most: '3',
  foot: [],
}

describe('what is read in a cell', () => {
  it('is the count, with the figures beside it', () =>
    expect(readsOf(cell(8, '36.0 h', ''), false)).toEqual({ lead: '8', others: ['36.0 h'] }))
  it('is the first figure where that leads, with the count beside it', () => {
    expect(readsOf(cell(8, '£120', '4'), true)).toEqual({ lead: '£120', others: ['8', '4'] })
    expect(readsOf(cell(8, ''), true).lead).toBe('–')
  })
  it('is drawn as a part of the most', () => {
    expect(partOf(cell(3), '12')).toBe(0.25)
    expect(partOf(cell(30), '12')).toBe(1)
    expect(partOf({ ...cell(3), lead: '-3' }, '12')).toBe(0)
    expect(partOf(null, '12')).toBe(0)
    expect(partOf(cell(3), null)).toBe(0)
  })
})

describe('combs within a cell', () => {
  it('have a stroke for so many records, and one at least', () => {
    expect(combsOf([12, 0, 1], 5)).toEqual([
      { part: 0, x: 0, strokes: 3 },
      { part: 2, x: 13, strokes: 1 },
    ])
    expect(combWidth(combsOf([12, 0, 1], 5))).toBe(16)
    expect(combWidth([])).toBe(0)
  })
  it('are strokes under a back', () => expect(strokePath({ part: 0, x: 4, strokes: 2 }, 18)).toBe('M5 0v18M8 0v18M4 1h5'))
  it('wear the colours of their options', () => {
    const parts = [
      { value: { choice: 80 }, text: 'reported', count: 1, figures: [] },
      { value: 'empty' as const, text: 'no status', count: 1, figures: [] },
    ]
    const field = { shows: { type: 'choice', options: [{ id: 80, name: 'reported', hue: 'flint' }] } }
    expect(huesOf(parts, field as never)).toEqual(['var(--flint)', 'var(--quiet)'])
    expect(huesOf(parts, undefined)).toEqual(['var(--quiet)', 'var(--quiet)'])
  })
})

describe('walking', () => {
  const from =
    (row: number, column: number) =>
    (key: string, ctrl = false) =>
      walked(crossed, { row, column }, key, ctrl)
  it('goes past rows and columns in which nothing is', () => {
    expect(from(1, 1)('ArrowDown')).toEqual({ row: 3, column: 1 })
    expect(from(1, 1)('ArrowRight')).toEqual({ row: 1, column: 3 })
  })
  it('ends at the edges', () => {
    expect(from(0, 0)('ArrowUp')).toEqual({ row: 0, column: 0 })
    expect(from(3, 3)('ArrowRight')).toEqual({ row: 3, column: 3 })
    expect(from(3, 3)('Home')).toEqual({ row: 3, column: 0 })
    expect(from(1, 1)('End', true)).toEqual({ row: 3, column: 3 })
    expect(from(3, 3)('Home', true)).toEqual({ row: 0, column: 0 })
  })
  it('is only what its keys do', () => expect(from(1, 1)('a')).toBeUndefined())
})

describe('its heads', () => {
  it('stand over those within them', () => {
    const columns = [head('All', 0, 9), head('2025', 1, 4), head('May', 2, 1), head('June', 2, 3), head('2026', 1, 5), head('May', 2, 5)]
    expect(oversOf(columns)).toEqual([
      { text: 'All', span: 1, column: 0 },
      { text: '2025', span: 3, column: 1 },
      { text: '2026', span: 2, column: 4 },
    ])
  })
})

describe('copied', () => {
  it('is lines of cells, an outer head said with each of its inner ones', () => {
    const deep = { ...crossed, rows: [crossed.rows[0]!, crossed.rows[1]!, head('blocked\ttwice', 2, 1), crossed.rows[3]!] }
    expect(asLines(deep, false).split('\n')).toEqual([
      '\tAll months\tMay\tJune\tJuly',
      'All\t5 (9.0 h)\t4 (8.0 h)\t\t1 (1.0 h)',
      'Eskermoor\t3 (6.0 h)\t3 (6.0 h)\t\t',
      'Eskermoor, blocked twice\t\t\t\t',
      'Ninestone\t2 (3.0 h)\t1 (2.0 h)\t\t1 (1.0 h)',
    ])
    expect(asLines(crossed, true).split('\n')[1]).toBe('All\t9.0 h (5)\t8.0 h (4)\t\t1.0 h (1)')
  })
})
