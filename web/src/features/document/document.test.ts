import { describe, expect, it } from 'vitest'
import type { BlockShows, DocumentView, Tracker } from '@/api/types'
import { field, table } from '@/testing'
import { begun, blockWith, doubled, moved, rowsOf, SORTS, withBlock, without, wordsOf } from './document'

const NAME = field({ type: 'text', limit: 80 } as never, { id: 10, name: 'Name', within: 'name' })
const COST = field({ type: 'money', currency: 'GBP' } as never, { id: 11, name: 'Cost', within: 'cost' })
const LEADER = field({ type: 'person' }, { id: 12, name: 'Leader', within: 'leader' })
const FILES = field({ type: 'files' }, { id: 13, name: 'Pictures', within: 'pictures' })
const LINES = field({ type: 'link', to: 2, back: 20, one: false, holds: false } as never, { id: 14, name: 'Lines', within: 'lines' })
const MADE = field({ type: 'created_by' }, { id: 15, name: 'Made by', within: 'made by' })
const home = table([NAME, MADE, COST, LEADER, FILES, LINES], { id: 1, one: 'order', standing: 10 } as never)
const bare = table([NAME], { id: 2, standing: 10 } as never)
const tracker = { tables: [home, bare] } as unknown as Tracker

const rule = () => blockWith({ as: 'rule' })
const beside = (shows: BlockShows = { as: 'rule' }) => ({ ...blockWith(shows), beside: true })

describe('blocks as they lie', () => {
  it('lays side by side what stands beside what is before it', () => {
    expect(rowsOf([rule(), beside(), rule(), beside(), beside()])).toEqual([
      [0, 1],
      [2, 3, 4],
    ])
    // The first has nothing to stand beside.
    expect(rowsOf([beside(), rule()])).toEqual([[0], [1]])
    expect(rowsOf([])).toEqual([])
  })

  it('moves one, and what comes first stands beside nothing', () => {
    const blocks = [blockWith({ as: 'break' }), beside({ as: 'space', height: 4 }), rule()]
    const up = moved(blocks, 1, -1)
    expect(up.map((block) => block.shows.as)).toEqual(['space', 'break', 'rule'])
    expect(up[0]!.beside).toBe(false)
    expect(moved(blocks, 2, 1).map((block) => block.shows.as)).toEqual(['break', 'space', 'rule'])
    expect(moved(blocks, 0, -1)).toEqual(blocks)
    expect(blocks[1]!.beside).toBe(true)
  })

  it('takes one away, doubles one, and puts another in its place', () => {
    const blocks = [rule(), beside({ as: 'break' })]
    expect(without(blocks, 0)).toEqual([{ ...blockWith({ as: 'break' }), beside: false }])
    const twice = doubled(blocks, 1)
    expect(twice.map((block) => [block.shows.as, block.beside])).toEqual([
      ['rule', false],
      ['break', true],
      ['break', false],
    ])
    // The second is a block of its own.
    expect(twice[1]).not.toBe(twice[2])
    expect(doubled(blocks, 7)).toEqual(blocks)
    expect(withBlock(blocks, 0, blocks[1]!)[0]).toBe(blocks[1])
  })
})

describe('the words of a block', () => {
  const words = (name: string) => ({ name, short: [], sentence: [] })
  const looked = (...blocks: ReturnType<typeof rule>[]) =>
    ({
      document: { blocks },
      words: { sentence: [], typed: [], blocks: blocks.map((block) => words(block.shows.as)) },
    }) as unknown as DocumentView
  const text = (text: string) => blockWith({ as: 'text', text, typed: false })

  it('go with it where it is moved, before the server has looked again', () => {
    const then = looked(text('a'), rule(), blockWith({ as: 'break' }))
    const now = moved(then.document.blocks, 2, -1)
    expect(now.map((_, place) => wordsOf(now, place, then)?.name)).toEqual(['text', 'break', 'rule'])
    // Standing beside another changes none of its words.
    expect(wordsOf([text('a'), beside()], 1, then)?.name).toBe('rule')
  })

  it('stay while it is changed, and are none of something else', () => {
    const then = looked(text('a'), rule())
    expect(wordsOf([text('b'), rule()], 0, then)?.name).toBe('text')
    expect(wordsOf([blockWith({ as: 'space', height: 3 }), rule()], 0, then)).toBeUndefined()
    expect(wordsOf([], 0, then)).toBeUndefined()
  })
})

describe('what a block begins with', () => {
  it('begins with what the table has', () => {
    expect(begun('heading', tracker, home)).toEqual({ as: 'heading', text: 'order', team: false })
    expect(begun('sums', tracker, home)).toMatchObject({ facts: [{ path: [11] }], total: true })
    expect(begun('lines', tracker, home)).toMatchObject({ as: 'lines', link: 14, shows: [10], totals: [] })
    expect(begun('picture', tracker, home)).toMatchObject({ path: [13] })
    // Somebody who is chosen, not who made the record.
    expect(begun('signature', tracker, home)).toMatchObject({ person: [12], signed: false })
    expect(begun('table', tracker, home)).toMatchObject({ shows: [10, 11, 12] })
    expect(begun('break', tracker, home)).toEqual({ as: 'break' })
  })

  it('begins with nothing where the table has nothing for it', () => {
    for (const sort of ['sums', 'lines', 'picture'] as const) expect(begun(sort, tracker, bare)).toBeUndefined()
    expect(begun('signature', tracker, bare)).toMatchObject({ person: [] })
  })

  it('offers a table on a sheet for all, and facts on one for each', () => {
    const offered = (each: boolean) => SORTS.filter((one) => one.each === undefined || one.each === each).map((one) => one.sort)
    expect(offered(true)).not.toContain('table')
    expect(offered(false)).not.toContain('facts')
    expect(offered(false)).toContain('table')
  })
})
