import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, type EffectScope } from 'vue'
import { Problem } from '@/api/client'
import type { FormView } from '@/api/types'
import { useAnswers } from './answers'

const server = vi.hoisted(() => ({ send: vi.fn(), look: vi.fn(), count: vi.fn() }))
vi.mock('@/api/client', async (original) => ({ ...(await original<typeof import('@/api/client')>()), send: server.send }))

const form = (...fields: number[]) =>
  ({
    title: 'Report a fault',
    questions: fields.map((field) => ({
      field,
      label: `Question ${field}`,
      answer: { type: 'text', limit: 100 },
      required: false,
      decides: field === 1,
    })),
  }) as unknown as FormView

let scope: EffectScope
const opened = (view = form(1, 2)) => {
  scope = effectScope()
  return scope.run(() => useAnswers('report', view))!
}
const keyOf = (call: number) => server.send.mock.calls[call]![2] as string

beforeEach(() => {
  vi.useFakeTimers()
  vi.clearAllMocks()
  localStorage.clear()
  vi.stubGlobal('fetch', server.look)
  Object.assign(navigator, { sendBeacon: server.count })
  server.look.mockResolvedValue(new Response(JSON.stringify(form(1, 2, 3))))
  server.send.mockResolvedValue({ confirmation: 'Thank you', copied: false, follow: null })
})
afterEach(() => {
  scope.stop()
  vi.useRealTimers()
})

describe('while one answers', () => {
  it('the server is asked what else is asked, once, when somebody has paused', async () => {
    const { answers, form: shown } = opened()
    answers[1]!.text = 'a'
    await vi.advanceTimersByTimeAsync(100)
    answers[1]!.text = 'ab'
    await vi.advanceTimersByTimeAsync(250)
    expect(server.look).toHaveBeenCalledTimes(1)
    expect(shown.value.questions.map((q) => q.field)).toEqual([1, 2, 3])
    answers[2]!.text = 'decides nothing'
    await vi.advanceTimersByTimeAsync(500)
    expect(server.look).toHaveBeenCalledTimes(1)
  })

  it('what was typed, and the key, are there again after a reload', async () => {
    opened().answers[2]!.text = 'Slab gone'
    await nextTick()
    scope.stop()
    const again = opened()
    expect(again.answers[2]!.text).toBe('Slab gone')
    void again.submit('')
    await vi.advanceTimersByTimeAsync(2_000)
    scope.stop()
    expect(localStorage.getItem('westerfall form report')).toBeNull()
  })

  it('a lost line is said, and keeps what is there', async () => {
    server.look.mockRejectedValue(new TypeError('no line'))
    const { answers, offline, form: shown } = opened()
    answers[1]!.text = 'a'
    await vi.advanceTimersByTimeAsync(300)
    expect([offline.value, shown.value.questions.length, answers[1]!.text]).toEqual([true, 2, 'a'])
    server.look.mockResolvedValue(new Response(JSON.stringify(form(1, 2))))
    dispatchEvent(new Event('online'))
    await vi.advanceTimersByTimeAsync(10)
    expect(offline.value).toBe(false)
  })
})

describe('when it is sent', () => {
  it('nobody is faster than the server believes', async () => {
    const { submit } = opened()
    void submit('')
    await vi.advanceTimersByTimeAsync(1_000)
    expect(server.send).not.toHaveBeenCalled()
    await vi.advanceTimersByTimeAsync(1_000)
    expect(server.send).toHaveBeenCalledTimes(1)
    expect(Number((server.send.mock.calls[0]![1] as FormData).get('took'))).toBeGreaterThanOrEqual(1_500)
  })

  it('a double press sends once', async () => {
    const { submit, state } = opened()
    void submit('')
    void submit('')
    await vi.advanceTimersByTimeAsync(2_000)
    expect([server.send.mock.calls.length, state.value]).toEqual([1, 'sent'])
  })

  it('sent again after a refusal it is the same answer; another answer has another key', async () => {
    server.send.mockRejectedValueOnce(
      new Problem('Nothing was sent yet: one answer needs another look.', 422, [
        { pointer: '/answers/2', message: 'Please answer this.' } as never,
      ]),
    )
    const { submit, again, faults, trouble, state } = opened()
    void submit('')
    await vi.advanceTimersByTimeAsync(2_000)
    expect(faults.value).toEqual({ '/answers/2': 'Please answer this.' })
    expect([trouble.value, state.value]).toEqual(['Nothing was sent yet: one answer needs another look.', 'open'])
    void submit('')
    await vi.advanceTimersByTimeAsync(2_000)
    again()
    void submit('')
    await vi.advanceTimersByTimeAsync(2_000)
    expect(keyOf(1)).toBe(keyOf(0))
    expect(keyOf(2)).not.toBe(keyOf(0))
  })

  it('what is wrong with something that nobody is asked is told by its own sentence', async () => {
    const faults = [{ pointer: '/answers/77', message: 'The link says nothing of a section.' } as never]
    server.send.mockRejectedValueOnce(new Problem('Nothing was sent yet: one answer needs another look.', 422, faults))
    const { submit, trouble } = opened()
    void submit('')
    await vi.advanceTimersByTimeAsync(2_000)
    expect(trouble.value).toBe('The link says nothing of a section.')
  })

  it('a fault of nothing that is asked is told as a whole', async () => {
    server.send.mockRejectedValueOnce(new Problem('This form is closed.', 410, [{ pointer: '', message: 'This form is closed.' } as never]))
    const { submit, trouble } = opened()
    void submit('')
    await vi.advanceTimersByTimeAsync(2_000)
    expect(trouble.value).toBe('This form is closed.')
  })
})

it('counts that it was opened, and where it was left, without a word of what was typed', async () => {
  const { visit, answers } = opened()
  answers[2]!.text = 'secret'
  visit({ field: 2 } as never)
  Object.defineProperty(document, 'visibilityState', { value: 'hidden', configurable: true })
  document.dispatchEvent(new Event('visibilitychange'))
  document.dispatchEvent(new Event('visibilitychange'))
  Object.defineProperty(document, 'visibilityState', { value: 'visible', configurable: true })
  const told = await Promise.all(server.count.mock.calls.map(([, blob]) => (blob as Blob).text()))
  expect(told).toEqual(['"opened"', '{"left":2}'])
})
