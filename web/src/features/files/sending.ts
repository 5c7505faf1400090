// Files on their way to a record: in pieces, so that a lost line costs a piece and not the file. What was on its way when the page was
// left goes on from where it was when the same file is chosen again.
import { computed, reactive } from 'vue'
import { api, Problem, saying, sendBytes, told } from '@/api/client'
import type { components } from '@/api/schema'

type Schemas = components['schemas']
type Coming = Schemas['Coming']

/** A file on its way. */
export interface Sending {
  key: number
  name: string
  size: number
  /** How much of it is there. */
  at: number
  /** Why it stopped, where it did. */
  trouble?: string
  /** Whether it can go on from there. */
  again?: boolean
  /** It is there whole, and waits until what it goes with is sent. */
  here?: boolean
}

interface Line extends Sending {
  file: File
  token?: string
  stop: AbortController
}

/** How often a piece is tried again by itself, and how long it waits the first time; each next time twice as long. */
const TRIES = 6
const PAUSE = 1_000

const known = (file: File) => `westerfall coming ${file.name} ${file.size} ${file.lastModified}`

/** The cell of a record to which files are put. */
export interface Cell {
  tracker: number
  table: number
  record: number
  field: number
}

let keys = 0

/** Brings files there whole, one after the other; what becomes of those that came is for `arrived` to say. */
function useBringing<P>(arrived: (here: Line[], to: P) => Promise<void>) {
  const lines = reactive<Line[]>([])
  /** Where each goes. */
  const places = new Map<number, P>()
  let queue = Promise.resolve()

  function send(files: File[], to: P) {
    const added = files.map((file) => {
      const line: Line = { key: ++keys, name: file.name, size: file.size, at: 0, file, stop: new AbortController() }
      places.set(line.key, to)
      lines.push(line)
      return lines.at(-1)!
    })
    queue = queue.then(() => deliver(added, to))
    return queue
  }

  async function deliver(added: Line[], to: P) {
    const here: Line[] = []
    for (const line of added) {
      try {
        await bring(line)
        here.push(line)
      } catch (error) {
        if (line.stop.signal.aborted) drop(line)
        else stopped(line, error)
      }
    }
    if (here.length) await arrived(here, to)
  }

  function stopped(line: Line, error: unknown) {
    line.trouble = saying(error)
    line.again = isLost(error)
    if (!line.again) localStorage.removeItem(known(line.file))
  }

  /** What was sent with it is there: it is on its way no more. */
  function done(here: readonly Line[]) {
    for (const line of here) {
      localStorage.removeItem(known(line.file))
      drop(line)
    }
  }

  function drop(line: Line) {
    const at = lines.findIndex((one) => one.key === line.key)
    if (at >= 0) lines.splice(at, 1)
    places.delete(line.key)
  }

  /** Goes on with what stopped. */
  function goOn(key: number) {
    const line = lines.find((one) => one.key === key)
    if (!line) return
    delete line.trouble
    queue = queue.then(() => deliver([line], places.get(key)!))
  }

  function stop(key: number) {
    const line = lines.find((one) => one.key === key)
    if (!line) return
    line.stop.abort()
    localStorage.removeItem(known(line.file))
    const { token } = line
    // What can't be told now is dropped there by itself after an hour.
    if (token) void api.DELETE('/api/files/coming/{token}', { params: { path: { token } } }).catch(() => undefined)
    drop(line)
  }

  return { lines, send, goOn, stop, stopped, done }
}

/** Puts files that came, by their tokens, beside those that a cell holds. */
export const putOnRecord = (to: Cell, tokens: string[]) =>
  told(
    api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/files/{field}', {
      params: { path: { ...to } },
      body: { tokens },
    }),
  )

/** Sends files somewhere, and `hang`s those that came there together, by their tokens. */
export function useFileSending<P>(hang: (to: P, tokens: string[]) => Promise<void>) {
  const bringing = useBringing<P>(hangs)

  async function hangs(here: Line[], to: P) {
    try {
      await hang(
        to,
        here.map((line) => line.token!),
      )
      bringing.done(here)
    } catch (error) {
      // Of several, those that can be taken are, and which can’t is said of each.
      if (here.length > 1 && !isLost(error)) for (const line of here) await hangs([line], to)
      else here.forEach((line) => bringing.stopped(line, error))
    }
  }
  const { send, goOn, stop } = bringing
  return { lines: computed<readonly Sending[]>(() => bringing.lines), send, goOn, stop }
}

/** Files that are brought, and wait until what they go with is sent: by their tokens. */
export function useFilesBeside() {
  const bringing = useBringing<undefined>((here) => Promise.resolve(here.forEach((line) => (line.here = true))))
  const here = () => bringing.lines.filter((line) => line.here)
  const { send, goOn, stop } = bringing
  return {
    lines: computed<readonly Sending[]>(() => bringing.lines),
    send: (files: File[]) => send(files, undefined),
    tokens: computed(() => here().map((line) => line.token!)),
    /** Whether one is still on its way. */
    isComing: computed(() => bringing.lines.some((line) => !line.here && !line.trouble)),
    goOn,
    stop,
    /** What they go with was sent. */
    done: () => bringing.done(here()),
  }
}

/** Brings a file there whole. */
async function bring(line: Line) {
  const coming = await begin(line)
  line.token = coming.token
  line.at = coming.at
  while (line.at < line.size) {
    const piece = line.file.slice(line.at, line.at + coming.piece)
    line.at = (await patiently(() => pieceOf(line, piece), line.stop.signal)).at
  }
}

async function begin(line: Line): Promise<Coming> {
  const before = line.token ?? localStorage.getItem(known(line.file))
  if (before) {
    const going = await api.GET('/api/files/coming/{token}', { params: { path: { token: before } } }).catch(() => undefined)
    if (going?.data) return going.data
  }
  const { name, size } = line
  const coming = await told(api.POST('/api/files/coming', { body: { name, size } }))
  localStorage.setItem(known(line.file), coming.token)
  return coming
}

async function pieceOf(line: Line, piece: Blob): Promise<Coming> {
  const address = `/api/files/coming/${line.token}?at=${line.at}`
  const asked = sendBytes(address, piece, line.stop.signal).then(async (response) => {
    const body: unknown = await response.json().catch(() => undefined)
    return response.ok ? { data: body as Coming, response } : { error: body ?? {}, response }
  })
  return await told<Coming>(asked)
}

/** Whether there was no answer, so that the same may go well another time. */
const isLost = (error: unknown) => error instanceof Problem && (error.status === 0 || error.status === 503)

/** Tries again by itself where there was no answer. */
async function patiently<T>(does: () => Promise<T>, stop: AbortSignal): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await does()
    } catch (error) {
      if (!isLost(error) || stop.aborted || tries >= TRIES) throw error
      await new Promise((go) => setTimeout(go, PAUSE * 2 ** (tries - 1)))
    }
  }
}
