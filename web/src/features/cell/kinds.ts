// How each kind of field is shown and edited here. What a value means and whether it fits is core's to say.
import {
  mdiAccountOutline,
  mdiArrowDecisionOutline,
  mdiCalendarBlankOutline,
  mdiCalendarClockOutline,
  mdiEmailOutline,
  mdiFormatListBulletedSquare,
  mdiImageOutline,
  mdiLinkVariant,
  mdiNumeric,
  mdiPhoneOutline,
  mdiPound,
  mdiTextLong,
  mdiTextShort,
} from '@mdi/js'
import type { Cell, Choice, Field, Kind } from '@/api/types'

/** What one edits a value with. */
export type Editor = 'line' | 'long' | 'choice' | 'person' | 'link' | 'files'

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
  date: { icon: mdiCalendarBlankOutline, editor: 'line' },
  date_time: { icon: mdiCalendarClockOutline, editor: 'line' },
  choice: { icon: mdiFormatListBulletedSquare, editor: 'choice' },
  person: { icon: mdiAccountOutline, editor: 'person' },
  link: { icon: mdiLinkVariant, editor: 'link' },
  email: { icon: mdiEmailOutline, editor: 'line' },
  phone: { icon: mdiPhoneOutline, editor: 'line' },
  files: { icon: mdiImageOutline, editor: 'files' },
  numbering: { icon: mdiPound, editor: undefined },
  created_at: { icon: mdiCalendarClockOutline, editor: undefined },
  created_by: { icon: mdiAccountOutline, editor: undefined },
  changed_at: { icon: mdiCalendarClockOutline, editor: undefined },
  changed_by: { icon: mdiAccountOutline, editor: undefined },
  carried: { icon: mdiArrowDecisionOutline, editor: undefined },
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
  return field.shows.type === 'choice' ? field.shows.options : []
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

/** What is typed to get this cell again: the text, without the unit and the thousands marks of numbers. */
export function typed(cell: Cell | null | undefined): string {
  const value = cell?.value
  if (typeof value === 'object' && 'number' in value) return value.number
  return cell?.text ?? ''
}

/** The files of a cell. */
export function files(cell: Cell | null | undefined) {
  const value = cell?.value
  return typeof value === 'object' && 'files' in value ? value.files : []
}
