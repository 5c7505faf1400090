// Records of a shared page in their groups. Pure.
import type { PageGroup, PageRow, PageRows } from '@/api/types'

/** A line of a list: the head of a group, or a record. */
export type Line = { key: string; depth: number; group: PageGroup; row?: undefined } | { key: string; row: PageRow; group?: undefined }

/** The records that were told, under the heads of their groups; heads under which none of them stands are left out. */
export function linesOf({ rows, groups }: Pick<PageRows, 'rows' | 'groups'>): Line[] {
  if (!groups.length) return rows.map(lineOf)
  let at = 0
  const under = (group: PageGroup, depth: number, key: string): Line[] => {
    const inner = group.within.length
      ? group.within.flatMap((one, n) => under(one, depth + 1, `${key}.${n}`))
      : rows.slice(at, (at += group.shown)).map(lineOf)
    return inner.length ? [{ key, depth, group }, ...inner] : []
  }
  return groups.flatMap((group, n) => under(group, 0, `${n}`))
}

const lineOf = (row: PageRow): Line => ({ key: `record ${row.id}`, row })

/** A lane with its records, those of its bands one after the other. */
export interface Lane {
  group: PageGroup
  rows: PageRow[]
}

/** The lanes with the records that were told of each. */
export function lanesOf({ rows, groups }: Pick<PageRows, 'rows' | 'groups'>): Lane[] {
  let at = 0
  const shown = (group: PageGroup): number => (group.within.length ? group.within.reduce((sum, one) => sum + shown(one), 0) : group.shown)
  return groups.map((group) => ({ group, rows: rows.slice(at, (at += shown(group))) }))
}
