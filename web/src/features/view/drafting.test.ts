import { describe, expect, it } from 'vitest'
import { field, table } from '@/testing'
import { asksMore } from './drafting'

const name = field({ type: 'text', limit: 80 }, { id: 1, name: 'Name', required: true, writes: true })
const note = field({ type: 'text', limit: 80 }, { id: 2, name: 'Note', writes: true })
const lines = field({ type: 'link', to: 5, back: 51, one: false, holds: false } as never, {
  id: 3,
  name: 'Lines',
  lines: true,
  writes: true,
})

describe('a record that is begun', () => {
  it('waits as a draft where something is asked that was not said', () => {
    expect(asksMore(table([name, note]), {})).toBe(true)
    expect(asksMore(table([name, note]), { 1: { text: 'Bridge' } })).toBe(false)
    expect(asksMore(table([{ ...name, writes: false }, note]), {})).toBe(false)
  })

  it('waits for its lines, but stands at once where it is put on a day, in a lane or in a group', () => {
    expect(asksMore(table([note, lines]), {})).toBe(true)
    expect(asksMore(table([note, lines]), { 2: { text: 'North' } })).toBe(false)
    expect(asksMore(table([note, { ...lines, writes: false }]), {})).toBe(false)
  })
})
