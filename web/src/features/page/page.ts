// A shared page on the way from one state to another: as it would stand, what that would do, and what is wrong with it.
import type { Ref } from 'vue'
import { api, told } from '@/api/client'
import type { PageBlock, PageDesign, PageRecords, SharedPage } from '@/api/types'
import { useDesign } from '@/features/tracker/design'

/** What is shown of a table, where a part of a page is that. */
export const recordsOf = (block: PageBlock): PageRecords | undefined => ('records' in block ? block.records : undefined)

/** The next number of a part that shows records. */
export const nextNumber = (page: SharedPage) => Math.max(0, ...page.blocks.map((block) => recordsOf(block)?.number ?? 0)) + 1

/** The next number of somebody whom it names. */
export const nextGuest = (page: SharedPage) => Math.max(0, ...(page.guests ?? []).map((guest) => guest.id)) + 1

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
