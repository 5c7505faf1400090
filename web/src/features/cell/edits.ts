// Changing records, and taking one's last steps back. The steps are those of this window, also when it is loaded anew; the server
// keeps them all.
import { ref, watch, type Ref } from 'vue'
import { useSessionStorage } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { Input, Order, Spot, Value } from '@/api/types'
import { useSession } from '@/features/session/session'

interface StepDone {
  /** Who did it: in one window several may sign in, one after the other. */
  who: number | undefined
  tracker: number
  seq: number
  words: string
}

/** What goes into a cell, and what somebody saw there when they meant it: where that changed meanwhile, they are told. */
export interface CellEdit {
  field: number
  input: Input
  was: Value | undefined
}

/** Cells over records that are there, and as new ones. */
export interface Block {
  records: number[]
  fields: number[]
  /** Row by row; nothing: the cell stays as it is. */
  cells: (Input | null)[][]
  make?: boolean
}

/** Most steps that are kept. */
const STEPS = 200
const done = useSessionStorage<StepDone[]>('westerfall done', [])
const undone = useSessionStorage<StepDone[]>('westerfall undone', [])
/** The line that says what was done last. */
const last = ref<{ words: string; undo: boolean }>()

const { me } = useSession()
// Whoever signs in takes back nobody else’s steps.
watch(
  () => me.value?.person.id,
  (now) => {
    if (now === undefined || [...done.value, ...undone.value].every((step) => step.who === now)) return
    done.value = []
    undone.value = []
    last.value = undefined
  },
  { flush: 'sync' },
)

/** Puts what was done among the steps that can be taken back, in the server's words. */
function remember(tracker: number, answer: { seq?: number | null; did?: string }) {
  if (!answer.seq) return
  const words = answer.did ?? ''
  done.value = [...done.value.slice(-STEPS + 1), { who: me.value?.person.id, tracker, seq: answer.seq, words }]
  undone.value = []
  last.value = { words: `You ${words}.`, undo: true }
}

async function takeBack(from: Ref<StepDone[]>, to: Ref<StepDone[]>, words: (step: StepDone) => string, undo: boolean) {
  const step = from.value.at(-1)
  if (!step) return
  from.value = from.value.slice(0, -1)
  try {
    const answer = await told(
      api.POST('/api/trackers/{tracker}/undo', { params: { path: { tracker: step.tracker } }, body: { seq: step.seq } }),
    )
    if (answer.seq) to.value = [...to.value, { ...step, seq: answer.seq }]
    last.value = { words: words(step), undo }
  } catch (error) {
    last.value = undefined
    throw error
  }
}

export function useEdits() {
  async function edit(at: { tracker: number; table: number; record: number }, field: number, input: Input, was: Value | undefined) {
    const body = { edits: [{ field, input, was: was ?? null }] }
    const answer = await told(api.PATCH('/api/trackers/{tracker}/tables/{table}/records/{record}', { params: { path: at }, body }))
    remember(at.tracker, answer)
    return answer
  }

  /** A block of cells, as one step; what it names and is not there yet is made, where that is said. */
  async function putBlock(at: { tracker: number; table: number }, block: Block): Promise<number[]> {
    const body = { leave_out: false, make: false, ...block }
    const answer = await told(api.PATCH('/api/trackers/{tracker}/tables/{table}/block', { params: { path: at }, body }))
    remember(at.tracker, answer)
    return answer.added ?? []
  }

  /** Several cells of one record, as one step. */
  async function editCells(at: { tracker: number; table: number; record: number }, cells: CellEdit[]) {
    const body = { edits: cells.map((cell) => ({ ...cell, was: cell.was ?? null })) }
    remember(at.tracker, await told(api.PATCH('/api/trackers/{tracker}/tables/{table}/records/{record}', { params: { path: at }, body })))
  }

  /** The same into several records, as one step. */
  async function editSeveral(at: { tracker: number; table: number }, records: number[], cells: CellEdit[]) {
    const body = { records, edits: cells.map((cell) => ({ ...cell, was: cell.was ?? null })) }
    remember(at.tracker, await told(api.PATCH('/api/trackers/{tracker}/tables/{table}/records', { params: { path: at }, body })))
  }

  /** Records go somewhere in a view’s own order; where that is another lane or group, with the values that they have there. */
  async function place(at: { tracker: number; view: number }, records: number[], spot: Spot, cells: CellEdit[]) {
    const body = { place: { records, spot, edits: cells.map((cell) => ({ ...cell, was: cell.was ?? null })) } }
    remember(at.tracker, await told(api.POST('/api/trackers/{tracker}/views/{view}/order', { params: { path: at }, body })))
  }

  /** Lines go elsewhere among those of their record. */
  async function placeLines(at: { tracker: number; table: number; field: number }, lines: number[], spot: Spot) {
    const way = '/api/trackers/{tracker}/tables/{table}/lines/{field}/order'
    remember(at.tracker, await told(api.POST(way, { params: { path: at }, body: { lines, spot } })))
  }

  /** A view’s own order begins as these sorts put its records, or is forgotten. */
  async function orderBy(at: { tracker: number; view: number }, body: { begin: { sorts: Order[] } } | { forget: Record<string, never> }) {
    remember(at.tracker, await told(api.POST('/api/trackers/{tracker}/views/{view}/order', { params: { path: at }, body })))
  }

  /** @param begun whoever adds it goes on to fill it in: it counts as added once it is complete and left */
  async function add(at: { tracker: number; table: number }, cells: Record<string, Input>, begun = false): Promise<number | undefined> {
    const params = { path: at, header: { 'Idempotency-Key': crypto.randomUUID() } }
    const answer = await told(
      api.POST('/api/trackers/{tracker}/tables/{table}/records', {
        params: { path: params.path },
        headers: params.header,
        body: { records: [cells], begun },
      }),
    )
    remember(at.tracker, answer)
    return answer.added?.[0]
  }

  /** Says that one has gone on from a record that was begun. That it could not be said is no harm: after a while it is taken for left. */
  async function left(at: { tracker: number; table: number; record: number }) {
    await told(api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/left', { params: { path: at } })).catch(() => undefined)
  }

  async function remove(at: { tracker: number; table: number }, records: number[]) {
    const answer = await told(api.DELETE('/api/trackers/{tracker}/tables/{table}/records', { params: { path: at }, body: { records } }))
    remember(at.tracker, answer)
  }

  const undo = () => takeBack(done, undone, (step) => `Undone: you ${step.words}.`, false)
  const redo = () => takeBack(undone, done, (step) => `Done again: you ${step.words}.`, true)

  return { edit, putBlock, editCells, editSeveral, place, placeLines, orderBy, add, left, remove, undo, redo, remember, last, done, undone }
}
