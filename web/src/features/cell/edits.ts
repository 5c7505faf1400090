// Changing records, and taking one's last steps back. The steps are those of this page; the server keeps them all.
import { ref } from 'vue'
import { api, told } from '@/api/client'
import type { Input, Order, Spot, Value } from '@/api/types'

interface StepDone {
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

const done = ref<StepDone[]>([])
const undone = ref<StepDone[]>([])
/** The line that says what was done last. */
const last = ref<{ words: string; undo: boolean }>()

/** Puts what was done among the steps that can be taken back, in the server's words. */
function remember(tracker: number, answer: { seq?: number | null; did?: string }) {
  if (!answer.seq) return
  const words = answer.did ?? ''
  done.value.push({ tracker, seq: answer.seq, words })
  undone.value = []
  last.value = { words: `You ${words}.`, undo: true }
}

async function takeBack(from: StepDone[], to: StepDone[], words: (step: StepDone) => string, undo: boolean) {
  const step = from.pop()
  if (!step) return
  try {
    const answer = await told(
      api.POST('/api/trackers/{tracker}/undo', { params: { path: { tracker: step.tracker } }, body: { seq: step.seq } }),
    )
    if (answer.seq) to.push({ ...step, seq: answer.seq })
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

  const undo = () => takeBack(done.value, undone.value, (step) => `Undone: you ${step.words}.`, false)
  const redo = () => takeBack(undone.value, done.value, (step) => `Done again: you ${step.words}.`, true)

  return { edit, editCells, editSeveral, place, orderBy, add, left, remove, undo, redo, remember, last, done, undone }
}
