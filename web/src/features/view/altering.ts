// What a view asks, changed by its headings, its phrases and its slip.
import type { Field, Query, Shape } from '@/api/types'
import { steps } from '@/app/pointer'
import { without } from '@/features/condition/checks'

/** Most fields that records stand in order by. */
const MOST_SORTS = 5

/** A shape without what it says at a place: of several fields one, of all else what holds where nothing is said. */
function shapeWithout(shape: Shape, part: string, place: string | undefined): Shape {
  const said = (shape as Record<string, unknown>)[part]
  const left = Array.isArray(said) && place !== undefined ? said.filter((_, n) => n !== Number(place)) : undefined
  return JSON.parse(JSON.stringify({ ...shape, [part]: left })) as Shape
}

/** What a query becomes without the part of its sentence at a place. */
export function droppedAt(query: Query, at: string): Partial<Query> {
  const [part, place, further] = steps(at)
  if (part === 'condition') return { condition: without(query.condition ?? { all: [] }, at.slice('/condition'.length)) }
  if (part === 'groups') return { groups: query.groups?.filter((_, n) => n !== Number(place)) }
  if (part === 'sorts') return { sorts: query.sorts?.filter((_, n) => n !== Number(place)) }
  if (part === 'tallies') return { tallies: [] }
  if (part === 'without') return { without: [] }
  if (part === 'shape') return { shape: query.shape && place ? shapeWithout(query.shape, place, further) : { as: 'rows' } }
  return {}
}

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
    if (at === '/own') forgetOrder()
    else change(droppedAt(now, at))
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
