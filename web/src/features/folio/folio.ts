// One record, whole, and kept up to date while it is open.
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import { api, told } from '@/api/client'
import type { RecordReply, Run, Trail, TrailEntry } from '@/api/types'
import { useDoing } from '@/app/asking'
import { touches, touchesRecord, useChanges, useTracker } from '@/features/tracker/tracker'

interface At {
  tracker: number
  table: number
  record: number
}

export function useFolio(at: Ref<At>) {
  const { tracker: currentTracker } = useTracker()
  const record = shallowRef<RecordReply>()
  const trail = shallowRef<TrailEntry[]>([])
  /** Whether more of its trail can be told, and how many pages of it are. */
  const earlier = ref(false)
  let pages = 1
  const runs = shallowRef<Run[]>([])
  const { trouble, problem, newest, overtake } = useDoing()

  /** So many pages of its trail, the latest first. */
  async function trailOf(path: At, most: number): Promise<Trail> {
    const entries: TrailEntry[] = []
    for (let page = 0; ; page++) {
      const query = page ? { before: entries.at(-1)!.seq } : {}
      const asked = api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/trail', { params: { path, query } })
      const one = await told(asked)
      entries.push(...one.entries)
      if (!one.earlier || page + 1 >= most) return { entries, earlier: one.earlier }
    }
  }

  async function read() {
    const params = { path: at.value }
    const found = await newest(() =>
      Promise.all([
        told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}', { params })),
        trailOf(params.path, pages),
        // What an automation did is not worth losing the record for.
        currentTracker.value?.builds
          ? told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/runs', { params })).catch(() => [])
          : [],
      ]),
    )
    if (found) {
      ;[record.value, { entries: trail.value, earlier: earlier.value }, runs.value] = found
    } else if (problem.value && [401, 403, 404].includes(problem.value.status)) {
      record.value = undefined
      trail.value = []
      runs.value = []
    }
  }

  /** Tells more of what was before. */
  async function more() {
    pages++
    await read()
  }

  watch(
    at,
    () => {
      pages = 1
      void read()
    },
    { immediate: true, deep: true },
  )
  useChanges(
    () => void read(),
    (heard) => touchesRecord(heard, at.value.table, at.value.record) || touches(record.value?.of)(heard),
  )
  onScopeDispose(overtake)
  return { record, trail, earlier, more, runs, trouble, read }
}
