import { describe, expect, it } from 'vitest'
import type { Group, Row } from '@/api/types'
import { paperLines } from './lines'

const rows = [1, 2, 3, 4].map((id) => ({ id }) as Row)
const group = (text: string, count: number, within: Group[] = []) =>
  ({ value: { text }, text, count, counted: '', tallies: [], within }) as unknown as Group
const told = (groups: Group[], some = rows) =>
  paperLines(groups, some).map((line) => (line.type === 'head' ? line.head.path.map((one) => one.text).join('/') : line.row.id))

describe('lines on paper', () => {
  it('are the records, where there are no groups', () => {
    expect(told([])).toEqual([1, 2, 3, 4])
  })

  it('stand under their groups, and those under theirs; what is empty is left out', () => {
    expect(told([group('a', 3, [group('x', 1), group('y', 2)]), group('b', 0), group('c', 1)])).toEqual([
      'a',
      'a/x',
      1,
      'a/y',
      2,
      3,
      'c',
      4,
    ])
  })

  it('end where the records do that were read', () => {
    expect(told([group('a', 2), group('b', 2)], rows.slice(0, 2))).toEqual(['a', 1, 2])
  })
})
