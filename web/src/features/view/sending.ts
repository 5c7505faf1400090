// Changes of cells on their way to the server: sent one after the other, while whoever types goes on. What is refused stays
// with its cell, as it was typed, until it is mended or left.
import { ref } from 'vue'
import { saying, theirsOf } from '@/api/client'
import type { Field, Input, Row, Value } from '@/api/types'

export interface Refused {
  /** What was typed; nothing where something was picked. */
  start?: string
  fault: string
  /** What somebody else put there meanwhile, where that is why. */
  theirs?: Value
}

const typedIn = (input: Input) => (typeof input === 'object' && 'text' in input ? input.text : undefined)
const key = (record: number, field: number) => `${record} ${field}`

export interface Change {
  row: Row
  field: Field
  input: Input
  /** Puts it in and reads the screen anew; throws what the server refuses. */
  send: () => Promise<unknown>
  /** What had been done by hand by then. */
  stamp: number
}

/** @param told is called once a change was refused */
export function useSending(told: (change: Change, error: unknown) => void) {
  const underway = ref(new Map<string, string>())
  const refused = ref(new Map<string, Refused>())
  let last: Promise<void> = Promise.resolve()

  async function one(change: Change) {
    const at = key(change.row.id, change.field.id)
    try {
      await change.send()
    } catch (error) {
      refused.value.set(at, { start: typedIn(change.input), fault: saying(error), theirs: theirsOf(error) })
      told(change, error)
    } finally {
      underway.value.delete(at)
    }
  }

  /** Sends a change after those before it. */
  function put(change: Change) {
    const at = key(change.row.id, change.field.id)
    refused.value.delete(at)
    underway.value.set(at, typedIn(change.input) ?? '')
    last = last.then(() => one(change))
  }

  /** Does something once all that is on its way has arrived. */
  function after(work: () => Promise<unknown>) {
    last = last.then(work).then(
      () => undefined,
      () => undefined,
    )
  }

  /** What was typed into a cell and is on its way. */
  const typed = (record: number, field: number) => underway.value.get(key(record, field))

  const refusedAt = (record: number, field: number) => refused.value.get(key(record, field))

  /** What was refused in a cell, to be mended now. */
  function mend(record: number, field: number): Refused | undefined {
    const found = refusedAt(record, field)
    refused.value.delete(key(record, field))
    return found
  }

  return { put, after, typed, refusedAt, mend }
}
