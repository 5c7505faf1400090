// What a column can become, as choices of one list, and the words for each.
import type { ColumnGuess, ColumnPlan, Field, Kind, KindWords, Plan, Table } from '@/api/types'

export type Becomes = ColumnPlan['becomes']

export type Unmatched = 'create' | 'leave' | 'flag'

export interface Way {
  key: string
  name: string
  group: string
}

/** The ways a column can go, given where the rows go. */
export function ways(plan: Plan, tables: Table[], builds: boolean, kinds: KindWords[]): Way[] {
  const into = 'table' in plan.into ? tables.find((t) => t.id === (plan.into as { table: { table: number } }).table.table) : undefined
  const list: Way[] = [{ key: 'nothing', name: 'left out', group: '' }]
  if (into)
    list.push(
      ...into.fields
        .filter((f) => f.writes && f.kind.type !== 'files')
        .map((f) => ({ key: `field:${f.id}`, name: f.name, group: `Fields of ${into.name}` })),
    )
  if (!builds) return list
  list.push(
    ...kinds.filter((k) => k.type !== 'link').map((k) => ({ key: `new:${k.type}`, name: k.name.toLowerCase(), group: 'A new field' })),
  )
  list.push({ key: 'table', name: 'a linked table of its own', group: 'Linked' })
  list.push(...tables.filter((t) => t !== into).map((t) => ({ key: `link:${t.id}`, name: `a link to ${t.name}`, group: 'Linked' })))
  return list
}

export function keyOf(becomes: Becomes): string {
  if (becomes === 'nothing') return 'nothing'
  if ('field' in becomes) return `new:${becomes.field.kind.type}`
  if ('existing' in becomes) return `field:${becomes.existing.field}`
  if ('link' in becomes) return `link:${becomes.link.to}`
  return 'table'
}

/** The way of this key, as it begins. */
export function becomesOf(
  key: string,
  column: ColumnPlan,
  tables: Table[],
  begins: (type: Kind['type']) => Kind,
  own: ColumnGuess['own'],
): Becomes {
  const [what, id] = key.split(':')
  if (what === 'new') {
    const now = column.becomes
    if (typeof now === 'object' && 'field' in now && now.field.kind.type === id) return now
    return { field: { kind: begins(id as Kind['type']) } }
  }
  if (what === 'field') return { existing: { field: Number(id), unmatched: 'flag' } }
  if (what === 'link') {
    const table = tables.find((t) => t.id === Number(id))!
    return { link: { to: table.id, by: table.standing, one: true, back: '', unmatched: 'flag' } }
  }
  if (what === 'table') return { table: { ...own, single: !column.separator } }
  return 'nothing'
}

/** A link or an existing link field: where names may be unknown. */
export function unmatchedOf(becomes: Becomes, fields: Field[]): Unmatched | undefined {
  if (becomes === 'nothing') return undefined
  if ('link' in becomes) return becomes.link.unmatched
  if ('existing' in becomes) {
    const type = fields.find((f) => f.id === becomes.existing.field)?.kind.type
    return type === 'link' || type === 'choice' || type === 'choices' ? becomes.existing.unmatched : undefined
  }
  return undefined
}
