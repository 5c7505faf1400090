// The parts of a tracker's structure: making, saving and dropping one, or looking at it as it would stand.
import { api, told } from '@/api/client'
import type { Done, NewPart, PartBody, PartLook } from '@/api/types'
import { useEdits } from '@/features/cell/edits'

export type PartSort = 'view' | 'form' | 'role' | 'automation' | 'page' | 'highlight' | 'document' | 'text'

export function useParts(tracker: () => number) {
  const edits = useEdits()

  async function done(asked: Promise<Done>): Promise<Done> {
    const answer = await asked
    edits.remember(tracker(), answer)
    return answer
  }

  const path = (sort: PartSort, number: number) => ({ params: { path: { tracker: tracker(), sort, number } } })
  const here = () => ({ params: { path: { tracker: tracker() } } })
  return {
    make: (part: NewPart) => done(told(api.POST('/api/trackers/{tracker}/parts', { ...here(), body: part }))),
    save: (sort: PartSort, number: number, part: PartBody) =>
      done(told(api.PUT('/api/trackers/{tracker}/parts/{sort}/{number}', { ...path(sort, number), body: part }))),
    drop: (sort: PartSort, number: number) => done(told(api.DELETE('/api/trackers/{tracker}/parts/{sort}/{number}', path(sort, number)))),
    look: (part: PartBody, number?: number): Promise<PartLook> =>
      told(api.POST('/api/trackers/{tracker}/parts/look', { ...here(), body: { part, number } })),
  }
}
