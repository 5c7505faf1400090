// Putting a record on a day, at an hour, or with somebody else: which of its fields become what. Pure.
import type { AlmanacMark, AlmanacShape, Field, Row, Value } from '@/api/types'
import type { CellEdit } from '@/features/cell/edits'
import { clocksOf, daysFrom, daysOn, momentAt, plusDays } from './dates'

/** When a day’s work begins, in minutes. */
const MORNING = 9 * 60

export type End = 'start' | 'end'

/** What is carried: a record by which of its dates, and by which end; none of a span, both. */
export interface Carried {
  row: Row
  date: number
  /** Where it stands; nothing: it has no day yet. */
  mark: AlmanacMark | undefined
  end: End | undefined
  /** From which minute to which it stands, where hours are drawn. */
  from?: number
  to?: number
  /** By whose line it is held. */
  who?: Value
  /** How far behind its beginning it is held, in minutes. */
  grab?: number
}

/** A day, an hour of it, and whose line. */
export interface Spot {
  day: string
  minutes?: number
  who?: Value
}

/** Where things are put. */
export interface Ground {
  shape: AlmanacShape
  zone: string
  fieldOf: (id: number | null | undefined) => Field | undefined
  /** What stands in a field; nothing where it is not shown, and so not known. */
  cell: (row: Row, id: number | null | undefined) => Value | undefined
}

/** Of which each has one, so that another line can be dropped onto. */
export const isHeldByOne = (field: Field | undefined): boolean => {
  const kind = field?.shows
  return kind?.type === 'person' || kind?.type === 'choice' || (kind?.type === 'link' && kind.one)
}

const instantOf = (value: Value | undefined) => (typeof value === 'object' && 'instant' in value ? value.instant : undefined)
const clock = (minutes: number) => `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}:00`
const at = (day: string, minutes: number, zone: string): Value => {
  const days = Math.floor(minutes / 1440)
  return { instant: momentAt(`${plusDays(day, days)}T${clock(minutes - days * 1440)}`, zone) }
}

/** What a field of days begins as on a day that it had none: a moment then is in the morning, where the tracker is. */
export const begins = (field: Field, spot: Spot, zone: string): Value => {
  if (field.shows.type === 'range') return { range: [spot.day, spot.day] }
  return field.shows.type === 'date_time' ? at(spot.day, spot.minutes ?? MORNING, zone) : { date: spot.day }
}

/** The changes that put what is carried there. */
export function changesOf(now: Carried, spot: Spot, ground: Ground): CellEdit[] {
  const { shape, zone, fieldOf, cell } = ground
  const spec = shape.dates[now.date]
  const field = fieldOf(spec?.start)
  if (!spec || !field) return []
  const changes: CellEdit[] = []
  const change = (id: number, value: Value) => changes.push({ field: id, input: { value }, was: cell(now.row, id) })
  const { mark, end } = now
  const days = mark ? daysFrom(end === 'end' ? mark.end : mark.start, spot.day) : 0
  if (field.shows.type === 'range') {
    const [start, stop] = mark ? [mark.start, mark.end] : [spot.day, spot.day]
    const range: [string, string] =
      end === 'start' ? [spot.day, stop] : end === 'end' ? [start, spot.day] : [plusDays(start, days), plusDays(stop, days)]
    change(field.id, { range: mark ? range : [spot.day, spot.day] })
  } else if (end === 'end' && spec.end == null) {
    const length = lengthOf(now, spot, ground)
    if (length) change(...length)
  } else {
    if (end !== 'end')
      change(field.id, moved(field, cell(now.row, field.id), mark ? plusDays(mark.start, days) : spot.day, days, now, spot, zone))
    const last = fieldOf(spec.end)
    if (last && mark && end !== 'start') {
      // Both ends of what stands at an hour go by as much; one end alone goes to where it is put.
      const by = spot.minutes === undefined || now.from === undefined ? 0 : spot.minutes - now.from
      const there = end === 'end' ? spot : { day: spot.day, minutes: now.to === undefined ? undefined : now.to + by }
      change(last.id, moved(last, cell(now.row, last.id), plusDays(mark.end, days), days, { ...now, from: now.to }, there, zone))
    }
  }
  const who = fieldOf(shape.who)
  if (who?.writes && isHeldByOne(who) && spot.who !== undefined && JSON.stringify(spot.who) !== JSON.stringify(now.who ?? 'empty')) {
    changes.push({ field: who.id, input: { value: spot.who }, was: now.who })
  }
  return changes
}

/** A day or a moment that goes so many days on, to an hour where one is said. */
function moved(field: Field, value: Value | undefined, day: string, days: number, now: Carried, spot: Spot, zone: string): Value {
  if (field.shows.type !== 'date_time') return { date: day }
  if (spot.minutes !== undefined) return at(spot.day, spot.minutes, zone)
  const instant = instantOf(value)
  if (instant) return { instant: daysOn(instant, days, zone) }
  return at(day, now.from ?? MORNING, zone)
}

/** How long something lasts when it ends at an hour: hours, or a duration in seconds. */
function lengthOf(now: Carried, spot: Spot, { shape, fieldOf }: Ground): [number, Value] | undefined {
  const field = fieldOf(shape.lasts)
  const minutes = (spot.minutes ?? 0) - (now.from ?? 0) + 1440 * (now.mark ? daysFrom(now.mark.start, spot.day) : 0)
  if (!field?.writes || spot.minutes === undefined || minutes <= 0) return undefined
  return [field.id, { number: String(field.shows.type === 'duration' ? minutes * 60 : Math.round((minutes / 60) * 100) / 100) }]
}

/** What clocks of a zone show now, in minutes of the day. */
export const minutesNow = (now: Date, zone: string): number => {
  const shown = new Date(clocksOf(now.getTime(), zone))
  return shown.getUTCHours() * 60 + shown.getUTCMinutes()
}
