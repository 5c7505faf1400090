// How a view is narrowed from a cell: asked when its menu opens.
import { shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Likeness } from '@/api/types'
import { useDoing } from '@/app/asking'

export interface CellAt {
  tracker: number
  table: number
  record: number
  field: number
}

export function useLikeness(at: () => CellAt | undefined) {
  const likeness = shallowRef<Likeness>()
  const { newest } = useDoing()
  watch(at, async (now) => {
    likeness.value = undefined
    if (!now) return
    const path = { tracker: now.tracker, table: now.table, record: now.record, field: now.field }
    const found = await newest(() =>
      told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/like/{field}', { params: { path } })),
    )
    likeness.value = found ?? undefined
  })
  return likeness
}
