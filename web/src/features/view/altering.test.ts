import { describe, expect, it } from 'vitest'
import type { Query } from '@/api/types'
import { field } from '@/testing'
import { useAltering } from './altering'

const query: Query = {
  condition: {
    all: [{ test: { path: [47], of: 'any', check: { is: 'filled' } } }, { test: { path: [41], of: 'any', check: { is: 'empty' } } }],
  },
  fields: [
    { field: 41, width: 200 },
    { field: 47, width: 90 },
  ],
  groups: [
    { field: 47, descending: false },
    { field: 42, descending: false },
  ],
  sorts: [1, 2, 3, 4, 5].map((field) => ({ field, descending: false })),
  tallies: [{ field: 49, figure: 'sum' }],
  shape: { as: 'rows', height: 'two' },
}

function altered(does: (altering: ReturnType<typeof useAltering>) => void, now: Query | undefined = query) {
  const changes: (Partial<Query> | 'forgotten')[] = []
  does(useAltering(() => now, (by) => changes.push(by), () => changes.push('forgotten'))) // prettier-ignore
  return changes
}

describe('what a view asks', () => {
  it('loses the phrase that is taken out, and keeps the others', () => {
    const drop = (at: string) => altered(({ dropPhrase }) => dropPhrase(at))[0]
    expect(drop('/condition/all/0')).toEqual({ condition: { all: [{ test: { path: [41], of: 'any', check: { is: 'empty' } } }] } })
    expect(drop('/groups/0')).toEqual({ groups: [query.groups![1]] })
    expect(drop('/sorts/4')).toEqual({ sorts: query.sorts!.slice(0, 4) })
    expect(drop('/tallies')).toEqual({ tallies: [] })
    expect(drop('/without')).toEqual({ without: [] })
    expect(drop('/own')).toBe('forgotten')
    expect(drop('/shape/height')).toEqual({ shape: { as: 'rows' } })
    expect(drop('/shape')).toEqual({ shape: { as: 'rows' } })
    const crossed = { ...query, shape: { as: 'cross-tab', down: [{ field: 1 }, { field: 2 }], share: 'row', within: 3 } as never }
    const left = (at: string) => altered(({ dropPhrase }) => dropPhrase(at), crossed)[0]
    expect(left('/shape/down/0')).toEqual({ shape: { as: 'cross-tab', down: [{ field: 2 }], share: 'row', within: 3 } })
    expect(left('/shape/share')).toEqual({ shape: { as: 'cross-tab', down: [{ field: 1 }, { field: 2 }], within: 3 } })
    expect(altered(({ dropPhrase }) => dropPhrase('/tallies'), undefined).slice(1)).toEqual([])
  })

  it('stands in the order of the field that is chosen last, of few', () => {
    const by = field({ type: 'text', limit: 80 }, { id: 3 })
    expect(altered(({ orderBy }) => orderBy(by, true))[0]!).toEqual({
      sorts: [3, 1, 2, 4, 5].map((field) => ({ field, descending: field === 3 })),
    })
    const sorts = (altered(({ orderBy }) => orderBy(field({ type: 'text', limit: 80 }, { id: 9 }), false))[0] as Query).sorts!
    expect(sorts.map((sort) => sort.field)).toEqual([9, 1, 2, 3, 4])
  })

  it('keeps widths when headings are put in another order, and knows no strangers', () => {
    expect(altered(({ reorder }) => reorder([47, 99, 41]))[0]).toEqual({ fields: [query.fields[1], query.fields[0]] })
    expect(altered(({ keepFields }) => keepFields(2))[0]).toEqual({ shape: { as: 'rows', height: 'two', keeps: 2 } })
    expect(altered(({ keepFields }) => keepFields(1), { ...query, shape: { as: 'cards' } as never })[0]).toEqual({
      shape: { as: 'rows', keeps: 1 },
    })
    expect(altered(({ groupBy }) => groupBy(undefined))[0]).toEqual({ groups: [] })
  })
})
