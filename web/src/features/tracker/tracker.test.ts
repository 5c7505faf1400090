import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'
import { within } from '@/testing'
import { makeTracker, touches, touchesRecord, useChanges, useTracker, type Heard } from './tracker'

const api = vi.hoisted(() => ({ answers: [] as unknown[] }))
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { GET: vi.fn(() => Promise.resolve({ data: api.answers.shift() ?? { id: 1, tables: [] }, response: new Response() })) },
}))

/** The stream of events, told by hand. */
class Stream extends EventTarget {
  static last: Stream
  close = vi.fn()
  constructor() {
    super()
    Stream.last = this
  }
  tell(event: string, data: unknown = {}) {
    this.dispatchEvent(new MessageEvent(event, { data: JSON.stringify(data) }))
  }
}

const heard = (records: Record<number, number[]>, more: number[] = []): Heard => ({
  seq: 2,
  records,
  more,
  structure: false,
  access: false,
})
const settled = () => new Promise((done) => setTimeout(done))

describe('what is touched', () => {
  it('is a table of which any record is named', () => {
    expect(touches([2, 3])(heard({ 3: [7] }))).toBe(true)
    expect(touches([2, 3])(heard({ 4: [7] }))).toBe(false)
  })
  it('may be anything as long as nobody knows what is shown', () => {
    expect(touches(undefined)(heard({ 4: [7] }))).toBe(true)
  })
  it('is a record that is named, or one of a table of which too many were touched to name them', () => {
    expect(touchesRecord(heard({ 3: [7] }), 3, 7)).toBe(true)
    expect(touchesRecord(heard({ 3: [7] }), 3, 8)).toBe(false)
    expect(touchesRecord(heard({ 3: [7] }, [3]), 3, 8)).toBe(true)
    expect(touchesRecord(heard({ 2: [7] }), 3, 7)).toBe(false)
  })
})

describe('a page that listens', () => {
  const reads = { faults: vi.fn(), districts: vi.fn() }
  const scope = effectScope()
  const context = makeTracker()
  beforeEach(async () => {
    vi.stubGlobal('EventSource', Stream)
    vi.clearAllMocks()
    await context.open(1)
    within(context, () =>
      scope.run(() => {
        useChanges(reads.faults, touches([3]))
        useChanges(reads.districts, touches([1]))
      }),
    )
  })
  afterEach(() => context.leave())

  it('reads again only where what it shows was touched', () => {
    Stream.last.tell('heard', heard({ 3: [1] }))
    expect([reads.faults, reads.districts].map((read) => read.mock.calls.length)).toEqual([1, 0])
  })

  it.each([
    ['heard', { ...heard({}), structure: true }],
    ['heard', { ...heard({}), access: true }],
    ['anew', {}],
  ])('reads everything again, and the structure first, at %s %j', async (event, data) => {
    api.answers = [{ id: 1, tables: [{ id: 9 }] }]
    Stream.last.tell(event, data)
    expect(reads.faults).not.toHaveBeenCalled()
    await settled()
    expect(context.tracker.value?.tables).toEqual([{ id: 9 }])
    expect([reads.faults, reads.districts].every((read) => read.mock.calls.length > 0)).toBe(true)
  })

  it('is emptied when the tracker is closed to it', () => {
    Stream.last.tell('closed')
    expect(context.closed.value).toBe(true)
    expect(context.tracker.value).toBeUndefined()
    expect(Stream.last.close).toHaveBeenCalled()
  })

  it('hears nothing any more once it is left', () => {
    scope.stop()
    Stream.last.tell('heard', heard({ 3: [1] }))
    expect(reads.faults).not.toHaveBeenCalled()
  })
})

it('names what is missing where no tracker is given', () => {
  expect(() => useTracker()).toThrow('App, or what stands for it in a test, provides one')
})
