// Where the cursor stands in a formula: which function's brackets it is in, and which fields may be named there.
// What a formula means is core's to say; this only helps with typing.
import type { Field, Table, Tracker } from '@/api/types'

const SIGNS = /[+\-*/^&=<>%(),;"{}[\]−≠≤≥]/

/** The function in whose brackets a place lies, innermost first, and the place of the argument there, from 0. */
export function callAt(text: string, place: number): { name: string; argument: number } | undefined {
  let depth = 0
  let argument = 0
  for (let at = place - 1; at >= 0; at--) {
    const sign = text[at]!
    if (sign === '"') {
      at = text.lastIndexOf('"', at - 1)
      if (at < 0) return undefined
    } else if (sign === ')') depth++
    else if (sign === '(' && depth > 0) depth--
    else if (sign === '(') {
      const name = /([A-Za-z][A-Za-z0-9]*)\s*$/.exec(text.slice(0, at))?.[1]
      if (name) return { name: name.toUpperCase(), argument }
      argument = 0
    } else if ((sign === ',' || sign === ';') && depth === 0) argument++
  }
  return undefined
}

/** The name that is being typed at a place: where it begins, and what stands of it; after a dot, only what is behind it. */
export function nameAt(text: string, place: number): { from: number; path: string[]; typed: string } {
  let from = place
  while (from > 0 && !SIGNS.test(text[from - 1]!)) from--
  const run = text.slice(from, place)
  const behindWhere = /^(.*\s)?where\s+/i.exec(run)?.[0].length ?? 0
  const bare = run.slice(behindWhere)
  const skipped = bare.length - bare.trimStart().length
  const parts = bare.trimStart().split('.')
  const typed = parts.pop() ?? ''
  return { from: place - typed.length, path: parts, typed: typed === bare ? bare.slice(skipped) : typed }
}

const named = (table: Table | undefined, name: string) =>
  table?.fields.find((f) => f.name.toLowerCase() === name.trim().replace(/^'|'$/g, '').toLowerCase())

/** The table that a link leads to. */
export function target(tracker: Tracker, field: Field | undefined): Table | undefined {
  const shows = field?.shows
  return shows?.type === 'link' ? tracker.tables.find((t) => t.id === shows.to) : undefined
}

/** Follows names of links from a table. */
export function follow(tracker: Tracker, table: Table, path: string[]): Table | undefined {
  return path.reduce<Table | undefined>((at, name) => target(tracker, named(at, name)), table)
}

/** The tables whose fields may be named at a place, innermost first: behind *where*, those of the list before it. */
export function scopesAt(tracker: Tracker, table: Table, text: string, place: number): Table[] {
  const scopes = [table]
  let depth = 0
  for (let at = place; at >= 0; at--) {
    if (text[at] === ')') depth++
    else if (text[at] === '(') depth--
    if (depth > 0 || !/^where\s/i.test(text.slice(at, at + 6)) || !/\s$/.test(text.slice(0, at))) continue
    const { path, typed } = nameAt(text, text.slice(0, at).trimEnd().length)
    const names = [...path, typed]
    const list = follow(tracker, table, names) ?? follow(tracker, table, names.slice(0, -1))
    if (list && list !== table) scopes.unshift(list)
  }
  return scopes
}

/** A field's name as one writes it in a formula: in single quotes where it holds signs. */
export function written(name: string): string {
  return SIGNS.test(name) || /[.']/.test(name) || /^\d/.test(name) ? `'${name.replaceAll("'", "''")}'` : name
}
