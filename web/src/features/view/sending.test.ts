import { describe, expect, it, vi } from 'vitest'
import type { Field, Input, Row } from '@/api/types'
import { useSending } from './sending'

const row = (id: number) => ({ id }) as Row
const field = { id: 7, name: 'What is wrong' } as Field
const text = (text: string): Input => ({ text })

describe('changes on their way', () => {
  it('arrive in the order in which they were typed, however long each takes', async () => {
    const arrived: string[] = []
    const waits = [20, 5, 0]
    const send = async (one: Row) => {
      await new Promise((done) => setTimeout(done, waits.shift()))
      arrived.push(String(one.id))
    }
    const { put, typed } = useSending(() => {})
    for (const id of [1, 2, 3]) put({ row: row(id), field, input: text(`of ${id}`), send: () => send(row(id)), stamp: 0 })
    expect([typed(1, 7), typed(3, 7)]).toEqual(['of 1', 'of 3'])
    await vi.waitFor(() => expect(arrived).toEqual(['1', '2', '3']))
    expect(typed(3, 7)).toBeUndefined()
  })

  it('wait to be mended, as they were typed, where they are refused; those behind them are sent all the same', async () => {
    const told: string[] = []
    const arrived: number[] = []
    const send = async (one: Row) => {
      if (one.id === 2) throw new Error('not a date')
      arrived.push(one.id)
    }
    const { put, mend, refusedAt } = useSending((of) => told.push(`${of.field.name} of ${of.row.id}, ${of.stamp}`))
    for (const id of [1, 2, 3]) put({ row: row(id), field, input: text('some day'), send: () => send(row(id)), stamp: id + 10 })
    await new Promise((done) => setTimeout(done, 10))
    expect([arrived, told]).toEqual([[1, 3], ['What is wrong of 2, 12']])
    expect(refusedAt(2, 7)).toMatchObject({ start: 'some day', fault: expect.any(String) })
    expect(mend(2, 7)?.start).toBe('some day')
    expect(refusedAt(2, 7)).toBeUndefined()
  })
})
