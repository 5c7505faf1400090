// What was found, as it is laid out: sections of lines, each leading somewhere. Pure, so that keys and drawing agree.
import type { RouteLocationRaw } from 'vue-router'
import type { Discovery, FoundIn, Leads, FoundPiece } from '@/api/types'

/** One line: a record, or something that is called so. */
export interface FoundLine {
  /** Its own among all lines; also the end of its element's id. */
  key: string
  name: string
  beside: string
  says: FoundPiece[]
  leftOut?: string
  /** The record, where it is one. */
  record?: { tracker: number; table: number; record: number }
  /** Where it leads: records beside the rows. */
  to: RouteLocationRaw
  /** The same as a whole page. */
  whole: RouteLocationRaw
}

/** Lines under one heading. */
export interface FoundSection {
  key: string
  heading: string
  /** *7, and 2 this view leaves out*. */
  says: string
  /** The table, where it is one: it can be looked into alone, and rows narrowed. */
  table?: number
  /** How many more there are. */
  more: number
  /** Whether rows can be narrowed to them. */
  narrows: boolean
  lines: FoundLine[]
}

/** The view from which one looks. */
export interface From {
  table: number
  view?: number
}

/** *3* or *3-104*, as it stands in the address. */
export function readFrom(text: unknown): From | undefined {
  const found = /^(\d+)(?:-(\d+))?$/.exec(typeof text === 'string' ? text : '')
  if (!found) return undefined
  return { table: Number(found[1]), ...(found[2] ? { view: Number(found[2]) } : {}) }
}

export const writeFrom = ({ table, view }: From) => (view ? `${table}-${view}` : `${table}`)

/** Where something that is called so leads. */
function placeAt(tracker: number, leads: Leads): RouteLocationRaw {
  const params = { tracker }
  if (leads.to === 'table') return { name: 'view', params: { ...params, table: leads.table } }
  if (leads.to === 'view') return { name: 'view', params: { ...params, table: leads.table, view: leads.view } }
  if (leads.to === 'field') return { name: 'design', params: { ...params, table: leads.table }, query: { field: leads.field } }
  if (leads.to === 'form') return { name: 'form', params: { ...params, form: leads.form } }
  if (leads.to === 'page') return { name: 'page', params: { ...params, page: leads.page } }
  if (leads.to === 'document') return { name: 'document', params: { ...params, document: leads.document } }
  if (leads.to === 'automation') return { name: 'automations', params }
  const add = leads.cells.map((cell) => `${cell.field}:${cell.option}`).join(',') || 'one'
  return { name: 'view', params: { ...params, table: leads.table }, query: { add } }
}

/** The sections of what was found in one tracker: its tables, then what is called so, by sorts. */
export function sectionsOf(tracker: number, found: Discovery, from?: From, inTracker = ''): FoundSection[] {
  const records = found.tables.map((one): FoundSection => {
    const view = from?.table === one.table ? from.view : undefined
    return {
      key: `${tracker}-table-${one.table}`,
      heading: inTracker ? `${one.name}, ${inTracker}` : one.name,
      says: one.says,
      ...(inTracker ? {} : { table: one.table }),
      more: one.count - one.lines.length,
      narrows: !inTracker && !!one.only && one.count > 1,
      lines: one.lines.map((line) => {
        const record = { tracker, table: one.table, record: line.record }
        return {
          key: `${tracker}-${one.table}-${line.record}`,
          name: line.name,
          beside: line.beside,
          says: line.says,
          ...(line.left_out ? { leftOut: line.left_out } : {}),
          record,
          to: { name: 'view', params: { tracker, table: one.table, view }, query: { record: line.record } },
          whole: { name: 'record', params: record },
        }
      }),
    }
  })
  const sorts = [...new Set(found.places.map((place) => place.sort))]
  const places = sorts.map((sort): FoundSection => {
    const lines = found.places.filter((place) => place.sort === sort)
    return {
      key: `${tracker}-${sort}`,
      heading: inTracker ? `${sort}, ${inTracker}` : sort,
      says: '',
      more: 0,
      narrows: false,
      lines: lines.map((place, at) => {
        const to = placeAt(tracker, place.leads)
        return {
          key: `${tracker}-${sort}-${at}`.replaceAll(' ', '_'),
          name: place.name,
          beside: place.beside,
          says: place.says,
          to,
          whole: to,
        }
      }),
    }
  })
  return [...records, ...places]
}

/** The same of other trackers, each named. */
export const sectionsElsewhere = (elsewhere: FoundIn[]) =>
  elsewhere.flatMap((one) => sectionsOf(one.tracker, one.found, undefined, one.name))

/** Most words that have a column of their own. */
export const MOST_COLUMNS = 3

/** What is said of each word, in its column; what has none shares the last. */
export function columnsOf<T>(says: T[]): T[][] {
  const own = says.slice(0, MOST_COLUMNS).map((one) => [one])
  own.at(-1)?.push(...says.slice(MOST_COLUMNS))
  return own
}

/** The line one comes to from another; from none, the first or the last. */
export function stepped(keys: string[], at: string | undefined, by: 1 | -1): string | undefined {
  const now = at === undefined ? -1 : keys.indexOf(at)
  if (now < 0) return by > 0 ? keys[0] : keys.at(-1)
  return keys[Math.min(keys.length - 1, Math.max(0, now + by))]
}

/** The first line of the next section, or of this one or the one before. */
export function leapt(sections: FoundSection[], at: string | undefined, by: 1 | -1): string | undefined {
  const full = sections.filter((section) => section.lines.length)
  const now = full.findIndex((section) => section.lines.some((line) => line.key === at))
  const next = full[Math.min(full.length - 1, Math.max(0, now + by))]
  return next?.lines[0]?.key
}
