// The checks that fit each kind of field, as the condition editor offers them. Their meaning and their words are core's.
import type { Check, Condition, Field, Table, Test, Tracker } from '@/api/types'

/** A way to test a field: what it is called, whether a check is of it, and a first check of it. */
export interface Way {
  key: string
  name: string
  make: () => Check
  is: (check: Check) => boolean
}

type Keys<T> = T extends object ? keyof T : never
type CheckKey = Keys<Check>
type Body<K extends CheckKey> = Extract<Check, Record<K, unknown>>[K]

/** The body of a check of this sort, if it is one. */
export function body<K extends CheckKey>(check: Check, key: K): Body<K> | undefined {
  return typeof check === 'object' && key in check ? (check as unknown as Record<K, Body<K>>)[key] : undefined
}

const empty: Way[] = [
  { key: 'empty', name: 'is empty', make: () => 'empty', is: (c) => c === 'empty' },
  { key: 'filled', name: 'is filled in', make: () => 'filled', is: (c) => c === 'filled' },
]

function texts(): Way[] {
  const ways = [
    ['contains', 'contains'],
    ['lacks', 'does not contain'],
    ['is', 'is'],
    ['isnot', 'is not'],
    ['starts', 'starts with'],
  ] as const
  return ways.map(([how, name]) => ({ key: how, name, make: () => ({ text: { how, text: '' } }), is: (c) => body(c, 'text')?.how === how }))
}

const COMPARISONS = ['is', 'isnot', 'under', 'atmost', 'over', 'atleast'] as const

function numbers(): Way[] {
  const names = ['is', 'is not', 'is under', 'is at most', 'is over', 'is at least']
  const ways: Way[] = COMPARISONS.map((how, n) => ({
    key: how,
    name: names[n]!,
    make: () => ({ number: { how, than: '0' } }),
    is: (c) => body(c, 'number')?.how === how,
  }))
  return [
    ...ways,
    { key: 'between', name: 'is from … to', make: () => ({ between: { least: '0', most: '0' } }), is: (c) => !!body(c, 'between') },
  ]
}

function days(): Way[] {
  const names = ['is on', 'is not on', 'is before', 'is on or before', 'is after', 'is on or after']
  const ways: Way[] = COMPARISONS.map((how, n) => ({
    key: how,
    name: names[n]!,
    make: () => ({ day: { how, than: { today: 0 } } }),
    is: (c) => body(c, 'day')?.how === how,
  }))
  return [
    { key: 'within', name: 'is within', make: () => ({ within: { period: 'this_week' } }), is: (c) => !!body(c, 'within') },
    { key: 'older', name: 'is more than … days ago', make: () => ({ older: { days: 30 } }), is: (c) => !!body(c, 'older') },
    ...ways,
  ]
}

function lists(key: 'option' | 'person' | 'record'): Way[] {
  const way = (not: boolean): Way => ({
    key: not ? 'not' : 'is',
    name: not ? 'is none of' : 'is any of',
    make: () => ({ [key]: { not, any: [] } }) as unknown as Check,
    is: (c) => (body(c, key) as { not: boolean } | undefined)?.not === not,
  })
  return [way(false), way(true)]
}

/** The ways in which a field can be tested. */
export function ways(field: Field): Way[] {
  switch (field.shows.type) {
    case 'text':
    case 'long_text':
    case 'email':
    case 'phone':
    case 'numbering':
    case 'web':
    case 'place':
      return [...texts(), ...empty]
    case 'number':
    case 'money':
    case 'percent':
    case 'rating':
    case 'duration':
      return [...numbers(), ...empty]
    case 'date':
    case 'date_time':
    case 'created_at':
    case 'changed_at':
    case 'range':
      return [...days(), ...empty]
    case 'yes_no':
      return [
        { key: 'yes', name: 'is yes', make: () => 'yes', is: (c) => c === 'yes' },
        { key: 'no', name: 'is no', make: () => 'no', is: (c) => c === 'no' },
        ...empty,
      ]
    case 'choices':
    case 'choice':
      return [...lists('option'), ...empty]
    case 'person':
    case 'people':
    case 'created_by':
    case 'changed_by':
      return [...lists('person'), ...empty]
    case 'link':
      return [...lists('record'), ...empty]
    case 'files':
      return [...empty].reverse()
    case 'carried':
    case 'summary':
    case 'calculation':
    case 'checklist':
    case 'json':
    case 'button':
      return empty
  }
}

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
  const any = (body(check, 'option') ?? body(check, 'person') ?? body(check, 'record'))?.any
  const text = body(check, 'text')
  return (!any || any.length > 0) && (!text || text.text.trim() !== '')
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

/** The condition without the part at this place. */
export function without(condition: Condition, path: number[]): Condition {
  const [first, ...rest] = path
  if (first === undefined || 'test' in condition) return { all: [] }
  const next = parts(condition).flatMap((part, place) => (place !== first ? [part] : rest.length ? [without(part, rest)] : []))
  return pruned('all' in condition ? { all: next } : { any: next })
}
