// The lines of a statement, as they are put together. Pure.
import type { LineRecords, Statement, StatementLine, Table } from '@/api/types'

export const RUNS: { value: Statement['run']; title: string }[] = [
  { value: null, title: 'what stands now' },
  { value: 'week', title: 'this week beside the last' },
  { value: 'month', title: 'this month beside the last' },
  { value: 'quarter', title: 'this quarter beside the last' },
  { value: 'year', title: 'this year beside the last' },
]

export const SIGNS: { value: LineRecords['sign']; title: string }[] = [
  { value: 'plus', title: 'added to the total' },
  { value: 'minus', title: 'taken from the total' },
  { value: 'beside', title: 'not in the total' },
]

/** What a line can be of. */
export type LineSort = 'records' | 'total' | 'share' | 'per'
export const LINE_SORTS: { value: LineSort; title: string }[] = [
  { value: 'records', title: 'a figure of records' },
  { value: 'total', title: 'the total of the lines above' },
  { value: 'share', title: 'the share of one line in another' },
  { value: 'per', title: 'one line for each of another' },
]

export const sortOf = (of: StatementLine['of']): LineSort =>
  of === 'total' ? 'total' : 'share' in of ? 'share' : 'per' in of ? 'per' : 'records'

/** A line becomes one of another sort: of the two lines above it, or of records. */
export function ofSort(sort: LineSort, place: number, table: number): StatementLine['of'] {
  const [one, other] = [Math.max(0, place - 2), Math.max(0, place - 1)]
  if (sort === 'total') return 'total'
  if (sort === 'share') return { share: { part: other, whole: one } }
  if (sort === 'per') return { per: { what: one, each: other } }
  return { records: { table, condition: { all: [] }, sign: 'plus' } }
}

/** Without a line; what was made of it goes too, and what lies under it keeps its lines. */
export function without(lines: readonly StatementLine[], gone: number): StatementLine[] {
  const kept: StatementLine[] = []
  /** Where each line stands now; nothing where it went. */
  const now: (number | undefined)[] = []
  const moved = (of: StatementLine['of']): StatementLine['of'] | undefined => {
    if (of === 'total' || 'records' in of) return of
    if ('share' in of) {
      const [part, whole] = [now[of.share.part], now[of.share.whole]]
      return part === undefined || whole === undefined ? undefined : { share: { part, whole } }
    }
    const [what, each] = [now[of.per.what], now[of.per.each]]
    return what === undefined || each === undefined ? undefined : { per: { what, each } }
  }
  lines.forEach((line, place) => {
    const of = place === gone ? undefined : moved(line.of)
    now.push(of === undefined ? undefined : kept.length)
    if (of !== undefined) kept.push({ ...line, of })
  })
  return kept
}

const DAYS = new Set(['date', 'date_time', 'created_at', 'changed_at'])
/** The fields of days by which a line can be told run by run. */
export const daysOf = (table: Table | undefined) => table?.fields.filter((field) => DAYS.has(field.shows.type)) ?? []
