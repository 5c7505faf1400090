import { locale as ownLocale } from '@/theme/own'

// Days as people type and read them. On the wire a day is `2026-11-18`.

/** The day of a moment where the browser is. */
export function dayOf(moment: Date): string {
  const two = (number: number) => String(number).padStart(2, '0')
  return `${moment.getFullYear()}-${two(moment.getMonth() + 1)}-${two(moment.getDate())}`
}

/** The noon of a day where the browser is, which no change of clocks moves to another day. */
export function noonOf(day: string): Date | undefined {
  const [, year, month, date] = /^(\d{4})-(\d\d)-(\d\d)$/.exec(day) ?? []
  return year ? new Date(Number(year), Number(month) - 1, Number(date), 12) : undefined
}

/** English months, cut short as core cuts them. */
const SHORT = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** A day as it is read: *18 Nov 2026*; by customs of another language than the interface's in figures alone. */
export function dayText(day: string, locale = ownLocale()): string {
  const noon = noonOf(day)
  if (!noon) return ''
  const spoken = new Intl.DateTimeFormat(locale)
  if (!spoken.resolvedOptions().locale.startsWith('en'))
    return new Intl.DateTimeFormat(locale, { day: '2-digit', month: '2-digit', year: 'numeric' }).format(noon)
  const [date, month, year] = [noon.getDate(), SHORT[noon.getMonth()], noon.getFullYear()]
  return orderOf(locale)[0] === 'month' ? `${month} ${date}, ${year}` : `${date} ${month} ${year}`
}

type Part = 'day' | 'month' | 'year'

/** In which order somebody writes day, month and year. */
export function orderOf(locale = ownLocale()): Part[] {
  const parts = new Intl.DateTimeFormat(locale, { day: '2-digit', month: '2-digit', year: 'numeric' }).formatToParts(new Date(2026, 10, 18))
  return parts.map((part) => part.type).filter((type): type is Part => ['day', 'month', 'year'].includes(type))
}

/** How a day can be typed, in somebody's own order. */
export function typedLike(locale = ownLocale()): string {
  const words: Record<Part, string> = { day: '18', month: '11', year: '2026' }
  return orderOf(locale)
    .map((part) => words[part])
    .join('/')
}

const NEAR: Record<string, number> = { yesterday: -1, today: 0, tomorrow: 1 }

/** The first letters of each month, in a language and in English. */
function monthNamed(word: string, locale = ownLocale()): number | undefined {
  const start = word.toLowerCase().replace('.', '')
  if (start.length < 3) return undefined
  for (const language of [locale, 'en']) {
    const named = new Intl.DateTimeFormat(language, { month: 'long' })
    const found = Array.from({ length: 12 }, (_, n) => n).find((n) =>
      named
        .format(new Date(2026, n, 15))
        .toLowerCase()
        .startsWith(start),
    )
    if (found !== undefined) return found + 1
  }
  return undefined
}

function whole(year: number, month: number, day: number): string | undefined {
  const full = year < 100 ? 2000 + year : year
  const date = new Date(full, month - 1, day, 12)
  const stands = date.getFullYear() === full && date.getMonth() === month - 1 && date.getDate() === day
  return stands && full >= 1000 && full <= 9999 ? dayOf(date) : undefined
}

/** The day that somebody typed, in their own order of day and month; nothing where it is none. */
export function readDay(text: string, today = new Date(), locale = ownLocale()): string | undefined {
  const typed = text.trim().toLowerCase()
  const near = NEAR[typed]
  if (near !== undefined) return dayOf(new Date(today.getFullYear(), today.getMonth(), today.getDate() + near, 12))
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(typed)
  if (iso) return whole(Number(iso[1]), Number(iso[2]), Number(iso[3]))
  const pieces = typed.split(/[\s./,-]+/).filter(Boolean)
  const word = pieces.findIndex((piece) => /\p{L}/u.test(piece))
  if (word >= 0) {
    const month = monthNamed(pieces[word]!, locale)
    const [first, second] = pieces.filter((_, place) => place !== word).map(Number)
    if (!month || first === undefined || Number.isNaN(first)) return undefined
    const [day, year] = first > 31 ? [second ?? Number.NaN, first] : [first, second ?? today.getFullYear()]
    return whole(year, month, day)
  }
  const numbers = pieces.map(Number)
  if (numbers.length < 2 || numbers.length > 3 || numbers.some(Number.isNaN)) return undefined
  const order =
    numbers[0]! > 31 ? (['year', 'month', 'day'] as const) : orderOf(locale).filter((part) => numbers.length === 3 || part !== 'year')
  const of = (part: Part) => numbers[(order as readonly Part[]).indexOf(part)]
  return whole(of('year') ?? today.getFullYear(), of('month') ?? 0, of('day') ?? 0)
}
