// How a look that core worked out is drawn: by classes and custom properties of `theme/looks.css`, the same everywhere.
import type { Look, Row } from '@/api/types'

const var_ = (hue: string | null | undefined) => (hue ? `var(--${hue})` : undefined)

/** The classes that draw a look. */
export function lookClass(look: Look | undefined): Record<string, boolean> {
  if (!look) return {}
  return {
    'look-fill': !!look.fill,
    'look-ink': typeof look.ink === 'object' && look.ink !== null,
    'look-quiet': look.ink === 'quiet',
    'look-edge': !!look.edge,
    'look-bold': !!look.bold,
    'look-italic': !!look.italic,
    'look-struck': !!look.struck,
    'look-larger': look.size === 'larger',
    'look-smaller': look.size === 'smaller',
  }
}

/** The colours of a look. */
export function lookStyle(look: Look | undefined): Record<string, string | undefined> {
  if (!look) return {}
  const ink = typeof look.ink === 'object' && look.ink !== null ? look.ink.of : undefined
  return { '--look-fill': var_(look.fill), '--look-ink': var_(ink), '--look-edge': var_(look.edge) }
}

/** How one field of a record looks. */
export const lookOf = (row: Pick<Row, 'looks'> | undefined, field: number): Look | undefined =>
  row?.looks?.cells?.find((one) => one.field === field)?.look

/** How a cell of a line looks: the record’s ground lies under each, its edge along the first. */
export function cellLook(row: Pick<Row, 'looks'>, field: number, column: number): Look | undefined {
  const own = lookOf(row, field)
  const { fill, edge } = row.looks?.whole ?? {}
  if (!fill && !(edge && !column)) return own
  return { ...own, fill: own?.fill ?? fill, edge: own?.edge ?? (column ? undefined : edge) }
}

/** The colour by which a record is marked where it is small: its edge, or the letters of its name. */
export function markHue(row: Row | undefined, standing: number): string | undefined {
  const looks = row?.looks
  const named = lookOf(row, standing)
  const ink = typeof named?.ink === 'object' && named.ink !== null ? named.ink.of : undefined
  return var_(looks?.whole?.edge ?? ink ?? looks?.whole?.fill)
}

/** The same look with one effect taken out. */
export function withoutEffect(look: Look, effect: string): Look {
  return Object.fromEntries(Object.entries(look).filter(([name]) => name !== effect))
}
