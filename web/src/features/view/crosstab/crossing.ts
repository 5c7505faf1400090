// A cross-tab as it is drawn: which of its rows are thin, what is read first in a cell, how its strokes lie; and how one walks it.
import type { CrossCell, Crossed, CrossHead, CrossPart, CrossShape, Field, Tally } from '@/api/types'
import { hueOfValue } from '@/features/cell/kinds'

/** A cell, by its row and its column; 0: the total. */
export interface Spot {
  row: number
  column: number
}

/** How wide a stroke of a comb is with the space behind it, and the space between two combs, in pixels. */
const STEP = 3
const BETWEEN = 4

export const leadsWithFigure = (shape: CrossShape, tallies: readonly Tally[]) => shape.leads === 'figure' && tallies.length > 0

/** What stands large in a cell, and what stands beside it. */
export function readsOf(cell: CrossCell, byFigure: boolean): { lead: string; others: string[] } {
  const figures = cell.figures.map((figure) => figure.text)
  const all = byFigure ? [figures[0] || '–', cell.text, ...figures.slice(1)] : [cell.text, ...figures]
  return { lead: all[0]!, others: all.slice(1).filter(Boolean) }
}

/** The colour of each part within a cell. */
export function huesOf(parts: readonly CrossPart[], field: Field | undefined): string[] {
  return parts.map((part) => hueOfValue(field, part.value) ?? 'var(--quiet)')
}

export interface Comb {
  /** A part among those told apart. */
  part: number
  /** Where its first stroke stands, and how many there are. */
  x: number
  strokes: number
}

/** A cell’s combs side by side, one stroke for so many records: a part that has any has one stroke at least. */
export function combsOf(within: readonly number[], each: number): Comb[] {
  let x = 0
  return within.flatMap((count, part) => {
    const strokes = Math.ceil(count / Math.max(1, each))
    if (!strokes) return []
    const comb = { part, x, strokes }
    x += strokes * STEP + BETWEEN
    return [comb]
  })
}
export const combWidth = (combs: readonly Comb[]) => {
  const last = combs.at(-1)
  return last ? last.x + last.strokes * STEP : 0
}
export const strokePath = ({ x, strokes }: Comb, height: number) =>
  Array.from({ length: strokes }, (_, n) => `M${x + n * STEP + 1} 0v${height}`).join('') + `M${x} 1h${strokes * STEP - 1}`

/** How much of the most a cell leads with, from 0 to 1. */
export function partOf(cell: CrossCell | null | undefined, most: string | number | null | undefined): number {
  const [here, all] = [Number(cell?.lead ?? 0), Number(most ?? 0)]
  return all > 0 ? Math.max(0, Math.min(1, here / all)) : 0
}

/** Rows and columns in which something is, the totals always; one walks over the others. */
const full = (heads: readonly CrossHead[]) => heads.flatMap((head, place) => (place === 0 || head.count ? [place] : []))

const STEPS: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }

/** Where a key leads from a cell; nothing where it is none that walks. */
export function walked(crossed: Crossed, from: Spot, key: string, ctrl: boolean): Spot | undefined {
  const [rows, columns] = [full(crossed.rows), full(crossed.columns)]
  const to = (list: number[], at: number, by: number) => {
    const now = list.indexOf(at)
    return list[Math.max(0, Math.min(list.length - 1, (now < 0 ? 0 : now) + by))]!
  }
  if (key === 'Home') return { row: ctrl ? 0 : from.row, column: 0 }
  if (key === 'End') return { row: ctrl ? rows.at(-1)! : from.row, column: columns.at(-1)! }
  const step = STEPS[key]
  return step && { row: to(rows, from.row, step[0]), column: to(columns, from.column, step[1]) }
}

/** Heads of columns in two lines: over several of a second field stands that of the first. */
export interface Over {
  text: string
  span: number
  /** Its own column; the first of those beneath it. */
  column: number
}
export function oversOf(columns: readonly CrossHead[]): Over[] {
  const overs: Over[] = []
  columns.forEach((head, column) => {
    if (head.depth === 2) overs.at(-1)!.span++
    else overs.push({ text: head.text, span: 1, column })
  })
  return overs
}

/** All of it as lines of cells, for a spreadsheet: heads, totals, and what each cell leads with and has beside. */
export function asLines(crossed: Crossed, byFigure: boolean): string {
  const text = (heads: readonly CrossHead[], place: number) => {
    const outer = heads.slice(0, place).findLast((head) => head.depth === 1)
    return heads[place]!.depth === 2 && outer ? `${outer.text}, ${heads[place]!.text}` : heads[place]!.text
  }
  const plain = (words: string) => words.replace(/[\t\n\r]+/g, ' ')
  const said = (cell: CrossCell | null | undefined) => {
    if (!cell) return ''
    const { lead, others } = readsOf(cell, byFigure)
    return others.length ? `${lead} (${others.join(', ')})` : lead
  }
  const head = ['', ...crossed.columns.map((_, column) => text(crossed.columns, column))]
  const lines = crossed.rows.map((_, row) => [
    text(crossed.rows, row),
    ...crossed.columns.map((_, column) => said(crossed.cells[row]?.[column])),
  ])
  return [head, ...lines].map((line) => line.map(plain).join('\t')).join('\n')
}
