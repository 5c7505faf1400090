// One record, whole, and kept up to date while it is open.
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import { api, Problem, saying, told } from '@/api/client'
import type { RecordReply, Run, TrailEntry } from '@/api/types'
import { touches, touchesRecord, useChanges, useTracker } from '@/features/tracker/tracker'

export function useFolio(at: Ref<{ tracker: number; table: number; record: number }>) {
  const { tracker: currentTracker } = useTracker()
  const record = shallowRef<RecordReply>()
  const trail = shallowRef<TrailEntry[]>([])
  const runs = shallowRef<Run[]>([])
  const trouble = ref('')
  let round = 0

  async function read() {
    const mine = ++round
    const params = { path: at.value }
    try {
      const [one, entries] = await Promise.all([
        told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}', { params })),
        told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/trail', { params })),
      ])
      if (mine !== round) return
      record.value = one
      trail.value = entries
      trouble.value = ''
      if (currentTracker.value?.builds) {
        runs.value = await told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/runs', { params })).catch(() => [])
      }
    } catch (error) {
      if (mine !== round) return
      trouble.value = saying(error)
      if (error instanceof Problem && [401, 403, 404].includes(error.status)) {
        record.value = undefined
        trail.value = []
        runs.value = []
      }
    }
  }

  watch(at, read, { immediate: true, deep: true })
  useChanges(
    () => void read(),
    (heard) => touchesRecord(heard, at.value.table, at.value.record) || touches(record.value?.of)(heard),
  )
  onScopeDispose(() => round++)
  return { record, trail, runs, trouble, read }
}
