// How visitors put the records in order and narrow them, for themselves alone.
import type { Condition, Order, PageColumn } from '@/api/types'

export interface Narrowing {
  /** The field and direction by which they are in order; nothing: as the page puts them. */
  order?: Order
  /** Of choices, by their field: what is wanted. */
  choices: Record<number, number>
  /** Words that stand in some text. */
  words: string
}

export const nothing = (): Narrowing => ({ choices: {}, words: '' })

/** The condition that it comes to. */
export function conditionOf(columns: PageColumn[], { choices, words }: Narrowing): Condition {
  const parts: Condition[] = Object.entries(choices).map(([field, option]) => ({
    test: { path: [Number(field)], check: { is: 'option', not: false, any: [option] } },
  }))
  const texts = columns.filter((column) => column.text)
  const text = words.trim()
  if (text && texts.length)
    parts.push({ any: texts.map(({ field }) => ({ test: { path: [field], check: { is: 'text', how: 'contains', text } } })) })
  return { all: parts }
}

/** Each order that can be chosen, as a value and in words. */
export function ordersOf(columns: PageColumn[]): { value: string; words: string; order: Order }[] {
  return columns.flatMap(({ field, name, orders }) =>
    orders.map((words, n) => ({ value: `${field}:${n}`, words: `by ${name}, ${words}`, order: { field, descending: n === 1 } })),
  )
}

/** The one that is on, among those. */
export function orderNow(own: Order | undefined, sorts: Order[]): string {
  const order = own ?? sorts[0]
  return order ? `${order.field}:${order.descending ? 1 : 0}` : ''
}
