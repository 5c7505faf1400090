// What can be begun from a table, a field or one of its options, filled in. Pure.
import type { Choice, Condition, Field, Query, ShapeOffer, Table } from '@/api/types'

/** A view that can be begun: what it is called, and what it shows. */
export interface Beginning {
  key: string
  /** As it stands after *begin*: *lanes by status*. */
  says: string
  name: string
  query: Query
}

const SHAPED = { lanes: 'lanes by', calendar: 'a calendar by', cards: 'cards with' } as const
const GROUPS = new Set(['choice', 'choices', 'person', 'people', 'yes_no', 'link', 'date', 'date_time', 'rating'])

/** Views that begin with a field: in each shape that can stand by it, and in groups of it. */
export function viewsOf(table: Table, field: Field, query: Query, offers: readonly ShapeOffer[]): Beginning[] {
  const whole: Query = { condition: { all: [] }, groups: [], sorts: [], tallies: [], fields: withField(query.fields, field) }
  const shaped = offers.flatMap((offer) => {
    const words = SHAPED[offer.name as keyof typeof SHAPED]
    const { begins } = offer
    if (!words || !begins || !offer.by.includes(field.id)) return []
    const shape =
      begins.as === 'lanes'
        ? { ...begins, by: field.id }
        : begins.as === 'calendar'
          ? { ...begins, dates: [{ start: field.id }] }
          : begins.as === 'cards'
            ? { ...begins, picture: field.id }
            : begins
    const says = `${words} ${field.within}`
    return [{ key: offer.name, says, name: `${table.name} as ${says.replace(/^a /, '')}`, query: { ...whole, shape } }]
  })
  const grouped = { ...whole, groups: [{ field: field.id, descending: false }] }
  const groups = GROUPS.has(field.shows.type)
    ? [{ key: 'groups', says: `rows grouped by ${field.within}`, name: `${table.name} by ${field.within}`, query: grouped }]
    : []
  return [...shaped, ...groups]
}

/** A view of those that have an option. */
export function viewWith(table: Table, field: Field, option: Choice, query: Query): Beginning {
  const condition: Condition = { all: [{ test: { path: [field.id], of: 'any', check: { is: 'option', not: false, any: [option.id] } } }] }
  const fields = withField(query.fields, field)
  return {
    key: `option ${option.id}`,
    says: `rows where ${field.within} is ${option.name}`,
    name: `${table.name}, ${option.name}`,
    query: { condition, groups: [], sorts: [], tallies: [], fields },
  }
}

/** The fields that are shown, with this one among them. */
const withField = (fields: Query['fields'], field: Field): Query['fields'] =>
  fields.some((one) => one.field === field.id) ? fields : [...fields, { field: field.id, width: 140 }]
