// The tracker that is open: its structure, and what is heard of its changes. One connection for the whole page.
import { onScopeDispose, ref, shallowRef } from 'vue'
import { api, Problem, told } from '@/api/client'
import type { Tracker } from '@/api/types'
import type { components } from '@/api/schema'

export type Heard = components['schemas']['Heard']
interface Listener {
  read: () => void
  touched: (heard: Heard) => boolean
}

/** The structure of the open tracker, as far as it is open to whoever is signed in. */
export const currentTracker = shallowRef<Tracker>()
/** Whether live changes come through. */
export const connected = ref(true)
/** The tracker was closed to us while it was open on the screen. */
export const closed = ref(false)

const listeners = new Set<Listener>()
let source: EventSource | undefined
let open: number | undefined

/** Reads the structure again. */
export async function readTracker(id: number) {
  try {
    const tracker = await told(api.GET('/api/trackers/{tracker}', { params: { path: { tracker: id } } }))
    if (open === id) currentTracker.value = tracker
  } catch (error) {
    if (error instanceof Problem && [401, 404].includes(error.status)) shut()
    else throw error
  }
}

/** Empties every screen: what was on it may not be seen any more. */
function shut() {
  currentTracker.value = undefined
  closed.value = true
  tellAll()
}

function tellAll() {
  listeners.forEach((listener) => listener.read())
}

function tell(heard: Heard) {
  listeners.forEach((listener) => listener.touched(heard) && listener.read())
}

/** Opens a tracker: reads it, and listens from then on. */
export async function openTracker(id: number) {
  leaveTracker()
  open = id
  closed.value = false
  await readTracker(id)
  if (open !== id || closed.value) return
  const stream = new EventSource(`/api/trackers/${id}/events`)
  source = stream
  stream.addEventListener('open', () => (connected.value = true))
  stream.addEventListener('error', () => (connected.value = false))
  stream.addEventListener('closed', () => {
    stream.close()
    shut()
  })
  stream.addEventListener('anew', () => void refresh(id))
  stream.addEventListener('heard', (event) => {
    const heard = JSON.parse(event.data) as Heard
    if (heard.structure || heard.access) void refresh(id)
    else tell(heard)
  })
}

async function refresh(id: number) {
  await readTracker(id)
  tellAll()
}

export function leaveTracker() {
  source?.close()
  source = undefined
  open = undefined
  currentTracker.value = undefined
  closed.value = false
  connected.value = true
}

/** Whether records of one of these tables were touched; with none known yet, any may have been. */
export const touches = (tables: readonly number[] | undefined) => (heard: Heard) =>
  !tables || tables.some((table) => table in heard.records)

/** Whether one record was touched, or so many of its table that it may have been. */
export function touchesRecord(heard: Heard, table: number, record: number) {
  return !!heard.records[table]?.includes(record) || !!heard.more?.includes(table)
}

/**
 * Calls back whenever something changed that may be on the screen: the structure, what one may see, or records of which
 * `touched` says that they are shown.
 */
export function useChanges(read: () => void, touched: (heard: Heard) => boolean = () => true) {
  const listener = { read, touched }
  listeners.add(listener)
  onScopeDispose(() => listeners.delete(listener))
}
