// Blocks of cells as text: how spreadsheets hand them over, and how they go on.
import type { Cell, Field, Input, Row, Value } from '@/api/types'
import { typed } from '@/features/cell/kinds'
import { plusDays, daysFrom } from './calendar/dates'

/** A block as it is put in: row by row; null leaves a cell as it is. */
export type Cells = (Input | null)[][]

/** A rectangle of places in the view’s order and of columns, both ends included. */
export interface Area {
  top: number
  bottom: number
  left: number
  right: number
}

/** The rows and columns of a pasted text: tabs between cells, lines between rows, quotes around what holds either. */
export function rowsOf(text: string): string[][] {
  const rows: string[][] = [[]]
  let cell = ''
  let quoted = false
  const end = () => {
    rows.at(-1)!.push(cell)
    cell = ''
  }
  for (let at = 0; at < text.length; at++) {
    const letter = text[at]!
    if (quoted) {
      if (letter !== '"') cell += letter
      else if (text[at + 1] === '"') cell += text[++at]
      else quoted = false
    } else if (letter === '"' && !cell) quoted = true
    else if (letter === '\t') end()
    else if (letter === '\n') {
      end()
      rows.push([])
    } else if (letter !== '\r') cell += letter
  }
  end()
  // The last line ends with a break, and is no row more.
  if (rows.length > 1 && rows.at(-1)!.length === 1 && !rows.at(-1)![0]) rows.pop()
  return rows
}

/** A text as a cell of tab-separated ones. */
const quotedText = (text: string) => (/[\t\n"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)
const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;')
/** What a spreadsheet would compute is handed over as the text that it is. */
const harmless = (text: string, value: Value | undefined) =>
  /^[=+\-@\t]/.test(text) && !(typeof value === 'object' && ('number' in value || 'date' in value)) ? `'${text}` : text

/** The mark by which a block is known that comes from here: its values go over as they are. */
const OURS = 'data-block'

/** Selected cells as they are handed over: as text, and as a table that keeps numbers and days apart from texts. */
export function handedOver(rows: readonly Row[], fields: readonly Field[], from: number): { text: string; html: string } {
  const line = (row: Row) => fields.map((field, n) => ({ field, cell: row.cells[from + n] }))
  const text = rows.map((row) =>
    line(row)
      .map(({ field, cell }) => quotedText(harmless(typed(field, cell), cell?.value)))
      .join('\t'),
  )
  const values = rows.map((row) => line(row).map(({ cell }) => cell?.value ?? 'empty'))
  const td = ({ field, cell }: { field: Field; cell: Cell | null | undefined }) =>
    `<td>${escaped(plain(cell?.value) ?? harmless(typed(field, cell), cell?.value))}</td>`
  const table = rows.map((row) => `<tr>${line(row).map(td).join('')}</tr>`).join('')
  return { text: text.join('\n'), html: `<table ${OURS}="${escaped(JSON.stringify(values))}"><tbody>${table}</tbody></table>` }
}

/** A number or a day as every spreadsheet reads it. */
function plain(value: Value | undefined): string | undefined {
  if (typeof value !== 'object') return undefined
  if ('number' in value) return value.number
  return 'date' in value ? value.date : undefined
}

/** What was pasted: values that come from here as they are, else what stands in each cell as if it were typed. */
export function pasted(text: string, html: string): Cells {
  const own = html.includes(OURS) ? new DOMParser().parseFromString(html, 'text/html').querySelector(`[${OURS}]`) : null
  const values = own && readValues(own.getAttribute(OURS) ?? '')
  if (values) return values.map((row) => row.map((value) => ({ value })))
  return rowsOf(text).map((row) => row.map((cell) => ({ text: cell.replace(/^'(?=[=+\-@])/, '') })))
}

function readValues(json: string): Value[][] | undefined {
  try {
    return JSON.parse(json) as Value[][]
  } catch {
    return undefined
  }
}

/** One cell pasted over several goes into each; a block repeats itself where it fits whole times. */
export function repeated(cells: Cells, rows: number, columns: number): Cells {
  const [high, wide] = [cells.length, cells[0]?.length ?? 0]
  if (!wide || rows % high || columns % wide || cells.some((row) => row.length !== wide)) return cells
  return Array.from({ length: rows }, (_, row) => Array.from({ length: columns }, (_, column) => cells[row % high]![column % wide]!))
}

/** Columns of the widest row: a block may have more rows than a call takes arguments. */
export const widest = (cells: Cells) => cells.reduce((most, row) => Math.max(most, row.length), 0)

const ofCell = (row: Row | undefined, column: number): Value => row?.cells[column]?.value ?? 'empty'

/** The first row in all beneath it. */
export const filledDown = (rows: readonly Row[], from: number, to: number): Cells =>
  rows.map((_, n) => columnsOf(from, to).map((column) => (n ? { value: ofCell(rows[0], column) } : null)))

/** The first column in all beside it. */
export const filledAcross = (rows: readonly Row[], from: number, to: number): Cells =>
  rows.map((row) => columnsOf(from, to).map((column) => (column > from ? { value: ofCell(row, from) } : null)))

/** Nothing in each. */
export const emptied = (rows: number, columns: number): Cells =>
  Array.from({ length: rows }, () => Array.from({ length: columns }, () => ({ value: 'empty' as const })))

/** On from the first two rows: numbers and days by the same step, whatever else by turns. */
export function continued(rows: readonly Row[], from: number, to: number): Cells {
  const steps = columnsOf(from, to).map((column) => steppedBy(ofCell(rows[0], column), ofCell(rows[1], column)))
  return rows.map((_, n) =>
    columnsOf(from, to).map((column, at) => (n < 2 ? null : { value: steps[at]?.(n) ?? ofCell(rows[n % 2], column) })),
  )
}

/** On from a block: beneath it as its rows go on, beside it its columns by turns. What is in it stays. */
export function drawnOn(rows: readonly Row[], from: Area, to: Area): Cells {
  const high = from.bottom - from.top + 1
  const wide = from.right - from.left + 1
  const steps = columnsOf(from.left, from.right).map((column) => stepOf(rows.slice(0, high).map((row) => ofCell(row, column))))
  return rows.map((row, n) =>
    columnsOf(to.left, to.right).map((column, at) => {
      if (n < high && at < wide) return null
      if (n < high) return { value: ofCell(row, from.left + (at % wide)) }
      return { value: steps[at]?.(n) ?? ofCell(rows[n % high], column) }
    }),
  )
}

/** How values go on that follow each other by one and the same step. */
function stepOf(values: readonly Value[]): ((n: number) => Value) | undefined {
  if (values.length < 2) return undefined
  const step = steppedBy(values[0]!, values[1]!)
  const follows = values.every((value, n) => JSON.stringify(step?.(n)) === JSON.stringify(value))
  return step && (values.length === 2 || follows) ? step : undefined
}

function steppedBy(first: Value, second: Value): ((n: number) => Value) | undefined {
  if (typeof first !== 'object' || typeof second !== 'object') return undefined
  if ('date' in first && 'date' in second) {
    const days = daysFrom(first.date, second.date)
    const start = first.date
    return (n) => ({ date: plusDays(start, days * n) })
  }
  if (!('number' in first && 'number' in second)) return undefined
  // Exactly: as whole numbers of the finest decimal of the two.
  const places = Math.max(decimals(first.number), decimals(second.number))
  const [start, next] = [scaled(first.number, places), scaled(second.number, places)]
  return (n) => ({ number: unscaled(start + (next - start) * BigInt(n), places) })
}

const decimals = (number: string) => number.split('.')[1]?.length ?? 0
const scaled = (number: string, places: number) => {
  const [whole, rest = ''] = number.split('.')
  return BigInt(`${whole}${rest.padEnd(places, '0')}`)
}
function unscaled(number: bigint, places: number): string {
  if (!places) return String(number)
  const digits = String(number < 0n ? -number : number).padStart(places + 1, '0')
  return `${number < 0n ? '-' : ''}${digits.slice(0, -places)}.${digits.slice(-places)}`
}

const columnsOf = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, n) => from + n)
