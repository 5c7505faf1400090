// Who else is here: one's own screen says what it shows, and hears where the others are. Nothing of it is kept.
import { onScopeDispose, ref, shallowRef, watch } from 'vue'
import { useDebounceFn, useEventListener, useIntervalFn, useThrottleFn } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { PresentOne } from '@/api/types'
import { useTracker } from './tracker'

/** How often a screen says that it is still open, in milliseconds. */
const AGAIN = 15_000
/** How often at most it asks where the others went: many who move at once would else ask each other all the time. */
const HEARD = 1_500

export interface Spot {
  table: number
  record?: number
  field?: number
  writes?: boolean
}

const screen = Math.random().toString(36).slice(2)
const others = shallowRef<PresentOne[]>([])
/** The cell that one is in, as rows and folios say. */
const cell = ref<{ record: number; field: number; writes: boolean }>()

/** Where the others are. */
export const useOthers = () => others
/** Says in which cell one is. */
export const sayCell = (now: { record: number; field: number; writes: boolean } | undefined) => (cell.value = now)

/** *IP*: the first letters of a name. */
export const initialsOf = (name: string) =>
  name
    .split(/[\s-]+/)
    .map((word) => word[0] ?? '')
    .slice(0, 2)
    .join('')
    .toUpperCase()

/** Says what a page shows for as long as it is there. */
export function usePresence(tracker: () => number, spot: () => Spot | undefined) {
  const context = useTracker()

  async function say(now = spot()) {
    const here = now && cell.value && (now.record === undefined || cell.value.record === now.record) ? cell.value : undefined
    const body = { screen, ...now, ...here }
    const asked = told(api.PUT('/api/trackers/{tracker}/presence', { params: { path: { tracker: tracker() } }, body }))
    // That it can't be said is no harm.
    others.value = await asked.catch(() => [])
  }

  const soon = useDebounceFn(() => void say(), 300)
  watch([tracker, () => JSON.stringify([spot(), cell.value])], () => void soon(), { immediate: true })
  useIntervalFn(() => void say(), AGAIN)
  const heard = useThrottleFn(() => void say(), HEARD, true)
  onScopeDispose(context.listenPresent(() => void heard()))
  useEventListener(window, 'pagehide', () => {
    const body = JSON.stringify({ screen })
    void fetch(`/api/trackers/${tracker()}/presence`, {
      method: 'PUT',
      keepalive: true,
      headers: { 'content-type': 'application/json' },
      body,
    }).catch(() => undefined)
  })
  onScopeDispose(() => {
    cell.value = undefined
    others.value = []
    void told(api.PUT('/api/trackers/{tracker}/presence', { params: { path: { tracker: tracker() } }, body: { screen } })).catch(() => [])
  })
  return others
}
