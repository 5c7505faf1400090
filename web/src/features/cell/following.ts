// What would follow by itself from what is about to be put into a cell, or from a button: asked while one is still at it.
import { readonly, ref } from 'vue'
import { api, told } from '@/api/client'
import type { AboutTo, Field, Input } from '@/api/types'

export interface RecordAt {
  tracker: number
  table: number
  record?: number
}

/** In sentences; none: nothing follows, or nobody could say. */
export async function askFollowing(at: RecordAt, body: AboutTo): Promise<string[]> {
  const { tracker, table, record } = at
  if (record === undefined) return []
  const params = { path: { tracker, table, record } }
  return told(api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/following', { params, body })).catch(() => [])
}

/** How long somebody rests at what they would put in before it is asked, in milliseconds. */
const RESTS = 120

export function useFollowing(at: () => RecordAt | undefined, field: () => Field) {
  const says = ref<string[]>([])
  /** What was weighed last, as text. */
  let weighed = ''
  let soon: ReturnType<typeof setTimeout> | undefined
  const edit = (input: Input): AboutTo => ({ edit: [{ field: field().id, input, was: null }] })
  /** Whether it is worth asking: only of what sets something going, in a record that is there. */
  const asks = () => !!field().sets_going && at()?.record !== undefined

  /** Says what would follow from this; of nothing, nothing. */
  function weigh(input: Input | undefined) {
    const now = input === undefined || !asks() ? '' : JSON.stringify(input)
    if (now === weighed) return
    weighed = now
    clearTimeout(soon)
    if (!now) return void (says.value = [])
    soon = setTimeout(() => {
      void askFollowing(at()!, edit(input!)).then((found) => {
        if (weighed === now) says.value = found
      })
    }, RESTS)
  }

  /** The same at once, and waited for. */
  async function of(input: Input): Promise<string[]> {
    if (!asks()) return []
    if (says.value.length && weighed === JSON.stringify(input)) return says.value
    weighed = JSON.stringify(input)
    clearTimeout(soon)
    return (says.value = await askFollowing(at()!, edit(input)))
  }

  return { says: readonly(says), weigh, of }
}
