// Lines within a folio: where one goes on from a cell, and what a pasted block becomes. Pure.
import type { Field, Spot } from '@/api/types'
import type { Move } from '@/features/cell/CellEditor.vue'
import type { Block } from '@/features/cell/edits'
import { editor } from '@/features/cell/kinds'
import type { Cells } from '@/features/view/block'

export interface LineCell {
  row: number
  field: number
}

/**
 * The cell after one: by Tab the next of its line, then of the next line, and behind the last a new line; by Enter the one beneath.
 * Beneath the last line Enter only ends: nobody wants an empty line for each that they have finished.
 */
export function nextCell(rows: number[], fields: number[], from: LineCell, move: Move | undefined): LineCell | 'new' | undefined {
  const [line, column] = [rows.indexOf(from.row), fields.indexOf(from.field)]
  if (line < 0 || column < 0 || move === undefined || move === 'stay' || move === 'away') return undefined
  if (move === 'down') return line + 1 < rows.length ? { row: rows[line + 1]!, field: from.field } : undefined
  const place = line * fields.length + column + (move === 'right' ? 1 : -1)
  if (place < 0) return undefined
  if (place >= rows.length * fields.length) return 'new'
  return { row: rows[Math.floor(place / fields.length)]!, field: fields[place % fields.length]! }
}

/**
 * What is pasted, over the lines from a cell on, or beneath them all; nothing where it fits nowhere. Lines that are new are linked to
 * their record, where that is there; where none may be added, what goes beyond the last stays out.
 */
export function blockOver(
  cells: Cells,
  over: { rows: number[]; fields: Field[] },
  from: LineCell | undefined,
  link: { field: number; record: number } | undefined,
  adds: boolean,
): Block | undefined {
  const line = from ? over.rows.indexOf(from.row) : over.rows.length
  const written = over.fields.slice(
    from
      ? Math.max(
          0,
          over.fields.findIndex((field) => field.id === from.field),
        )
      : 0,
  )
  const records = over.rows.slice(line, line + cells.length)
  const taken = adds ? cells : cells.slice(0, records.length)
  const fields = written.slice(0, Math.max(0, ...taken.map((row) => row.length)))
  if (!taken.length || !fields.length) return undefined
  // What follows by itself is passed over, so that a block copied from lines goes back into lines.
  const row = (cells: Cells[number], place: number) => [
    ...fields.map((field, n) => (editor(field) && field.writes ? (cells[n] ?? null) : null)),
    ...(link ? [place < records.length ? null : { value: { links: [link.record] } }] : []),
  ]
  return { records, fields: [...fields.map((field) => field.id), ...(link ? [link.field] : [])], cells: taken.map(row), make: false }
}

/** Which line was put elsewhere, and beside which it stands now; nothing where none was. */
export function movedLine(before: number[], after: number[]): { line: number; spot: Spot } | undefined {
  const from = before.findIndex((line, place) => line !== after[place])
  if (from < 0) return undefined
  // Whichever of the two it is, without it the others stand as they stood.
  const without = (lines: number[], line: number) => lines.filter((one) => one !== line).join()
  const line = [before[from]!, after[from]!].find((one) => without(before, one) === without(after, one))
  if (line === undefined) return undefined
  const place = after.indexOf(line)
  return { line, spot: place > 0 ? { after: after[place - 1]! } : { before: after[1]! } }
}

/** The lines with one of them a place further up or down; nothing where it stands at the end already. */
export function shifted(lines: number[], line: number, by: -1 | 1): number[] | undefined {
  const place = lines.indexOf(line)
  const other = lines[place + by]
  if (place < 0 || other === undefined) return undefined
  return lines.map((one) => (one === line ? other : one === other ? line : one))
}
