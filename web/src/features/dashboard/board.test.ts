import { describe, expect, it } from 'vitest'
import type { CrossCell, Crossed, CrossHead, Dashboard, Table, Tile } from '@/api/types'
import { barsOf, begun, bodyOf, crosses, moved, nextKey, partsOf, put, seriesOf, spanOf } from './board'
import { dotsOption, hueOf, optionOf, tipOf } from './chart'
import { conditionOf, withCondition } from './only'
import { ofSort, sortOf, without } from './statement'

const tile = (key: number, width = 1): Tile => ({ key, width, title: '', shows: { as: 'text', text: `${key}` } })
const keys = (tiles: Tile[]) => tiles.map((one) => one.key)

describe('tiles of a page', () => {
  const three = [tile(1), tile(4, 3), tile(2)]
  it('are known by keys that no other has', () => {
    expect(nextKey(three)).toBe(5)
    expect(nextKey([])).toBe(1)
  })
  it('are moved on and back, to the ends at most', () => {
    expect(keys(moved(three, 1, 1))).toEqual([4, 1, 2])
    expect(keys(moved(three, 2, -5))).toEqual([2, 1, 4])
    expect(keys(moved(three, 9, 1))).toEqual([1, 4, 2])
    expect(keys(three)).toEqual([1, 4, 2])
  })
  it('stand over as many columns as there are', () => {
    expect(spanOf(tile(1, 3), 2)).toBe(2)
    expect(spanOf(tile(1, 0), 2)).toBe(1)
  })
  it('take the place of what they were, or come last', () => {
    expect(keys(put(three, tile(4)))).toEqual([1, 4, 2])
    expect(put(three, tile(4))[1]!.width).toBe(1)
    expect(keys(put(three, tile(7)))).toEqual([1, 4, 2, 7])
  })
  it('are sent with all that is kept, and nothing else', () => {
    const board = { id: 3, name: 'Year', owner: 1, columns: 2, tiles: three } as Dashboard
    expect(bodyOf(board)).toEqual({ name: 'Year', about: '', open: 'own', columns: 2, tiles: three, only: [] })
  })
})

describe('what a new tile begins as', () => {
  const field = (id: number, type: string) => ({ id, name: `f${id}`, shows: { type } })
  const table = {
    id: 3,
    many: 'faults',
    standing: 41,
    fields: [field(40, 'numbering'), field(41, 'text'), field(48, 'date'), field(54, 'files')],
  } as unknown as Table
  const cross = { as: 'cross-tab' as const, down: [{ field: 47 }], across: [{ field: 48, by: 'month' as const }], within: 46 }
  it('is a view of the table, its name first, without files', () => {
    const list = begun('list', 1, table, cross)
    expect(list).toMatchObject({
      as: 'view',
      tracker: 1,
      table: 3,
      most: 5,
      query: { fields: [{ field: 41 }, { field: 40 }, { field: 48 }] },
    })
  })
  it('is a cross-tab as the server begins one, for bars and lines as they need it', () => {
    expect(begun('table', 1, table, cross)).toMatchObject({ draws: 'table', query: { shape: { down: [{ field: 47 }], within: null } } })
    expect(begun('bars', 1, table, cross)).toMatchObject({ draws: 'bars', query: { shape: { across: [], order: 'most' } } })
    expect(begun('lines', 1, table, cross)).toMatchObject({ query: { shape: { down: [{ field: 48, by: 'month' }], across: [] } } })
  })
  it('is a line that counts the table, or no words yet', () => {
    expect(begun('statement', 1, table, cross)).toMatchObject({
      as: 'statement',
      lines: [{ words: 'faults', of: { records: { table: 3 } } }],
    })
    expect(begun('text', 1, undefined, undefined)).toEqual({ as: 'text', text: '' })
  })
})

const head = (text: string, depth: number, count: number, hue?: string) => ({ text, depth, count, values: [], hue }) as unknown as CrossHead
const cell = (count: number, figure = ''): CrossCell => ({
  count,
  text: `${count}`,
  lead: `${count}`,
  figures: [{ text: figure, value: null }],
})
const crossed = {
  rows: [head('All', 0, 6), head('May', 1, 4), head('June', 1, 0), head('of June', 2, 0), head('July', 1, 2)],
  columns: [head('All', 0, 6), head('blocked', 1, 6, 'rowan'), head('passable', 1, 0)],
  cells: [
    [cell(6), cell(6)],
    [cell(4, '£8'), cell(4)],
    [null, null],
    [null, null],
    [cell(2, '£2'), cell(2)],
  ],
} as unknown as Crossed

describe('figures drawn', () => {
  it('are bars beside the longest, totals and what lies within left out', () => {
    expect(barsOf(crossed, 9).map((bar) => [bar.head.text, bar.row, bar.part])).toEqual([
      ['May', 1, 1],
      ['July', 4, 0.5],
    ])
    expect(barsOf(crossed, 1)).toHaveLength(1)
  })
  it('are a line for each value across that has any, nought where nothing is', () => {
    const { along, series } = seriesOf(crossed, false)
    expect(along).toEqual(['May', 'June', 'July'])
    expect(series).toEqual([{ name: 'blocked', hue: 'rowan', values: [4, 0, 2], texts: ['4', '–', '2'] }])
  })
  it('are one line of all where nothing stands across, by its figure', () => {
    const plain = { ...crossed, columns: crossed.columns.slice(0, 1) }
    expect(seriesOf(plain, true).series).toEqual([{ name: '', hue: undefined, values: [4, 0, 2], texts: ['£8', '–', '£2'] }])
  })
  it('are laid on each other where that is asked', () => {
    const colours = { ink: 'black', quiet: 'grey', line: 'silver', lines: ['red'] }
    const of = (laid: boolean) =>
      (optionOf(seriesOf(crossed, false), colours, laid)['series'] as { stack?: string; itemStyle: { color: string } }[])[0]!
    expect(of(true).stack).toBe('all')
    expect(of(false).stack).toBeUndefined()
    expect(of(false).itemStyle.color).toBe('red')
  })
  it('tell their names as words, whatever is in them', () => {
    const tip = tipOf(['May'], [{ name: '<b>loud</b>', hue: undefined, values: [1], texts: ['1'] }], 0)
    expect(tip.querySelector('b')).toBeNull()
    expect(tip.textContent).toBe('May<b>loud</b> 1')
  })
})

describe('the lines of a statement', () => {
  const records = { words: 'a', of: { records: { table: 3 } } }
  it('are of a sort, and become one of another', () => {
    expect([sortOf(records.of), sortOf('total'), sortOf({ share: { part: 1, whole: 0 } }), sortOf({ per: { what: 0, each: 1 } })]).toEqual([
      'records',
      'total',
      'share',
      'per',
    ])
    expect(ofSort('share', 2, 3)).toEqual({ share: { part: 1, whole: 0 } })
    expect(ofSort('per', 2, 3)).toEqual({ per: { what: 0, each: 1 } })
    expect(ofSort('total', 2, 3)).toBe('total')
    expect(ofSort('records', 2, 3)).toMatchObject({ records: { table: 3 } })
  })
  it('take with them what was made of them, and the others keep theirs', () => {
    const lines = [
      records,
      { words: 'b', of: { records: { table: 3 } } },
      { words: 'share of a', of: { share: { part: 1, whole: 0 } } },
      { words: 'c', of: { records: { table: 3 } } },
      { words: 'c per b', of: { per: { what: 3, each: 1 } } },
      { words: 'all', of: 'total' as const },
    ]
    expect(without(lines, 0).map((line) => [line.words, line.of === 'total' ? 0 : 'per' in line.of ? line.of.per : 0])).toEqual([
      ['b', 0],
      ['c', 0],
      ['c per b', { what: 1, each: 0 }],
      ['all', 0],
    ])
  })
})

describe('parts of a whole', () => {
  const head = (text: string, depth = 1) => ({ text, depth, values: [], count: 1 }) as unknown as CrossHead
  const cell = (lead: string | null) => ({ lead, text: lead ?? '', figures: [] }) as unknown as CrossCell
  it('are shares of what there is, without those that hold nothing', () => {
    const crossed = {
      rows: [head('', 0), head('passable'), head('blocked'), head('none')],
      columns: [head('', 0)],
      cells: [[cell('40')], [cell('30')], [cell('10')], [cell('0')]],
    } as unknown as Crossed
    expect(partsOf(crossed).map((part) => [part.head.text, part.share])).toEqual([
      ['passable', 0.75],
      ['blocked', 0.25],
    ])
  })
  it('wear their option’s hue, or the next in turn', () => {
    expect(hueOf('rowan', 0)).toBe('rowan')
    expect(hueOf(null, 0)).not.toBe(hueOf(null, 1))
  })
})

describe('what holds of a page', () => {
  const faults = { tracker: 1, table: 3 }
  const some = { test: { path: [46], check: { filled: {} } } } as never
  it('has one condition for each table, and none where it asks for nothing', () => {
    const one = withCondition([], faults, some)
    expect(one).toEqual([{ ...faults, condition: some }])
    const two = withCondition(one, { tracker: 1, table: 6 }, some)
    expect(two).toHaveLength(2)
    expect(withCondition(two, faults, { any: [some] })[0]!.condition).toEqual({ any: [some] })
    expect(withCondition(two, faults, { all: [] })).toEqual([{ tracker: 1, table: 6, condition: some }])
    expect(conditionOf(one, faults)).toEqual(some)
    expect(conditionOf(one, { tracker: 2, table: 3 })).toEqual({ all: [] })
  })
})

describe('dots', () => {
  const dots = {
    across: 'days open',
    up: 'hours',
    says: '1 fault',
    dots: [{ record: 7, name: '<b>Gate</b>', x: '12', y: '3.5', x_text: '12', y_text: '3.5 h' }],
  }
  it('stand by their numbers, and tell which they are in words', () => {
    const option = dotsOption(dots, { ink: '#000', quiet: '#666', line: '#ddd', lines: [] }) as {
      series: { data: number[][] }[]
      tooltip: { formatter: (point: { dataIndex: number }) => HTMLElement }
    }
    expect(option.series[0]!.data).toEqual([[12, 3.5]])
    const tip = option.tooltip.formatter({ dataIndex: 0 })
    expect([...tip.children].map((line) => line.textContent)).toEqual(['<b>Gate</b>', 'days open: 12', 'hours: 3.5 h'])
    expect(option.tooltip.formatter({ dataIndex: 5 }).textContent).toBe('')
  })
})

describe('what a new tile of days, dots or parts begins as', () => {
  const fields = ['text', 'date', 'number', 'files', 'money'].map((type, n) => ({ id: n + 1, name: `f${n}`, shows: { type } }))
  const table = { id: 3, standing: 1, fields } as unknown as Table
  it('takes the first day, and the first two numbers', () => {
    const shows = (sort: 'days' | 'dots' | 'parts') => begun(sort, 1, table, { as: 'cross-tab', down: [{ field: 1 }] } as never)
    expect(shows('days')).toMatchObject({ query: { shape: { as: 'calendar', dates: [{ start: 2 }] } }, draws: 'table' })
    const dots = shows('dots')
    expect(dots.as === 'view' && dots.query.fields.slice(0, 2).map((one) => one.field)).toEqual([3, 5])
    expect(dots).toMatchObject({ draws: 'dots' })
    expect(shows('parts')).toMatchObject({ draws: 'parts', query: { shape: { as: 'cross-tab', across: [] } } })
    expect([crosses('parts'), crosses('dots'), crosses('days')]).toEqual([true, false, false])
  })
})
