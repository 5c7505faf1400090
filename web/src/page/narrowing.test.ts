import { expect, it } from 'vitest'
import type { PageColumn } from '@/api/types'
import { conditionOf, nothing, orderNow, ordersOf } from './narrowing'

const column = (over: Partial<PageColumn>): PageColumn => ({
  field: 1,
  name: 'What is wrong',
  figures: false,
  text: true,
  orders: ['from A to Z', 'from Z to A'],
  ...over,
})
const COLUMNS = [
  column({}),
  column({ field: 2, name: 'Note' }),
  column({ field: 3, name: 'Status', text: false, options: [{ id: 7, name: 'checked', hue: 'gorse' }] }),
]

it('asks for nothing where nothing is wanted', () => {
  expect(conditionOf(COLUMNS, nothing())).toEqual({ all: [] })
  expect(conditionOf(COLUMNS, { ...nothing(), words: '   ' })).toEqual({ all: [] })
})

it('wants each chosen option, and the words in some text', () => {
  const condition = conditionOf(COLUMNS, { choices: { 3: 7 }, words: ' gate ' })
  const says = (field: number) => ({ test: { path: [field], check: { is: 'text', how: 'contains', text: 'gate' } } })
  expect(condition).toEqual({
    all: [{ test: { path: [3], check: { is: 'option', not: false, any: [7] } } }, { any: [says(1), says(2)] }],
  })
})

it('looks for no words where no text is shown', () => {
  expect(conditionOf([COLUMNS[2]!], { choices: {}, words: 'gate' })).toEqual({ all: [] })
})

it('names each order by its field and its words, and says which is on', () => {
  const orders = ordersOf(COLUMNS)
  expect(orders.map((one) => one.words)).toContain('by Note, from Z to A')
  expect(orders).toHaveLength(6)
  expect(orderNow(undefined, [{ field: 2, descending: true }])).toBe('2:1')
  expect(orderNow({ field: 1, descending: false }, [{ field: 2, descending: true }])).toBe('1:0')
  expect(orderNow(undefined, [])).toBe('')
})
