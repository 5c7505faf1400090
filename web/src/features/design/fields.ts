// New fields, and the words for kinds. Kinds with their settings are the server's; here stands only what one begins with.
import type { Choice, FieldDef, Hue, Kind, NumberPart } from '@/api/types'

/** In an order in which neighbours differ; the server uses the same one. */
export const HUES: Hue[] = ['heather', 'gorse', 'sky', 'rowan', 'fern', 'slate', 'clay', 'lichen', 'plum', 'bracken', 'flint', 'peat']

export interface KindChoice {
  type: Kind['type']
  name: string
  what: string
}

/** The kinds that can be made, the most usual first in each group. */
export const KINDS: { group: string; kinds: KindChoice[] }[] = [
  {
    group: 'Words',
    kinds: [
      { type: 'text', name: 'Text', what: 'one line' },
      { type: 'long_text', name: 'Long text', what: 'several lines' },
      { type: 'email', name: 'E-mail', what: 'an address to write to' },
      { type: 'phone', name: 'Phone', what: 'a number to call' },
      { type: 'web', name: 'Web address', what: 'with a title' },
    ],
  },
  {
    group: 'Numbers and days',
    kinds: [
      { type: 'number', name: 'Number', what: 'with a unit' },
      { type: 'money', name: 'Money', what: 'in one currency' },
      { type: 'percent', name: 'Percent', what: 'a share' },
      { type: 'rating', name: 'Rating', what: 'from 1 to 5, say' },
      { type: 'date', name: 'Date', what: 'a day' },
      { type: 'date_time', name: 'Date and time', what: 'a moment' },
      { type: 'range', name: 'Start–end range', what: 'from one day to another' },
      { type: 'duration', name: 'Duration', what: 'hours and minutes' },
    ],
  },
  {
    group: 'Picking',
    kinds: [
      { type: 'choice', name: 'Choice', what: 'one of several options' },
      { type: 'choices', name: 'Several choices', what: 'any number of them' },
      { type: 'yes_no', name: 'Yes/no', what: '' },
      { type: 'person', name: 'Person', what: 'somebody of the team' },
      { type: 'people', name: 'Several people', what: '' },
    ],
  },
  {
    group: 'Other tables',
    kinds: [
      { type: 'link', name: 'Link', what: 'to records of a table' },
      { type: 'carried', name: 'Carried value', what: 'a linked record’s field, live' },
      { type: 'summary', name: 'Summary', what: 'a figure over linked records' },
    ],
  },
  {
    group: 'And',
    kinds: [
      { type: 'calculation', name: 'Calculation', what: 'by a formula' },
      { type: 'numbering', name: 'Numbering', what: 'FR-2026-0001 and on' },
      { type: 'files', name: 'Files', what: 'pictures, PDF and others' },
      { type: 'checklist', name: 'Checklist', what: 'things to tick off' },
      { type: 'place', name: 'Location', what: 'a label with latitude and longitude' },
      { type: 'button', name: 'Button', what: 'pressed to run an automation' },
      { type: 'json', name: 'Structured data', what: 'JSON' },
    ],
  },
]

export const kindName = (type: Kind['type']) =>
  KINDS.flatMap((g) => g.kinds).find((k) => k.type === type)?.name ?? type.replaceAll('_', ' ')

/** A kind as it begins. */
export function kindOf(type: Kind['type']): Kind {
  switch (type) {
    case 'text':
      return { type, limit: 1000 }
    case 'number':
      return { type, decimals: 0, unit: '' }
    case 'money':
      return { type, currency: 'GBP' }
    case 'percent':
      return { type, decimals: 0 }
    case 'rating':
      return { type, most: 5 }
    case 'choice':
      return { type, options: [] }
    case 'choices':
      return { type, options: [] }
    case 'link':
      return { type, to: 0, back: 1, one: true, holds: true }
    case 'carried':
      return { type, links: [], field: 0 }
    case 'numbering':
      return {
        type,
        parts: [
          { part: 'fixed', text: 'N-' },
          { part: 'counter', digits: 4, restarts: 'never' },
        ],
      }
    case 'button':
      return { type, label: '' }
    case 'summary':
    case 'calculation':
      throw new Error(`a ${type} has a page of its own`)
    default:
      return { type }
  }
}

/** A field that was not made yet; its number is given by the server. */
export function newField(type: Kind['type']): FieldDef {
  return { id: 1, name: '', kind: kindOf(type) }
}

/** Numbers of options that were not kept yet: far above those that the server gives. */
let fresh = 2_000_000_000

export function newOption(options: Choice[], name: string): Choice {
  const last = options.length ? HUES.indexOf(options[options.length - 1]!.hue) : -1
  return { id: fresh++, name, hue: HUES[(last + 1) % HUES.length]! }
}

/** The number that a numbering would give next, as far as its pattern says. */
export function sampleNumber(parts: NumberPart[], today: Date): string {
  const part = (one: NumberPart) => {
    switch (one.part) {
      case 'fixed':
        return one.text
      case 'year':
        return String(today.getFullYear())
      case 'month':
        return String(today.getMonth() + 1).padStart(2, '0')
      case 'counter':
        return '1'.padStart(one.digits, '0')
    }
  }
  return parts.map(part).join('')
}
