import { describe, expect, it } from 'vitest'
import type { Row, Value } from '@/api/types'
import { field } from '@/testing'
import { continued, drawnOn, emptied, filledAcross, filledDown, handedOver, pasted, repeated, rowsOf, widest } from './block'

const row = (id: number, ...values: Value[]): Row =>
  ({ id, version: 1, change: true, remove: true, cells: values.map((value) => ({ value, text: textOf(value) })) }) as Row
const textOf = (value: Value) => (typeof value === 'object' ? String(Object.values(value)[0]) : '')
const WHAT = field({ type: 'text', limit: 80 } as never, { id: 41 } as never)
const HOURS = field({ type: 'number', decimals: 1, unit: 'h' } as never, { id: 50 } as never)

describe('a pasted text', () => {
  it('is cut at tabs and lines, with quotes around what holds either', () => {
    expect(rowsOf('a\tb\nc\td')).toEqual([
      ['a', 'b'],
      ['c', 'd'],
    ])
    expect(rowsOf('a\tb\r\n')).toEqual([['a', 'b']])
    expect(rowsOf('"two\nlines"\t"a ""quoted"" word"\n\tb')).toEqual([
      ['two\nlines', 'a "quoted" word'],
      ['', 'b'],
    ])
    expect(rowsOf('5" nails\tx')).toEqual([['5" nails', 'x']])
    expect(rowsOf('')).toEqual([['']])
  })

  it('is taken as typed, and values that come from here as they are', () => {
    expect(pasted('a\t1,5', '')).toEqual([[{ text: 'a' }, { text: '1,5' }]])
    const rows = [row(1, { text: '=1+1' }, { number: '2.50' }), row(2, { text: 'two\nlines' }, { number: '-3' })]
    const { text, html } = handedOver(rows, [WHAT, HOURS], 0)
    expect(text).toBe('\'=1+1\t2.50\n"two\nlines"\t-3')
    expect(html).toContain("<td>'=1+1</td><td>2.50</td>")
    expect(pasted(text, html)).toEqual([
      [{ value: { text: '=1+1' } }, { value: { number: '2.50' } }],
      [{ value: { text: 'two\nlines' } }, { value: { number: '-3' } }],
    ])
    // Without the table that comes with it, what guards a formula’s sign goes again.
    expect(pasted(text, '<table><tr><td>x</td></tr></table>')[0]).toEqual([{ text: '=1+1' }, { text: '2.50' }])
    expect(pasted('a', '<table data-block="no json"></table>')).toEqual([[{ text: 'a' }]])
  })
})

describe('a block', () => {
  const one = [[{ text: 'x' }]]
  it('goes into each cell that is selected, where it fits whole times', () => {
    expect(repeated(one, 2, 2)).toEqual([
      [{ text: 'x' }, { text: 'x' }],
      [{ text: 'x' }, { text: 'x' }],
    ])
    const two = [[{ text: 'a' }], [{ text: 'b' }]]
    expect(repeated(two, 4, 1).map(([cell]) => cell)).toEqual([{ text: 'a' }, { text: 'b' }, { text: 'a' }, { text: 'b' }])
    expect(repeated(two, 3, 1)).toBe(two)
    expect(widest(Array.from({ length: 300_000 }, () => [null, null]))).toBe(2)
  })

  it('is filled down and across, and leaves what it comes from as it is', () => {
    const rows = [row(1, { text: 'a' }, { number: '1' }), row(2, { text: 'b' }, { number: '2' })]
    expect(filledDown(rows, 0, 1)).toEqual([
      [null, null],
      [{ value: { text: 'a' } }, { value: { number: '1' } }],
    ])
    expect(filledAcross(rows, 0, 1)[1]).toEqual([null, { value: { text: 'b' } }])
    expect(emptied(1, 2)).toEqual([[{ value: 'empty' }, { value: 'empty' }]])
  })

  it('goes on by the step of its first two: exactly for numbers, by days, and by turns for words', () => {
    const rows = [
      row(1, { number: '0.1' }, { date: '2026-02-27' }, { text: 'odd' }, { number: '5' }),
      row(2, { number: '0.25' }, { date: '2026-03-06' }, { text: 'even' }, { number: '3' }),
      ...[3, 4].map((id) => row(id, 'empty', 'empty', 'empty', 'empty')),
    ]
    const [first, , third, fourth] = continued(rows, 0, 3)
    expect(first).toEqual([null, null, null, null])
    expect(third).toEqual([
      { value: { number: '0.40' } },
      { value: { date: '2026-03-13' } },
      { value: { text: 'odd' } },
      { value: { number: '1' } },
    ])
    expect(fourth).toEqual([
      { value: { number: '0.55' } },
      { value: { date: '2026-03-20' } },
      { value: { text: 'even' } },
      { value: { number: '-1' } },
    ])
  })
})

describe('what is drawn on by its corner', () => {
  const area = (top: number, bottom: number, left = 0, right = 0) => ({ top, bottom, left, right })
  const numbers = (...values: string[]) => values.map((number, n) => row(n, { number }))
  const put = (rows: Row[], from: ReturnType<typeof area>, to: ReturnType<typeof area>) =>
    drawnOn(rows, from, to).map((cells) => cells.map((cell) => cell && (cell as { value: Value }).value))

  it('goes into those beneath as it is, and on by a step where there is one', () => {
    expect(put(numbers('3', '', ''), area(0, 0), area(0, 2))).toEqual([[null], [{ number: '3' }], [{ number: '3' }]])
    expect(put(numbers('3', '5', '', ''), area(0, 1), area(0, 3))).toEqual([[null], [null], [{ number: '7' }], [{ number: '9' }]])
    // Three that follow no step come by turns.
    expect(put(numbers('1', '2', '4', '', ''), area(0, 2), area(0, 4)).slice(3)).toEqual([[{ number: '1' }], [{ number: '2' }]])
    expect(put(numbers('1', '2', '3', '', ''), area(0, 2), area(0, 4)).slice(3)).toEqual([[{ number: '4' }], [{ number: '5' }]])
  })

  it('goes across by turns, whatever stands there', () => {
    const rows = [row(1, { text: 'a' }, { text: 'b' }, 'empty', 'empty')]
    expect(put(rows, area(0, 0, 0, 1), area(0, 0, 0, 3))).toEqual([[null, null, { text: 'a' }, { text: 'b' }]])
  })

  it('leaves out what it began with, also where it is wider than that', () => {
    const days = ['2026-11-26', '2026-11-28', '', ''].map((date, n) => row(n, { date }, { text: 'x' }))
    expect(put(days, area(0, 1, 0, 1), area(0, 3, 0, 1)).slice(2)).toEqual([
      [{ date: '2026-11-30' }, { text: 'x' }],
      [{ date: '2026-12-02' }, { text: 'x' }],
    ])
  })
})
