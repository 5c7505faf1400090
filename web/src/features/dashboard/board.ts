// A dashboard as it is laid out and changed: which tiles stand where, and what a new one begins as. Pure.
import type { Crossed, CrossHead, CrossCell, Dashboard, Query, Statement, StatementLine, Table, Tile, TileShows } from '@/api/types'

/** A key that no tile of a dashboard has. */
export const nextKey = (tiles: readonly Tile[]) => Math.max(0, ...tiles.map((tile) => tile.key)) + 1

/** A tile at another place; as it was where there is none such. */
export function moved(tiles: readonly Tile[], key: number, by: number): Tile[] {
  const from = tiles.findIndex((tile) => tile.key === key)
  const to = Math.max(0, Math.min(tiles.length - 1, from + by))
  if (from < 0 || from === to) return [...tiles]
  const next = tiles.filter((tile) => tile.key !== key)
  next.splice(to, 0, tiles[from]!)
  return next
}

/** Over how many of the columns that there is room for a tile stands. */
export const spanOf = (tile: Tile, columns: number) => Math.max(1, Math.min(tile.width, columns))

export const put = (tiles: readonly Tile[], tile: Tile): Tile[] =>
  tiles.some((one) => one.key === tile.key) ? tiles.map((one) => (one.key === tile.key ? tile : one)) : [...tiles, tile]

/** The ways in which something can stand on a dashboard. */
export const SORTS = [
  { sort: 'statement', title: 'figures, one under the other', about: 'what came in, what went, what is left' },
  { sort: 'table', title: 'a cross-tab', about: 'how many, by what they have in common down and across' },
  { sort: 'bars', title: 'bars', about: 'one for each value, with its figure' },
  { sort: 'lines', title: 'a line over time', about: 'with the same figures under it' },
  { sort: 'parts', title: 'parts of a whole', about: 'how all divides by one field' },
  { sort: 'list', title: 'a list', about: 'the first records of a view' },
  { sort: 'days', title: 'the days that come', about: 'what is planned, from today on' },
  { sort: 'dots', title: 'dots', about: 'each record by two of its numbers' },
  { sort: 'text', title: 'words', about: 'what one should know to read the page' },
] as const
export type Sort = (typeof SORTS)[number]['sort']

/** Whether it looks into a table. */
export const needsTable = (sort: Sort) => sort !== 'text'

/** What a new tile begins as; a cross-tab as the server would begin one of the table. */
export function begun(sort: Sort, tracker: number, table: Table | undefined, cross: Query['shape'] | null | undefined): TileShows {
  if (sort === 'text' || !table) return { as: 'text', text: '' }
  if (sort === 'statement') {
    const line: StatementLine = { words: table.many, of: { records: { table: table.id, condition: { all: [] }, sign: 'plus' } } }
    const statement: Statement = { tracker, run: null, lines: [line] }
    return { as: 'statement', ...statement }
  }
  const fields = table.fields.filter((field) => field.shows.type !== 'files' && field.shows.type !== 'button')
  const named = [...fields.filter((field) => field.id === table.standing), ...fields.filter((field) => field.id !== table.standing)]
  const query: Query = { condition: { all: [] }, fields: named.slice(0, 4).map((field) => ({ field: field.id, width: 150 })) }
  if (sort === 'list') return { as: 'view', tracker, table: table.id, query, draws: 'table', most: 5 }
  const day = fields.find((field) => DAYS.has(field.shows.type))
  if (sort === 'days')
    return { as: 'view', tracker, table: table.id, query: { ...query, shape: calendarBy(day?.id) }, draws: 'table', most: 8 }
  if (sort === 'dots') {
    const numbers = fields.filter((field) => NUMBERS.has(field.shows.type)).map((field) => ({ field: field.id, width: 110 }))
    const shown = [...numbers.slice(0, 2), ...query.fields.filter(({ field }) => numbers.every((one) => one.field !== field))]
    return { as: 'view', tracker, table: table.id, query: { ...query, fields: shown }, draws: 'dots', most: 12 }
  }
  return { as: 'view', tracker, table: table.id, query: { ...query, shape: shaped(sort, table, cross) }, draws: sort, most: 12 }
}

const DAYS = new Set(['date', 'date_time', 'range'])
const NUMBERS = new Set(['number', 'money', 'percent', 'rating', 'duration'])
const calendarBy = (day: number | undefined): Query['shape'] =>
  day === undefined ? { as: 'rows' } : { as: 'calendar', dates: [{ start: day }] }
/** Those that are begun as a cross-tab. */
export const crosses = (sort: Sort) => sort === 'table' || sort === 'bars' || sort === 'lines' || sort === 'parts'

/** Lines go along days; bars stand for the values of one field. */
function shaped(sort: Sort, table: Table, cross: Query['shape'] | null | undefined): Query['shape'] {
  if (cross?.as !== 'cross-tab') return { as: 'rows' }
  if (sort === 'bars' || sort === 'parts') return { ...cross, across: [], within: null, order: 'most' }
  if (sort !== 'lines') return { ...cross, within: null }
  const days = table.fields.find(
    (field) => field.shows.type === 'date' || field.shows.type === 'date_time' || field.shows.type === 'created_at',
  )
  return days ? { ...cross, down: [{ field: days.id, by: 'month' }], across: [], within: null } : { ...cross, across: [], within: null }
}

/** A bar with its head, its figure, and how long it is beside the longest. */
export interface Bar {
  head: CrossHead
  row: number
  cell: CrossCell
  part: number
}

/** The first bars of a cross-tab, one for each value down. */
export function barsOf(crossed: Crossed, most: number): Bar[] {
  const all = crossed.rows.flatMap((head, row) => {
    const cell = crossed.cells[row]?.[0]
    return row && head.depth === 1 && cell ? [{ head, row, cell, part: 0 }] : []
  })
  const longest = Math.max(0, ...all.map((bar) => Number(bar.cell.lead ?? 0)))
  return all.slice(0, most).map((bar) => ({ ...bar, part: longest > 0 ? Math.max(0, Number(bar.cell.lead ?? 0)) / longest : 0 }))
}

/** A part of a whole with its head, its figure and its share of all, from 0 to 1. */
export interface Part {
  head: CrossHead
  row: number
  cell: CrossCell
  share: number
}

/** The parts that a cross-tab by one field down divides all into; those that hold nothing are none. */
export function partsOf(crossed: Crossed): Part[] {
  const bars = barsOf(crossed, Infinity).filter((bar) => Number(bar.cell.lead ?? 0) > 0)
  const all = bars.reduce((sum, bar) => sum + Number(bar.cell.lead ?? 0), 0)
  return bars.map(({ head, row, cell }) => ({ head, row, cell, share: Number(cell.lead ?? 0) / all }))
}

/** Along the values down: one line for each value across, or one of all. */
export interface Series {
  name: string
  hue: string | undefined
  /** By the places of the values down; nothing there: nought. */
  values: number[]
  texts: string[]
}
export function seriesOf(crossed: Crossed, byFigure: boolean): { along: string[]; series: Series[] } {
  const rows = crossed.rows.flatMap((head, row) => (head.depth === 1 ? [row] : []))
  const across = crossed.columns.flatMap((head, column) => (head.depth === 1 && head.count ? [column] : []))
  const columns = across.length ? across : [0]
  const text = (cell: CrossCell | null | undefined) => (cell ? (byFigure ? (cell.figures[0]?.text ?? '') : cell.text) : '–')
  const series = columns.map((column) => ({
    name: column ? crossed.columns[column]!.text : '',
    hue: crossed.columns[column]?.hue ?? undefined,
    values: rows.map((row) => Number(crossed.cells[row]?.[column]?.lead ?? 0)),
    texts: rows.map((row) => text(crossed.cells[row]?.[column])),
  }))
  return { along: rows.map((row) => crossed.rows[row]!.text), series }
}

/** What is kept of a dashboard, as it is sent. */
export const bodyOf = ({ name, about, open, columns, tiles, only }: Dashboard) => ({
  name,
  about: about ?? '',
  open: open ?? ('own' as const),
  columns,
  tiles: tiles ?? [],
  only: only ?? [],
})
