// How home is narrowed and told.
import type { GroupLine, HomeOrder, HomeView, Since } from '@/api/types'

type Section = HomeView['sections'][number]

export const SINCE: { value: Since; title: string }[] = [
  { value: 'looked', title: 'since you last looked' },
  { value: 'day', title: 'of the last 24 hours' },
  { value: 'week', title: 'of the last 7 days' },
  { value: 'month', title: 'of the last 30 days' },
]

export const ORDERS: { value: HomeOrder; title: string }[] = [
  { value: 'area', title: 'by area' },
  { value: 'recent', title: 'last looked at first' },
  { value: 'name', title: 'by name' },
]

/** From what a tracker is started, in the order of a sentence. */
export const STARTS = [
  { have: 'file', words: 'a file' },
  { have: 'names', words: 'a list of names' },
  { have: 'template', words: 'a template' },
  { have: 'tracker', words: 'one that is there' },
  { have: 'nothing', words: 'nothing' },
]

/** The sections with what is called, described or put somewhere like that; none that is empty then. */
export function narrowed(sections: readonly Section[], search: string): Section[] {
  const text = search.trim().toLowerCase()
  const named = ({ name, description, area }: Section['lines'][number]) => `${name} ${description} ${area}`.toLowerCase().includes(text)
  return sections.map((section) => ({ ...section, lines: section.lines.filter(named) })).filter((section) => section.lines.length)
}

/** The groups, and for which of them a tracker stands on top. */
export const groupsOf = (groups: readonly GroupLine[], tracker: number | undefined) =>
  groups.map(({ id, name, pins }) => ({ id, name, on: tracker !== undefined && pins.includes(tracker) }))

/** With one of a list a place earlier or later. */
export function moved<T>(list: readonly T[], from: number, by: number): T[] {
  const next = [...list]
  const [one] = next.splice(from, 1)
  if (one !== undefined) next.splice(Math.max(0, from + by), 0, one)
  return next
}
