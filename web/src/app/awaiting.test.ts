import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, opened, within } from '@/testing'
import { useAwaiting } from './awaiting'

beforeEach(() => vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval', 'setTimeout', 'clearTimeout'] }))
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

/** Something that takes until it is ended. */
function long() {
  let end: (answer: string) => void = () => undefined
  const names: string[] = []
  const sends = (name: string) => {
    names.push(name)
    return new Promise<string>((done) => (end = done))
  }
  return { names, sends, end: (answer: string) => end(answer) }
}

describe('what takes a while', () => {
  it('is asked by its name how far it has come, for as long as it takes', async () => {
    const { names, sends, end } = long()
    const { far, awaiting } = within(opened(), useAwaiting)
    const answer = awaiting(sends)
    const asked = answering({ [`GET /api/awaited/${names[0]}`]: { done: 20, of: 500 } })
    expect(far.value).toBeUndefined()
    await vi.advanceTimersByTimeAsync(900)
    expect(far.value).toEqual({ done: 20, of: 500 })
    expect(asked.length).toBe(2)
    end('there')
    expect(await answer).toBe('there')
    expect(far.value).toBeUndefined()
    await vi.advanceTimersByTimeAsync(2000)
    expect(asked.length).toBe(2)
  })

  it('is stopped by its name, and what was overtaken is asked about no more', async () => {
    const [first, second] = [long(), long()]
    const { awaiting, stop } = within(opened(), useAwaiting)
    const asked = answering({})
    await stop()
    expect(asked).toEqual([])
    void awaiting(first.sends)
    const newer = awaiting(second.sends)
    expect(first.names[0]).not.toBe(second.names[0])
    first.end('old')
    await vi.advanceTimersByTimeAsync(500)
    expect(asked.map((one) => one.path)).toEqual([`/api/awaited/${second.names[0]}`])
    await stop()
    expect(asked.at(-1)).toMatchObject({ method: 'DELETE', path: `/api/awaited/${second.names[0]}` })
    second.end('new')
    expect(await newer).toBe('new')
  })
})
