// A record looked at as it was at a moment of its life: what its fields held then, where that is something else now.
import { ref, shallowRef, watch, type Ref } from 'vue'
import { api, told } from '@/api/client'
import type { FieldBack } from '@/api/types'
import { useDoing } from '@/app/asking'
import { touchesRecord, useChanges } from '@/features/tracker/tracker'

export function useLookingBack(at: Ref<{ tracker: number; table: number; record: number }>) {
  /** The change after which one looks at it; nothing: now. */
  const after = ref<number>()
  const fields = shallowRef<FieldBack[]>([])
  const { trouble, newest, overtake } = useDoing()

  async function read() {
    if (after.value === undefined) {
      overtake()
      fields.value = []
      return
    }
    const body = { after: after.value, fields: [] }
    const asked = () =>
      told(api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/as-it-was', { params: { path: { ...at.value } }, body }))
    const found = await newest(asked)
    if (found) fields.value = found.fields
  }
  watch(after, read)
  watch(
    () => [at.value.table, at.value.record],
    () => (after.value = undefined),
  )
  useChanges(
    () => void read(),
    (heard) => after.value !== undefined && touchesRecord(heard, at.value.table, at.value.record),
  )

  /** What a field held then; nothing where one looks at now, or it holds the same. */
  const then = (field: number) => (after.value === undefined ? undefined : fields.value.find((one) => one.field === field)?.then)
  return { after, then, fields, trouble }
}
