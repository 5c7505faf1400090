// What stands on paper, from the first line to the last: heads of groups, and records under them. Pure.
import type { Group, Row } from '@/api/types'
import { headsOf, type Head } from '../layout'

export type PaperLine = { type: 'head'; head: Head } | { type: 'row'; row: Row }

/** @param rows the first rows of the view, in its order */
export function paperLines(groups: readonly Group[], rows: readonly Row[]): PaperLine[] {
  const heads = headsOf(groups).filter((head) => head.group.count > 0 && head.place < rows.length)
  if (!heads.length) return rows.map((row) => ({ type: 'row', row }))
  return heads.flatMap((head) => {
    const own: PaperLine[] = [{ type: 'head', head }]
    // What stands in groups within stands under those.
    if (head.group.within.length) return own
    const under = rows.slice(head.place, head.place + head.group.count)
    return [...own, ...under.map((row): PaperLine => ({ type: 'row', row }))]
  })
}
