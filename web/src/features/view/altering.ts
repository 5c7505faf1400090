// What a view asks, changed by its headings, its phrases and its slip.
import type { Field, Query } from '@/api/types'
import { steps } from '@/app/pointer'
import { without } from '@/features/condition/checks'

/** Most fields that records stand in order by. */
const MOST_SORTS = 5

export function useAltering(query: () => Query | undefined, change: (by: Partial<Query>) => void, forgetOrder: () => void) {
  /** Fields in another order, as their headings were put. */
  function reorder(order: number[]) {
    const known = query()?.fields ?? []
    change({ fields: order.flatMap((id) => known.filter((one) => one.field === id)) })
  }

  /** Takes out the part of the sentence at a place. */
  function dropPhrase(at: string) {
    const now = query()
    if (!now) return
    const [part, place] = steps(at)
    if (part === 'condition') change({ condition: without(now.condition ?? { all: [] }, at.slice('/condition'.length)) })
    else if (part === 'groups') change({ groups: now.groups?.filter((_, n) => n !== Number(place)) })
    else if (part === 'sorts') change({ sorts: now.sorts?.filter((_, n) => n !== Number(place)) })
    else if (part === 'tallies') change({ tallies: [] })
    else if (part === 'without') change({ without: [] })
    else if (part === 'own') forgetOrder()
    else if (part === 'shape') change({ shape: now.shape && place ? { ...now.shape, [place]: null } : { as: 'rows' } })
  }

  /** So many of the first fields stay in place when rows are moved sideways. */
  function keepFields(keeps: number) {
    const shape = query()?.shape
    change({ shape: { ...(shape?.as === 'rows' ? shape : { as: 'rows' as const }), keeps } })
  }

  function orderBy(field: Field, descending: boolean) {
    const others = query()?.sorts?.filter((sort) => sort.field !== field.id) ?? []
    change({ sorts: [{ field: field.id, descending }, ...others].slice(0, MOST_SORTS) })
  }

  const groupBy = (field: Field | undefined) => change({ groups: field ? [{ field: field.id, descending: false }] : [] })

  return { reorder, dropPhrase, keepFields, orderBy, groupBy }
}
