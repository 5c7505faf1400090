import { describe, expect, it } from 'vitest'
import type { Group } from '@/api/types'
import { groupKey, Layout } from './layout'

const group = (name: string, count: number): Group => ({
  value: { text: name },
  text: name,
  count,
  counted: `${count} faults`,
  tallies: [],
  within: [],
})
const groups = [group('Eskermoor', 2), group('Harrow Tarn', 3), group('Ninestone', 1)]

describe('the lines of a view', () => {
  it('are its records where there are no groups', () => {
    const layout = new Layout([], 5, new Set())
    expect(layout.length).toBe(5)
    expect(layout.at(3)).toEqual({ type: 'row', place: 3, head: undefined })
    expect(layout.lineOf(3)).toBe(3)
  })

  it('put a head before each group, and every record finds its line again', () => {
    const layout = new Layout(groups, 6, new Set())
    expect(layout.length).toBe(9)
    const kinds = Array.from({ length: 9 }, (_, line) => layout.at(line).type[0]).join('')
    expect(kinds).toBe('grrgrrrgr')
    for (let place = 0; place < 6; place++) {
      expect(layout.at(layout.lineOf(place)!)).toMatchObject({ type: 'row', place })
    }
  })

  it('leave out the records of a closed group, and count on behind it', () => {
    const layout = new Layout(groups, 6, new Set([groupKey([groups[1]!])]))
    expect(layout.length).toBe(6)
    expect(layout.at(3)).toMatchObject({ type: 'group', closed: true })
    expect(layout.at(5)).toMatchObject({ type: 'row', place: 5 })
    expect(layout.lineOf(3)).toBeUndefined()
    expect(layout.lineOf(5)).toBe(5)
  })

  it('put groups within groups, and what stands in a closed one is not there', () => {
    const outer = (name: string, ...within: Group[]) => ({
      ...group(
        name,
        within.reduce((sum, one) => sum + one.count, 0),
      ),
      within,
    })
    const tree = [
      outer('Eskermoor', group('blocked', 1), group('awkward', 2)),
      outer('Ninestone', group('blocked', 0), group('awkward', 1)),
    ]
    const layout = new Layout(tree, 4, new Set())
    const kinds = Array.from({ length: layout.length }, (_, line) => layout.at(line).type[0]).join('')
    expect(kinds).toBe('ggrgrrgggr')
    for (let place = 0; place < 4; place++) expect(layout.at(layout.lineOf(place)!)).toMatchObject({ type: 'row', place })
    expect(layout.at(4)).toMatchObject({ head: { path: [{ text: 'Eskermoor' }, { text: 'awkward' }] } })
    const folded = new Layout(tree, 4, new Set([groupKey([tree[0]!])]))
    expect(Array.from({ length: folded.length }, (_, line) => folded.at(line).type[0]).join('')).toBe('ggggr')
    expect(folded.lineOf(1)).toBeUndefined()
    expect(folded.headOf(1)).toBe(0)
    // An empty group between two has no place of its own.
    expect(folded.lineOf(3)).toBe(4)
  })
})
