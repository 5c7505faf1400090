// Carrying records to another lane: what it would do is told before it is kept, and it is one step.
import { computed, shallowRef } from 'vue'
import { api, saying, told } from '@/api/client'
import type { Field, Input, MoveRehearsal, Query, Value } from '@/api/types'
import { useEdits } from '@/features/cell/edits'
import type { Shown } from '../window'

export interface Moving {
  at: () => { tracker: number; table: number }
  field: () => Field | undefined
  query: () => Query
  window: () => Shown
  trouble: (words: string) => void
}

/** Where records are carried to, and what that would do. */
export interface Carried {
  records: number[]
  /** The one lane that they come from, as it is seen when they are lifted. */
  from: Value | undefined
  to: Value | undefined
  key: string | undefined
  told: MoveRehearsal | undefined
  /** Why it can’t be. */
  refused: string
}

export function useMoving({ at, field, query, window, trouble }: Moving) {
  const edits = useEdits()
  const carried = shallowRef<Carried>()
  const input = (value: Value): Input => ({ value })

  function lift(records: number[], from: Value | undefined) {
    const refusal = field()?.writes ? '' : (field()?.refusal ?? 'It can’t be changed by hand.')
    carried.value = { records, from, to: undefined, key: undefined, told: undefined, refused: refusal }
  }

  async function rehearse(records: number[], to: Value): Promise<MoveRehearsal> {
    const by = field()
    if (!by) throw new Error('Lanes without a field')
    const body = { query: query(), records, edits: [{ field: by.id, input: input(to), was: null }] }
    return told(api.POST('/api/trackers/{tracker}/tables/{table}/records/rehearsal', { params: { path: at() }, body }))
  }

  /** Over a lane: what it would do is asked once, as long as one stays there. */
  async function over(key: string, to: Value) {
    const now = carried.value
    if (!now || now.key === key) return
    const here = { ...now, key, to, told: undefined }
    carried.value = here
    if (now.refused) return
    try {
      const answer = await rehearse(now.records, to)
      if (carried.value === here) carried.value = { ...here, told: answer }
    } catch (error) {
      if (carried.value === here) carried.value = { ...here, told: { says: [saying(error)] } }
    }
  }

  const leave = () => (carried.value = undefined)

  /** @param from the one lane that they were seen in: who moved one of them meanwhile is not overruled unheard */
  async function put(records: number[], to: Value, from: Value | undefined) {
    const by = field()
    leave()
    if (!by) return
    if (!by.writes) return trouble(by.refusal ?? 'It can’t be changed by hand.')
    try {
      const [only] = records
      if (records.length === 1 && only !== undefined) await edits.edit({ ...at(), record: only }, by.id, input(to), from)
      else await edits.editSeveral(at(), records, { field: by.id, input: input(to), was: from })
      trouble('')
    } catch (error) {
      trouble(saying(error))
    }
    await window().refresh()
  }

  async function drop() {
    const now = carried.value
    if (now?.to === undefined) return leave()
    if (now.refused) {
      leave()
      return trouble(now.refused)
    }
    await put(now.records, now.to, now.from)
  }

  return { carried: computed(() => carried.value), lift, over, leave, drop, put, rehearse }
}
