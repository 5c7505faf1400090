import { locale } from '@/theme/own'

// Civil days as they are sent: `2026-11-26`. No zone: a day is a day.
const DAY = 86_400_000
const at = (day: string) => Date.parse(`${day}T00:00:00Z`)

/** So many days on; the calendar stops where the server’s does. */
export function plusDays(day: string, days: number): string {
  const moved = new Date(at(day) + days * DAY)
  const year = moved.getUTCFullYear()
  return year >= 1 && year <= 9999 ? moved.toISOString().slice(0, 10) : day
}

/** So many months on, on the first: `2026-12`. */
export function plusMonths(month: string, months: number): string {
  const [year, number] = month.split('-').map(Number)
  const all = year! * 12 + number! - 1 + months
  return `${String(Math.floor(all / 12)).padStart(4, '0')}-${String((all % 12) + 1).padStart(2, '0')}`
}

/** 0: Sunday, to 6: Saturday. */
export const weekdayOf = (day: string): number => new Date(at(day)).getUTCDay()

/** Whole days from one to the other. */
export const daysFrom = (from: string, to: string): number => Math.round((at(to) - at(from)) / DAY)

/** What clocks show at a moment, as if it were UTC, in ms. */
export function clocksOf(moment: number, zone: string): number {
  const parts = new Intl.DateTimeFormat('en-GB', { timeZone: zone, dateStyle: 'short', timeStyle: 'medium' }).formatToParts(moment)
  const of = (type: Intl.DateTimeFormatPartTypes) => Number(parts.find((part) => part.type === type)?.value)
  // Date.UTC takes the first hundred years for those of 1900.
  const clocks = new Date(Date.UTC(2000, of('month') - 1, of('day'), of('hour'), of('minute'), of('second')))
  return clocks.setUTCFullYear(of('year'), of('month') - 1, of('day'))
}

/** The moment at which clocks of a zone show this; where they jump over it, as far behind as they jump. */
export function momentAt(clocks: string, zone: string): string {
  const wanted = Date.parse(`${clocks}Z`)
  const off = (moment: number) => clocksOf(moment, zone) - Math.floor(moment / 1000) * 1000
  const near = wanted - off(wanted)
  return new Date(wanted - off(near)).toISOString()
}

/** So many days on, at the same time of day where the clocks of a zone hang. */
export function daysOn(instant: string, days: number, zone: string): string {
  const moment = Date.parse(instant)
  const rest = moment - Math.floor(moment / 1000) * 1000
  const clocks = new Date(clocksOf(moment, zone) + days * DAY + rest).toISOString().slice(0, -1)
  return momentAt(clocks, zone)
}

/** *Thursday 26 November 2026*, *November 2026*, *Thu*: in English, in the order of one's own customs where these are English too. */
export function said(day: string, how: Intl.DateTimeFormatOptions): string {
  const own = locale()
  return new Intl.DateTimeFormat(own?.startsWith('en') ? own : 'en-GB', { ...how, timeZone: 'UTC' }).format(new Date(at(day)))
}
