// Of whom one can ask why: the team, whoever comes to a shared page, whoever has the link of a form.
import type { Tracker } from '@/api/types'
import type { PickItem } from '@/features/menu/pick'

export type Whom = { person: number } | { visitor: { page: number; guest?: number | null } } | { form: number }

/** Whoever can be asked about, by what stands for them in a list. */
export function whomOf(tracker: Tracker | undefined): {
  items: PickItem<string | undefined>[]
  of: (key: string | undefined) => Whom | undefined
} {
  const known = new Map<string, Whom>()
  const items: PickItem<string | undefined>[] = [{ value: undefined, title: 'somebody' }]
  const offer = (key: string, whom: Whom, title: string, group?: string) => {
    known.set(key, whom)
    items.push({ value: key, title, ...(group ? { group } : {}) })
  }
  for (const one of tracker?.people ?? []) if (!one.left) offer(personKey(one.id), { person: one.id }, one.name)
  for (const page of tracker?.pages ?? [])
    for (const { guest, name } of page.comers)
      offer(visitorKey(page.id, guest), { visitor: { page: page.id, guest } }, name, `At “${page.title}”`)
  for (const form of tracker?.forms ?? [])
    offer(`form ${form.id}`, { form: form.id }, `whoever has the link of “${form.title}”`, 'At a form')
  return { items, of: (key) => (key === undefined ? undefined : known.get(key)) }
}

export const personKey = (person: number) => `person ${person}`
export const visitorKey = (page: number, guest?: number | null) => `visitor ${page} ${guest ?? ''}`
