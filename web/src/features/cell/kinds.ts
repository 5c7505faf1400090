// How each kind of field is shown and edited here. What a value means and whether it fits is core's to say.
import {
  mdiAccountMultipleOutline,
  mdiAccountOutline,
  mdiArrowDecisionOutline,
  mdiCalendarBlankOutline,
  mdiCalendarClockOutline,
  mdiCalendarRangeOutline,
  mdiCashMultiple,
  mdiCheckboxMarkedOutline,
  mdiCodeJson,
  mdiEmailOutline,
  mdiFormatListBulletedSquare,
  mdiFormatListChecks,
  mdiFunctionVariant,
  mdiGestureTapButton,
  mdiImageOutline,
  mdiLinkVariant,
  mdiMapMarkerOutline,
  mdiNumeric,
  mdiPercentOutline,
  mdiPhoneOutline,
  mdiPound,
  mdiSigma,
  mdiStarOutline,
  mdiTextLong,
  mdiTextShort,
  mdiTimerOutline,
  mdiWeb,
} from '@mdi/js'
import { decimalMark } from '@/theme/own'
import type { CalcError, Cell, Choice, Field, Kind, Value } from '@/api/types'

/** What one edits a value with. */
export type Editor = 'parts' | 'line' | 'long' | 'choice' | 'person' | 'link' | 'files' | 'yes'

interface Facts {
  icon: string
  editor: Editor | undefined
  /** Set right, in tabular figures. */
  right?: boolean
}

const FACTS: Record<Kind['type'], Facts> = {
  text: { icon: mdiTextShort, editor: 'line' },
  long_text: { icon: mdiTextLong, editor: 'long' },
  number: { icon: mdiNumeric, editor: 'line', right: true },
  money: { icon: mdiCashMultiple, editor: 'line', right: true },
  percent: { icon: mdiPercentOutline, editor: 'line', right: true },
  rating: { icon: mdiStarOutline, editor: 'parts', right: true },
  duration: { icon: mdiTimerOutline, editor: 'line', right: true },
  yes_no: { icon: mdiCheckboxMarkedOutline, editor: 'yes' },
  date: { icon: mdiCalendarBlankOutline, editor: 'line' },
  range: { icon: mdiCalendarRangeOutline, editor: 'parts' },
  date_time: { icon: mdiCalendarClockOutline, editor: 'line' },
  choice: { icon: mdiFormatListBulletedSquare, editor: 'choice' },
  choices: { icon: mdiFormatListBulletedSquare, editor: 'choice' },
  person: { icon: mdiAccountOutline, editor: 'person' },
  people: { icon: mdiAccountMultipleOutline, editor: 'person' },
  link: { icon: mdiLinkVariant, editor: 'link' },
  email: { icon: mdiEmailOutline, editor: 'line' },
  phone: { icon: mdiPhoneOutline, editor: 'line' },
  web: { icon: mdiWeb, editor: 'parts' },
  place: { icon: mdiMapMarkerOutline, editor: 'parts' },
  checklist: { icon: mdiFormatListChecks, editor: 'parts' },
  json: { icon: mdiCodeJson, editor: 'long' },
  files: { icon: mdiImageOutline, editor: 'files' },
  numbering: { icon: mdiPound, editor: undefined },
  created_at: { icon: mdiCalendarClockOutline, editor: undefined },
  created_by: { icon: mdiAccountOutline, editor: undefined },
  changed_at: { icon: mdiCalendarClockOutline, editor: undefined },
  changed_by: { icon: mdiAccountOutline, editor: undefined },
  id: { icon: mdiNumeric, editor: undefined, right: true },
  carried: { icon: mdiArrowDecisionOutline, editor: undefined },
  summary: { icon: mdiSigma, editor: undefined },
  calculation: { icon: mdiFunctionVariant, editor: undefined },
  button: { icon: mdiGestureTapButton, editor: undefined },
}

/** Kinds whose values follow from others. */
export function isComputed(field: Field): boolean {
  return ['summary', 'calculation', 'carried'].includes(field.kind.type)
}

/** Whether its values are set right, in tabular figures. */
export function isRight(field: Field): boolean {
  return FACTS[field.shows.type].right ?? false
}

/** Whether a cell takes several picks. */
export function isMany(field: Field): boolean {
  const { kind } = field
  return kind.type === 'choices' || kind.type === 'people' || (kind.type === 'link' && !kind.one)
}

/** Why a cell has no value, where it is an error. */
export function errorOf(cell: Cell | null | undefined): string | undefined {
  const value = cell?.value
  return typeof value === 'object' && 'error' in value ? ERRORS[value.error] : undefined
}

const ERRORS: Record<CalcError, string> = {
  'not-available': 'There is no such value.',
  'wrong-value': 'A value is of a kind that can’t be used here.',
  'division-by-zero': 'It divides by nothing.',
  'no-number': 'No number can be the result.',
  gone: 'It names something that is not there any more.',
  'too-large': 'The result, or the way to it, is too large.',
  circle: 'It would need itself.',
}

export function facts(field: Field): Facts {
  return FACTS[field.kind.type]
}

/** Whether the asker can put a value in, here and now. */
export function editor(field: Field): Editor | undefined {
  return field.writes ? facts(field).editor : undefined
}

/** Whether the field is kept by us and hidden until asked for. */
export function isKept(field: Field): boolean {
  return ['created_at', 'created_by', 'changed_at', 'changed_by'].includes(field.kind.type)
}

export function options(field: Field): Choice[] {
  return field.shows.type === 'choice' || field.shows.type === 'choices' ? field.shows.options : []
}

/** The option a cell holds, for its colour. */
export function optionOf(field: Field, cell: Cell | null | undefined): Choice | undefined {
  const value = cell?.value
  if (typeof value !== 'object' || !('choice' in value)) return undefined
  return options(field).find((option) => option.id === value.choice)
}

export function hue(option: Choice | undefined): string | undefined {
  return option && `var(--${option.hue})`
}

/** The colour of a value that a choice has. */
export function hueOfValue(field: Field | undefined, value: Value): string | undefined {
  const id = typeof value === 'object' && 'choice' in value ? value.choice : undefined
  return id === undefined || !field ? undefined : hue(options(field).find((one) => one.id === id))
}

/** What is typed to get this cell again: the text, without the unit and the thousands marks of plain numbers. */
export function typed(field: Field, cell: Cell | null | undefined): string {
  const value = cell?.value
  if (typeof value !== 'object') return cell?.text ?? ''
  if ('number' in value && (field.kind.type === 'number' || field.kind.type === 'rating')) return value.number.replace('.', decimalMark())
  if ('checklist' in value) return value.checklist.map((item) => `[${item.done ? 'x' : ' '}] ${item.text}`).join('\n')
  if ('json' in value) return JSON.stringify(value.json, null, 2)
  if ('web' in value) return `${value.web.title} ${value.web.address}`.trim()
  return cell?.text ?? ''
}

/** The files of a cell. */
export function files(cell: Cell | null | undefined) {
  const value = cell?.value
  return typeof value === 'object' && 'files' in value ? value.files : []
}

/** The people that a cell holds. */
export function peopleIn(cell: Cell | null | undefined): number[] {
  const value = cell?.value
  if (typeof value !== 'object') return []
  if ('person' in value) return [value.person]
  return 'people' in value ? value.people : []
}

/** Where a linked cell leads: to the record that it names first. */
export function leadsTo(tracker: number, field: Field, cell: Cell | null | undefined) {
  const { shows } = field
  const first = cell?.links?.[0]
  if (shows.type !== 'link' || !first) return undefined
  return { name: first.name, to: { name: 'record', params: { tracker, table: shows.to, record: first.id } } }
}
