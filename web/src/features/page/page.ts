// A shared page on the way from one state to another: as it would stand, what that would do, and what is wrong with it.
import type { Ref } from 'vue'
import { api, told } from '@/api/client'
import type { PageBlock, PageDesign, PageRecords, Query, Shape, SharedPage } from '@/api/types'
import { useDesign } from '@/features/tracker/design'

/** What is shown of a table, where a part of a page is that. */
export const recordsOf = (block: PageBlock): PageRecords | undefined => ('records' in block ? block.records : undefined)

/** The next number of a part that shows records. */
export const nextNumber = (page: SharedPage) => Math.max(0, ...page.blocks.map((block) => recordsOf(block)?.number ?? 0)) + 1

/** The next number of somebody whom it names. */
export const nextGuest = (page: SharedPage) => Math.max(0, ...(page.guests ?? []).map((guest) => guest.id)) + 1

/** Fields by which a shape stands, or that it draws. */
function ofShape(shape: Shape): (number | null | undefined)[] {
  if (shape.as === 'lanes') return [shape.by, shape.picture]
  if (shape.as === 'cards') return [shape.picture, shape.length, shape.strokes]
  if (shape.as === 'calendar') return [...shape.dates.flatMap((date) => [date.start, date.end]), shape.who, shape.lasts]
  if (shape.as === 'cross-tab') return [...shape.down, ...(shape.across ?? [])].map((by) => by.field).concat(shape.within ?? [])
  return []
}

/** Fields that a change of groups, figures or shape tells of, and that are not shown yet: on a page they would be refused. */
export function alsoShown(change: Partial<Query>, query: Query): Query['fields'] {
  const told = [
    ...(change.groups ?? []).map((group) => group.field),
    ...(change.tallies ?? []).map((tally) => tally.field),
    ...(change.shape ? ofShape(change.shape) : []),
  ]
  const known = new Set(query.fields.map((shown) => shown.field))
  const further = told.filter((field): field is number => field != null && !known.has(field))
  return [...new Set(further)].map((field) => ({ field, width: 120 }))
}

export function usePageDesign(tracker: Ref<number>, id: Ref<number>) {
  const design = useDesign<SharedPage, PageDesign>({
    sort: 'page',
    tracker,
    id,
    read: () => told(api.GET('/api/trackers/{tracker}/pages/{page}', { params: { path: { tracker: tracker.value, page: id.value } } })),
    partOf: (view) => view.page,
    body: (page) => ({ page: { page } }),
    viewOf: (view) => ('page' in view ? view.page : undefined),
  })
  return {
    ...design,
    /** What a view shows, as it stands on a page. */
    shownBy: (view: number) =>
      design.doing.attempt(() =>
        told(api.GET('/api/trackers/{tracker}/pages/of/{view}', { params: { path: { tracker: tracker.value, view } } })),
      ),
  }
}
