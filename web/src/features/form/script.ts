// How many people are still there at each line of a form.
import type { Question } from '@/api/types'

export interface Visits {
  opened: number
  sent: number
  left: { field: number; number: number }[]
}

export interface StillThere {
  /** How many came to this line. */
  here: number
  /** How many of them went no further. */
  left: number
}

/** So many must have opened a form before a picture is made of their numbers. */
export const ENOUGH = 30

/** Line by line; nothing where too few came to say anything. */
export function stillThere(questions: Pick<Question, 'field' | 'hidden'>[], visits: Visits | null | undefined): StillThere[] | undefined {
  if (!visits || visits.opened < ENOUGH) return undefined
  let here = visits.opened
  return questions.map(({ field, hidden }) => {
    const left = hidden ? 0 : Math.min(here, visits.left.find((one) => one.field === field)?.number ?? 0)
    const line = { here, left }
    here -= left
    return line
  })
}
