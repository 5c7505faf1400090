// Conditions as they are edited: where their fields lie, and what of them says enough to be tried.
import { steps } from '@/app/pointer'
import type { Condition, Field, Table, Test, Tracker } from '@/api/types'

export interface PathChoice {
  key: string
  path: number[]
  name: string
  field: Field
}

/** Every field that a condition on a table can name: its own, and along links to one or many up to three deep. */
export function paths(tracker: Tracker, table: Table, depth = 3): PathChoice[] {
  const found: PathChoice[] = []
  const walk = (at: Table, path: number[], names: string[], seen: number[]) => {
    for (const field of at.fields) {
      const here = [...path, field.id]
      const name = [...names, field.name]
      found.push({ key: here.join('.'), path: here, name: name.join(' → '), field })
    }
    if (path.length + 1 >= depth) return
    for (const field of at.fields) {
      if (field.kind.type !== 'link') continue
      const { to } = field.kind
      const next = tracker.tables.find((t) => t.id === to)
      if (next && !seen.includes(next.id)) walk(next, [...path, field.id], [...names, field.name], [...seen, next.id])
    }
  }
  walk(table, [], [], [table.id])
  return found
}

/** Whether a test says enough to be tried. */
export function isWhole(test: Test): boolean {
  const { check } = test
  if ('any' in check) return check.any.length > 0
  return check.is !== 'text' || check.text.trim() !== ''
}

/** The condition without tests that say nothing yet. */
export function pruned(condition: Condition): Condition {
  if ('test' in condition) return condition
  const keep = (part: Condition) => ('test' in part ? isWhole(part.test) : parts(pruned(part)).length > 0)
  const kept = parts(condition).filter(keep).map(pruned)
  return 'all' in condition ? { all: kept } : { any: kept }
}

export function parts(condition: Condition): Condition[] {
  if ('test' in condition) return [condition]
  return 'all' in condition ? condition.all : condition.any
}

/** The condition without the part at this place, a pointer from the condition itself: `/all/0/any/2`. */
export function without(condition: Condition, at: string): Condition {
  return cut(
    condition,
    steps(at)
      .filter((step) => /^\d+$/.test(step))
      .map(Number),
  )
}

function cut(condition: Condition, path: number[]): Condition {
  const [first, ...rest] = path
  if (first === undefined || 'test' in condition) return { all: [] }
  const next = parts(condition).flatMap((part, place) => (place !== first ? [part] : rest.length ? [cut(part, rest)] : []))
  return pruned('all' in condition ? { all: next } : { any: next })
}
