// What is done to fields of many records, between how it is chosen and how it is sent. Pure.
import type { Altered, Field, Table, Value } from '@/api/types'

/** What can be done to a field. */
export type Way = 'set' | 'now' | 'empty' | 'replace' | 'days' | 'raise' | 'from' | 'along' | 'add' | 'take' | 'item' | 'again' | 'formula'

/** The fields into which something can be put. */
export const writableOf = (table: Table): Field[] =>
  table.fields.filter((one) => one.writes && one.kind.type !== 'files' && one.kind.type !== 'button')

/** One line of what is to be done. */
export interface Alteration {
  field: number | undefined
  way: Way
  value: Value | null
  find: string
  with: string
  days: string
  share: string
  from: number | undefined
  /** The path to what it becomes, its fields joined by dots; empty: the record itself. */
  along: string | undefined
  /** What is to be done, too, of a checklist; by whom: a person’s number, or a path to one, its fields joined by dots; within how many days. */
  item: string
  who: string
  within: string
  /** What it is worked out as. */
  formula: string
}

export const begun = (field?: number): Alteration => ({
  field,
  way: 'set',
  value: null,
  find: '',
  with: '',
  days: '7',
  share: '5',
  from: undefined,
  along: undefined,
  item: '',
  who: '',
  within: '',
  formula: '',
})

const TEXTS = ['text', 'long_text', 'email', 'phone']
const NUMBERS = ['number', 'money', 'percent', 'rating', 'duration']
/** In which the value of a formula can stand. */
const WORKED_OUT = [
  'text',
  'long_text',
  'email',
  'phone',
  'choice',
  'number',
  'money',
  'percent',
  'rating',
  'duration',
  'yes_no',
  'date',
  'date_time',
]
const DAYS = ['date', 'date_time', 'range']

const WORDS: Record<Way, string> = {
  set: 'becomes',
  now: 'becomes today',
  empty: 'is emptied',
  replace: 'has a text replaced',
  days: 'moves by days',
  raise: 'goes up by a share',
  from: 'becomes what stands in',
  along: 'becomes what stands in, along links,',
  add: 'has added to it',
  take: 'has taken out of it',
  item: 'has one more thing to do:',
  formula: 'is worked out as',
  again: 'is filled again from where it was copied',
}

/** Whether several things stand in a field, so that one can be added. */
const several = ({ kind }: Field) => kind.type === 'choices' || kind.type === 'people' || (kind.type === 'link' && !kind.one)

/** What can be done to a field, in words; to one of a new record only what needs nothing that stands there; by an automation by formula, too. */
export function waysOf(field: Field | undefined, adds = false, automated = false): { value: Way; title: string }[] {
  if (!field) return []
  const ways: Way[] = ['set']
  if (automated && WORKED_OUT.includes(field.kind.type)) ways.push('formula')
  if (field.kind.type === 'date' || field.kind.type === 'date_time') ways.push('now')
  if (adds) return [...ways, 'along' as const].map((value) => ({ value, title: WORDS[value] }))
  if (several(field)) ways.push('add', 'take')
  if (field.kind.type === 'checklist') ways.push('item')
  if (TEXTS.includes(field.kind.type)) ways.push('replace')
  if (DAYS.includes(field.kind.type)) ways.push('days')
  if (NUMBERS.includes(field.kind.type)) ways.push('raise')
  if (!field.required) ways.push('empty')
  if (field.copies) ways.push('again')
  ways.push('from', 'along')
  return ways.map((value) => ({ value, title: WORDS[value] }))
}

const numberIn = (text: string) => {
  const plain = text.trim().replace(',', '.')
  return /^-?\d+(\.\d+)?$/.test(plain) ? Number(plain) : undefined
}

/** By whom it is done: somebody by their number, or whoever stands at the end of a path. */
export const PERSON = 'person '

/** One thing more to be done, perhaps by somebody, or within some days. */
function taskOf({ field, item, who, within }: Alteration): Altered | undefined {
  const text = item.trim()
  const days = within.trim() ? numberIn(within) : undefined
  if (field === undefined || !text) return undefined
  if (within.trim() && (days === undefined || !Number.isInteger(days) || days < 0 || days > 3_660)) return undefined
  if (!who && days === undefined) return { field, to: { add_item: text } }
  const person = who.startsWith(PERSON) ? Number(who.slice(PERSON.length)) : undefined
  const along = who && person === undefined ? who.split('.').map(Number) : undefined
  return {
    field,
    to: { add_task: { text, ...(person !== undefined && { person }), ...(along && { along }), ...(days !== undefined && { days }) } },
  }
}

/** As it is sent; nothing while it says too little. */
export function altered(one: Alteration): Altered | undefined {
  const { field, way, value } = one
  if (field === undefined) return undefined
  if (way === 'empty') return { field, to: 'empty' }
  if (way === 'again') return { field, to: { set: 'again' } }
  if (way === 'now') return { field, to: 'now' }
  if (way === 'along')
    return one.along === undefined ? undefined : { field, to: { along: one.along ? one.along.split('.').map(Number) : [] } }
  if (way === 'replace') return one.find ? { field, to: { replace: { find: one.find, with: one.with } } } : undefined
  if (way === 'formula') return one.formula.trim() ? { field, to: { formula: one.formula } } : undefined
  if (way === 'item') return taskOf(one)
  if (way === 'from') return one.from === undefined ? undefined : { field, to: { from: one.from } }
  if (way === 'days') {
    const days = numberIn(one.days)
    return days && Number.isInteger(days) && Math.abs(days) < 1_000_000 ? { field, to: { days } } : undefined
  }
  if (way === 'raise') {
    const share = numberIn(one.share)
    // Kept as a share: without the noise of halves that computers can't write.
    return share ? { field, to: { raise: String(Number((share / 100).toPrecision(12))) } } : undefined
  }
  if (value === null) return undefined
  if (way === 'set') return { field, to: { set: { value } } }
  if (typeof value !== 'object') return undefined
  const takes = way === 'take'
  if ('choices' in value) return { field, to: takes ? { take_options: value.choices } : { add_options: value.choices } }
  if ('people' in value) return { field, to: takes ? { take_people: value.people } : { add_people: value.people } }
  if ('links' in value) return { field, to: takes ? { take_links: value.links } : { add_links: value.links } }
  return undefined
}

/** As it is chosen, of what was sent; nothing where it can't be chosen so. */
export function alterationOf({ field, to }: Altered): Alteration {
  const line = begun(field)
  if (to === 'empty' || to === 'now') return { ...line, way: to }
  if (typeof to !== 'object') return line
  if ('set' in to) {
    if (to.set === 'again') return { ...line, way: 'again' }
    return 'value' in to.set ? { ...line, value: to.set.value } : line
  }
  if ('replace' in to) return { ...line, way: 'replace', ...to.replace }
  if ('days' in to) return { ...line, way: 'days', days: String(to.days) }
  if ('raise' in to) return { ...line, way: 'raise', share: String(Number((Number(to.raise) * 100).toPrecision(12))) }
  if ('from' in to) return { ...line, way: 'from', from: to.from }
  if ('formula' in to) return { ...line, way: 'formula', formula: to.formula }
  if ('along' in to) return { ...line, way: 'along', along: to.along.join('.') }
  if ('add_options' in to) return { ...line, way: 'add', value: { choices: to.add_options } }
  if ('add_people' in to) return { ...line, way: 'add', value: { people: to.add_people } }
  if ('add_links' in to) return { ...line, way: 'add', value: { links: to.add_links } }
  if ('take_options' in to) return { ...line, way: 'take', value: { choices: to.take_options } }
  if ('take_people' in to) return { ...line, way: 'take', value: { people: to.take_people } }
  if ('take_links' in to) return { ...line, way: 'take', value: { links: to.take_links } }
  if ('add_task' in to) {
    const { text, person, along, days } = to.add_task
    const who = person != null ? `${PERSON}${person}` : (along ?? []).join('.')
    return { ...line, way: 'item', item: text, who, within: days == null ? '' : String(days) }
  }
  return { ...line, way: 'item', item: to.add_item }
}

/** All of it, once each line says enough; a line that is still empty is none. */
export function allOf(lines: readonly Alteration[]): Altered[] | undefined {
  const said = lines.filter((one) => one.field !== undefined).map(altered)
  return said.length && said.every((one) => one !== undefined) ? said : undefined
}
