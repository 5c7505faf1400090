// What holds of all tiles of a page that look at a table: what the page keeps, and what one narrows it to for oneself. Pure.
import type { BoardCondition, Condition } from '@/api/types'

/** Of which table. */
export interface Place {
  tracker: number
  table: number
}
const same = (one: Place, other: Place) => one.tracker === other.tracker && one.table === other.table

/** The condition of a table; none: all of it. */
export const conditionOf = (only: readonly BoardCondition[], place: Place): Condition =>
  only.find((one) => same(one, place))?.condition ?? { all: [] }

const isNothing = (condition: Condition) => ('all' in condition && !condition.all.length) || ('any' in condition && !condition.any.length)

/** With another condition of a table; without one, where it asks for nothing. */
export function withCondition(only: readonly BoardCondition[], place: Place, condition: Condition): BoardCondition[] {
  const { tracker, table } = place
  if (isNothing(condition)) return only.filter((one) => !same(one, place))
  const next = { tracker, table, condition }
  return only.some((one) => same(one, place)) ? only.map((one) => (same(one, place) ? next : one)) : [...only, next]
}
