// What sets an automation going, as choices of one list, with what each still needs to be told.
import type { AutomationBody, Table, Vocabulary } from '@/api/types'
import type { PickItem } from '@/features/menu/pick'

export type Occasion = AutomationBody['when']

/** An occasion as a key: a form by its number, all others by their kind. */
export function keyOf(when: Occasion): string {
  if (typeof when === 'string') return when
  if ('form' in when) return String(when.form ?? 'any')
  return Object.keys(when)[0]!
}

/** Fields that hold a day. */
export const dayFields = (table: Table) =>
  table.fields.filter((one) => ['date', 'date_time', 'range', 'created_at', 'changed_at'].includes(one.shows.type))

/** An occasion as it begins. */
export function occasionOf(key: string, table?: Table): Occasion {
  if (key === 'added' || key === 'pressed' || key === 'fits' || key === 'chosen' || key === 'started') return key
  if (key === 'changed') return { changed: [] }
  if (key === 'every') return { every: { round: 'working_days', at: 420 } }
  if (key === 'date') return { date: { field: (table && dayFields(table)[0]?.id) ?? 0, days: 0, at: 420, working: false } }
  return { form: key === 'any' ? null : Number(key) }
}

/** The occasions there are, each form of the table by its title; what the table has nothing for is left out. */
export function occasions(
  vocabulary: Vocabulary | undefined,
  forms: readonly { id: number; title: string }[],
  table?: Table,
): PickItem<string>[] {
  const named = (vocabulary?.occasions ?? []).filter(({ value }) => keyOf(value) !== 'date' || !table || dayFields(table).length > 0)
  return named.flatMap(({ value, name }) =>
    name.includes('…')
      ? forms.map((form) => ({ value: String(form.id), title: name.replace('…', form.title) }))
      : [{ value: keyOf(value), title: name }],
  )
}
