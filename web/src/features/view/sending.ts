// Changes of cells on their way to the server: sent one after the other, while whoever types goes on. What is refused stays
// with its cell, as it was typed, until it is mended or left.
import { ref } from 'vue'
import { saying } from '@/api/client'
import type { Field, Input, Row } from '@/api/types'

export interface Refused {
  /** What was typed; nothing where something was picked. */
  start?: string
  fault: string
}

const typedIn = (input: Input) => (typeof input === 'object' && 'text' in input ? input.text : undefined)
const key = (record: number, field: number) => `${record} ${field}`

/**
 * @param send puts a value into a cell and reads the screen anew; throws what the server refuses
 * @param told is called once a change was refused, with the stamp that was given with it
 */
export function useSending(send: (row: Row, field: Field, input: Input) => Promise<unknown>, told: (row: Row, field: Field, error: unknown, stamp: number) => void) {
  const underway = ref(new Map<string, string>())
  const refused = ref(new Map<string, Refused>())
  let last: Promise<void> = Promise.resolve()

  async function one(row: Row, field: Field, input: Input, stamp: number) {
    try {
      await send(row, field, input)
    } catch (error) {
      refused.value.set(key(row.id, field.id), { start: typedIn(input), fault: saying(error) })
      told(row, field, error, stamp)
    } finally {
      underway.value.delete(key(row.id, field.id))
    }
  }

  /** Sends a change after those before it. */
  function put(row: Row, field: Field, input: Input, stamp = 0) {
    refused.value.delete(key(row.id, field.id))
    underway.value.set(key(row.id, field.id), typedIn(input) ?? '')
    last = last.then(() => one(row, field, input, stamp))
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

  return { put, typed, refusedAt, mend }
}
