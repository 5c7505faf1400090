import { describe, expect, it } from 'vitest'
import { field } from '@/testing'
import { blockOver, movedLine, nextCell, shifted } from './lines'

const rows = [11, 12]
const fields = [1, 2, 3]

describe('going on from a cell of a line', () => {
  const from = (row: number, field: number, move: 'right' | 'left' | 'down' | 'stay') => nextCell(rows, fields, { row, field }, move)

  it('goes along the line, then to the next, and behind the last to a new one', () => {
    expect(from(11, 2, 'right')).toEqual({ row: 11, field: 3 })
    expect(from(11, 3, 'right')).toEqual({ row: 12, field: 1 })
    expect(from(12, 1, 'left')).toEqual({ row: 11, field: 3 })
    expect(from(12, 3, 'right')).toBe('new')
    expect(from(11, 2, 'down')).toEqual({ row: 12, field: 2 })
  })

  it('stays where there is nothing before, and where one stays', () => {
    expect(from(11, 1, 'left')).toBeUndefined()
    expect(from(12, 2, 'down')).toBeUndefined()
    expect(from(11, 1, 'stay')).toBeUndefined()
    expect(from(99, 1, 'right')).toBeUndefined()
  })
})

describe('a block pasted into lines', () => {
  const name = field({ type: 'text', limit: 80 }, { id: 1 })
  const cost = field({ type: 'calculation' } as never, { id: 2, writes: false })
  const count = field({ type: 'number' } as never, { id: 3 })
  const over = { rows, fields: [name, cost, count] }
  const link = { field: 9, record: 7 }
  const text = (text: string) => ({ text })
  const cells = [
    [text('Post'), text('4.20'), text('2')],
    [text('Rail'), text('3.10'), text('5')],
  ]
  const linked = { value: { links: [7] } }

  it('goes beneath the lines as new ones that are linked, and passes over what follows by itself', () => {
    expect(blockOver(cells, over, undefined, link, true)).toEqual({
      records: [],
      fields: [1, 2, 3, 9],
      cells: [
        [text('Post'), null, text('2'), linked],
        [text('Rail'), null, text('5'), linked],
      ],
      make: false,
    })
  })

  it('is linked to nothing where there is no record yet', () => {
    expect(blockOver(cells, over, undefined, undefined, true)).toEqual({
      records: [],
      fields: [1, 2, 3],
      cells: [
        [text('Post'), null, text('2')],
        [text('Rail'), null, text('5')],
      ],
      make: false,
    })
  })

  it('goes over the lines from the cell that one is in, and on as new ones', () => {
    const block = blockOver([[text('a')], [text('b')]], over, { row: 12, field: 3 }, link, true)
    expect(block).toEqual({ records: [12], fields: [3, 9], cells: [[text('a'), null], [text('b'), linked]], make: false }) // prettier-ignore
  })

  it('leaves out what goes beyond the last where none may be added', () => {
    expect(blockOver(cells, over, { row: 12, field: 1 }, link, false)!.cells).toHaveLength(1)
    expect(blockOver(cells, over, undefined, link, false)).toBeUndefined()
  })
})

describe('a line that is put elsewhere', () => {
  it('is told by what it stands behind now, or before, where it is first', () => {
    expect(movedLine([1, 2, 3, 4], [1, 3, 4, 2])).toEqual({ line: 2, spot: { after: 4 } })
    expect(movedLine([1, 2, 3, 4], [4, 1, 2, 3])).toEqual({ line: 4, spot: { before: 1 } })
    expect(movedLine([1, 2], [2, 1])).toEqual({ line: 1, spot: { after: 2 } })
    expect(movedLine([1, 2, 3], [1, 2, 3])).toBeUndefined()
  })

  it('is found wherever it went', () => {
    const lines = [1, 2, 3, 4, 5]
    for (const from of lines)
      for (const place of [0, 1, 2, 3, 4]) {
        const now = lines.filter((one) => one !== from)
        now.splice(place, 0, from)
        const moved = movedLine(lines, now)
        const rest = lines.filter((one) => one !== moved?.line)
        if (moved && typeof moved.spot === 'object') {
          const beside = 'after' in moved.spot ? rest.indexOf(moved.spot.after) + 1 : rest.indexOf(moved.spot.before)
          rest.splice(beside, 0, moved.line)
        }
        expect(rest).toEqual(now)
      }
  })

  it('goes up and down by one, and not beyond the ends', () => {
    expect(shifted([1, 2, 3], 2, -1)).toEqual([2, 1, 3])
    expect(shifted([1, 2, 3], 2, 1)).toEqual([1, 3, 2])
    expect([shifted([1, 2, 3], 1, -1), shifted([1, 2, 3], 3, 1), shifted([1], 9, 1)]).toEqual([undefined, undefined, undefined])
  })
})
