// What sets an automation going, as choices of one list.
import type { AutomationBody, Vocabulary } from '@/api/types'
import type { PickItem } from '@/features/menu/pick'

type Occasion = AutomationBody['when']

/** An occasion as a key: a form by its number. */
export const keyOf = (when: Occasion): string => (typeof when === 'string' ? when : String(when.form ?? 'any'))

export function occasionOf(key: string): Occasion {
  if (key === 'added' || key === 'pressed') return key
  return { form: key === 'any' ? null : Number(key) }
}

/** The occasions there are, each form of the table by its title. */
export function occasions(vocabulary: Vocabulary | undefined, forms: readonly { id: number; title: string }[]): PickItem<string>[] {
  const named = vocabulary?.occasions ?? []
  return named.flatMap(({ value, name }) =>
    name.includes('…')
      ? forms.map((form) => ({ value: String(form.id), title: name.replace('…', form.title) }))
      : [{ value: keyOf(value), title: name }],
  )
}
