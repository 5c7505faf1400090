// One record, whole, and kept up to date while it is open.
import { onScopeDispose, shallowRef, watch, type Ref } from 'vue'
import { api, told } from '@/api/client'
import type { RecordReply, Run, TrailEntry } from '@/api/types'
import { useDoing } from '@/app/asking'
import { touches, touchesRecord, useChanges, useTracker } from '@/features/tracker/tracker'

export function useFolio(at: Ref<{ tracker: number; table: number; record: number }>) {
  const { tracker: currentTracker } = useTracker()
  const record = shallowRef<RecordReply>()
  const trail = shallowRef<TrailEntry[]>([])
  const runs = shallowRef<Run[]>([])
  const { trouble, problem, newest, overtake } = useDoing()

  async function read() {
    const params = { path: at.value }
    const found = await newest(() =>
      Promise.all([
        told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}', { params })),
        told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/trail', { params })),
        // What an automation did is not worth losing the record for.
        currentTracker.value?.builds
          ? told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/runs', { params })).catch(() => [])
          : [],
      ]),
    )
    if (found) [record.value, trail.value, runs.value] = found
    else if (problem.value && [401, 403, 404].includes(problem.value.status)) {
      record.value = undefined
      trail.value = []
      runs.value = []
    }
  }

  watch(at, read, { immediate: true, deep: true })
  useChanges(
    () => void read(),
    (heard) => touchesRecord(heard, at.value.table, at.value.record) || touches(record.value?.of)(heard),
  )
  onScopeDispose(overtake)
  return { record, trail, runs, trouble, read }
}
