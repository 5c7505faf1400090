// A highlight as it is being written: changed at the places that its sentence names.
import type { Condition, HighlightBody, Look, Touch } from '@/api/types'
import { steps } from '@/app/pointer'
import { without } from '@/features/condition/checks'
import { withoutEffect } from './looks'

export interface Drafted {
  condition: Condition
  touches: Touch[]
}

/** The touch that a place is in. */
export const touchAt = (at: string): number => Number(steps(at)[1])

/** What a phrase says of a look, as a look of that alone. */
export function lookSaidAt(draft: Drafted, at: string): Look | undefined {
  const [part, place, look, effect] = steps(at)
  if (part !== 'touches' || look !== 'look' || !effect) return undefined
  const whole = draft.touches[Number(place)]?.look
  return whole ? (Object.fromEntries(Object.entries(whole).filter(([name]) => name === effect)) as Look) : undefined
}

/** The same with another touch in a place. */
export function withTouch(draft: Drafted, place: number, touch: Partial<Touch>): Drafted {
  return { ...draft, touches: draft.touches.map((old, n) => (n === place ? { ...old, ...touch } : old)) }
}

/** The same without what a phrase says. */
export function dropped(draft: Drafted, at: string): Drafted {
  const [part, place, look, effect] = steps(at)
  if (part === 'condition') return { ...draft, condition: without(draft.condition, at.slice('/condition'.length)) }
  const touch = draft.touches[Number(place)]
  if (part !== 'touches' || !touch) return draft
  if (look === 'look' && effect) return withTouch(draft, Number(place), { look: withoutEffect(touch.look, effect) })
  return { ...draft, touches: draft.touches.filter((_, n) => n !== Number(place)) }
}

/** One that was begun elsewhere, and waits for the page on which it is looked at and kept. */
let taken: Drafted | undefined
export const takeOver = (draft: Drafted) => (taken = draft)
export function takenOver(): Drafted | undefined {
  const draft = taken
  taken = undefined
  return draft
}

/** What a highlight of a field begins as, where one of its options is meant. */
export const begunFrom = (field: number | undefined, option: number | undefined): Drafted => ({
  condition: {
    all: field && option ? [{ test: { path: [field], of: 'any', check: { is: 'option', not: false, any: [option] } } }] : [],
  },
  touches: field ? [{ fields: [field], look: {} }] : [],
})

export const bodyOf = (table: number, { condition, touches }: Drafted): HighlightBody => ({ table, condition, touches })
