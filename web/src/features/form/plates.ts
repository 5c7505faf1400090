// A code for each record that a link can fill in.
import { api, told } from '@/api/client'

/** Most codes of one sheet. */
export const MOST_PLATES = 500

export interface Plate {
  name: string
  /** What the link says: the record's number where it has one, else its name. */
  value: string
}

/** The records of a table, each as its link names it. */
export async function plates(tracker: number, table: number, standing: number, numbering: number | undefined): Promise<Plate[]> {
  const fields = [standing, ...(numbering === undefined || numbering === standing ? [] : [numbering])].map((field) => ({
    field,
    width: 100,
  }))
  const path = { tracker, table }
  const body = {
    query: { fields, sorts: [{ field: fields.at(-1)!.field, descending: false }] },
    slices: [{ start: 0, count: MOST_PLATES }],
    keep: [],
  }
  const answer = await told(api.POST('/api/trackers/{tracker}/tables/{table}/query', { params: { path }, body }))
  return (answer.slices[0]?.rows ?? []).flatMap((row) => {
    const name = row.cells[0]?.text ?? ''
    const value = row.cells.at(-1)?.text || name
    return value ? [{ name, value }] : []
  })
}
