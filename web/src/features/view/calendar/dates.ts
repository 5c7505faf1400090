// Civil days as they are sent: `2026-11-26`. No zone: a day is a day.
const DAY = 86_400_000
const at = (day: string) => Date.parse(`${day}T00:00:00Z`)

/** So many days on; the calendar stops where the server’s does. */
export function plusDays(day: string, days: number): string {
  const moved = new Date(at(day) + days * DAY)
  return Number.isNaN(moved.getTime()) ? day : moved.toISOString().slice(0, 10)
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

/** *Thursday 26 November 2026*, *November 2026*, *Thu*. */
export const said = (day: string, how: Intl.DateTimeFormatOptions): string =>
  new Intl.DateTimeFormat('en-GB', { ...how, timeZone: 'UTC' }).format(new Date(at(day)))
