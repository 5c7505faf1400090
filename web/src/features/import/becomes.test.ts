import { describe, expect, it } from 'vitest'
import type { ColumnPlan, Kind, KindWords, Plan, Table } from '@/api/types'
import { becomesOf, keyOf, unmatchedOf, ways } from './becomes'

const table = {
  id: 3,
  name: 'Wells',
  standing: 7,
  fields: [
    { id: 7, name: 'Well', writes: true, kind: { type: 'text', limit: 9 } },
    { id: 8, name: 'Kept by', writes: true, kind: { type: 'link', to: 4, back: 9, one: true, holds: true } },
  ],
} as unknown as Table
const column = { column: 0, name: 'Basin', becomes: 'nothing' } as ColumnPlan
const into = { heading: { first: 0, rows: 1 }, without: [], into: { table: { table: 3, key: null } }, columns: [] } as Plan

const kinds = ['text', 'money', 'date', 'choice', 'link'].map((type) => ({ type, name: type })) as KindWords[]
const begins = (type: Kind['type']) => ({ type, decimals: 2 }) as unknown as Kind

const own = { name: 'Villages', one: 'village' }

describe('what a column becomes', () => {
  it('is the same after a way of it was chosen', () => {
    for (const way of ways(into, [table], true, kinds).filter((w) => w.key !== 'link:3')) {
      expect(keyOf(becomesOf(way.key, column, [table], begins, own))).toBe(way.key)
    }
    expect(keyOf(becomesOf('link:3', column, [table], begins, own))).toBe('link:3')
  })

  it('offers new fields and tables to builders only', () => {
    const groups = (builds: boolean) => new Set(ways(into, [table], builds, kinds).map((w) => w.group))
    expect(groups(false)).toEqual(new Set(['', 'Fields of Wells']))
    expect(groups(true).has('A new field')).toBe(true)
  })

  it('keeps the settings of a kind that it has already', () => {
    const money = { ...column, becomes: { field: { kind: { type: 'money', currency: 'EUR' } } } } as ColumnPlan
    expect(becomesOf('new:money', money, [table], begins, own)).toBe(money.becomes)
  })

  it('asks what is not there only where it can be missing', () => {
    expect(unmatchedOf(becomesOf('field:7', column, [table], begins, own), table.fields)).toBeUndefined()
    expect(unmatchedOf(becomesOf('field:8', column, [table], begins, own), table.fields)).toBe('flag')
  })
})
