// The tracker that is open: its structure, and what is heard of its changes. One connection for each that is shown.
import { inject, onScopeDispose, provide, ref, shallowRef, type InjectionKey, type Ref, type ShallowRef } from 'vue'
import { api, Problem, told } from '@/api/client'
import type { Tracker } from '@/api/types'
import type { components } from '@/api/schema'

export type Heard = components['schemas']['Heard']

interface Listener {
  read: () => void
  touched: (heard: Heard) => boolean
}

export interface TrackerContext {
  /** The structure of the open tracker, as far as it is open to whoever is signed in. */
  tracker: ShallowRef<Tracker | undefined>
  /** Whether live changes come through. */
  connected: Ref<boolean>
  /** The tracker was closed to us while it was open on the screen. */
  closed: Ref<boolean>
  /** Opens a tracker: reads it, and listens from then on. */
  open: (id: number) => Promise<void>
  /** Reads the structure again. */
  read: () => Promise<void>
  leave: () => void
  /** Calls back for what is heard until what is given back is called. */
  listen: (listener: Listener) => () => void
  /** Calls back when somebody else came, went on, or left, until what is given back is called. */
  listenPresent: (call: () => void) => () => void
}

/** A context in which a tracker can be opened. */
export function makeTracker(): TrackerContext {
  const tracker = shallowRef<Tracker>()
  const connected = ref(true)
  const closed = ref(false)
  const listeners = new Set<Listener>()
  /** Who wants to know that somebody else came, went on, or left. */
  const presence = new Set<() => void>()
  let source: EventSource | undefined
  let at: number | undefined

  async function read() {
    const id = at
    if (id === undefined) return
    try {
      const fresh = await told(api.GET('/api/trackers/{tracker}', { params: { path: { tracker: id } } }))
      if (at === id) tracker.value = fresh
    } catch (error) {
      if (error instanceof Problem && [401, 404].includes(error.status)) shut()
      else throw error
    }
  }

  /** Empties every screen: what was on it may not be seen any more. */
  function shut() {
    tracker.value = undefined
    closed.value = true
    tellAll()
  }

  function tellAll() {
    listeners.forEach((listener) => listener.read())
  }

  async function refresh(id: number) {
    if (at !== id) return
    await read()
    tellAll()
  }

  async function open(id: number) {
    leave()
    at = id
    await read()
    if (at !== id || closed.value) return
    const stream = new EventSource(`/api/trackers/${id}/events`)
    source = stream
    stream.addEventListener('open', () => (connected.value = true))
    stream.addEventListener('error', () => (connected.value = false))
    stream.addEventListener('closed', () => {
      stream.close()
      shut()
    })
    stream.addEventListener('present', () => presence.forEach((call) => call()))
    stream.addEventListener('anew', () => void refresh(id))
    stream.addEventListener('heard', (event) => {
      const heard = JSON.parse(event.data) as Heard
      if (heard.structure || heard.access) void refresh(id)
      else listeners.forEach((listener) => listener.touched(heard) && listener.read())
    })
  }

  function leave() {
    source?.close()
    source = undefined
    at = undefined
    tracker.value = undefined
    closed.value = false
    connected.value = true
  }

  function listenPresent(call: () => void) {
    presence.add(call)
    return () => void presence.delete(call)
  }

  function listen(listener: Listener) {
    listeners.add(listener)
    return () => void listeners.delete(listener)
  }

  return { tracker, connected, closed, open, read, leave, listen, listenPresent }
}

export const TRACKER: InjectionKey<TrackerContext> = Symbol('tracker')

/** Gives a tracker to everything beneath. */
export function provideTracker(context = makeTracker()): TrackerContext {
  provide(TRACKER, context)
  return context
}

/** The tracker that is open where this is called. */
export function useTracker(): TrackerContext {
  const context = inject(TRACKER, undefined)
  if (!context) throw new Error('A tracker is asked for where none is given: App, or what stands for it in a test, provides one.')
  return context
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
  onScopeDispose(useTracker().listen({ read, touched }))
}
