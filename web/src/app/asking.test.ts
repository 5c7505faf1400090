import { describe, expect, it, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { Problem } from '@/api/client'
import { opened, put, settled } from '@/testing'
import type { Heard, TrackerContext } from '@/features/tracker/tracker'
import { useAsked, useDoing } from './asking'

const heard = (records: Record<number, number[]>): Heard => ({ seq: 2, records, more: [], structure: false, access: false })

/** A page that shows what it was told, and what it does. */
function page(ask: () => Promise<string>, touched?: (heard: Heard, now: string | undefined) => boolean) {
  const tracker = opened()
  const listeners: ((heard: Heard) => void)[] = []
  tracker.listen = ((listener: Parameters<TrackerContext['listen']>[0]) => {
    listeners.push((what) => listener.touched(what) && listener.read())
    return () => undefined
  }) as TrackerContext['listen']
  const key = ref(1)
  let asked!: ReturnType<typeof useAsked<string>>
  const shown = put(
    defineComponent(() => {
      asked = useAsked(() => ['thing', key.value], ask, touched)
      return () => h('p', [asked.waiting.value ? 'waiting' : '', asked.told.value ?? '', asked.trouble.value].join('|'))
    }),
    {},
    tracker,
  )
  return { shown, key, tell: (what: Heard) => listeners.forEach((listen) => listen(what)), asked: () => asked }
}

describe('what a page asks', () => {
  it('is waited for, told, and asked again under another key', async () => {
    const ask = vi.fn().mockResolvedValueOnce('one').mockResolvedValueOnce('two')
    const { shown, key } = page(ask)
    expect(shown.text()).toBe('waiting||')
    await settled()
    expect(shown.text()).toBe('|one|')
    key.value = 2
    await settled()
    expect(shown.text()).toBe('|two|')
  })

  it('is asked again where a change touches it, and only there', async () => {
    const ask = vi.fn(async () => 'one')
    const { tell } = page(ask, (what, now) => now === 'one' && 3 in what.records)
    await settled()
    tell(heard({ 4: [1] }))
    await settled()
    expect(ask).toHaveBeenCalledTimes(1)
    tell(heard({ 3: [1] }))
    await settled()
    expect(ask).toHaveBeenCalledTimes(2)
  })

  it('stands while it is asked again, and beside what went wrong', async () => {
    const ask = vi.fn().mockResolvedValueOnce('one').mockRejectedValueOnce(new Problem('What holds the data does not answer.', 503))
    const { shown, asked } = page(ask)
    await settled()
    await asked().again()
    await settled()
    expect(shown.text()).toBe('|one|What holds the data does not answer.')
  })

  it.each([401, 403, 404])('does not stay once it may not be seen any more (%i)', async (status) => {
    const ask = vi.fn().mockResolvedValueOnce('secret').mockRejectedValueOnce(new Problem('It is not open to you.', status))
    const { shown, asked } = page(ask)
    await settled()
    expect(shown.text()).toContain('secret')
    await asked().again()
    await settled()
    expect(shown.text()).toBe('||It is not open to you.')
  })

  it('is kept for nobody else once nobody shows it', async () => {
    const { shown } = page(vi.fn(async () => 'secret'))
    await settled()
    shown.unmount()
    await settled()
    const other = page(vi.fn(() => new Promise<string>(() => undefined)))
    expect(other.shown.text()).toBe('waiting||')
  })
})

describe('what a page does', () => {
  it('is busy while it does it, and keeps what went wrong with the last', async () => {
    const { trouble, busy, attempt } = useDoing()
    let end!: (value: string) => void
    const first = attempt(() => new Promise<string>((done) => (end = done)))
    expect(busy.value).toBe(true)
    end('done')
    expect(await first).toBe('done')
    expect(busy.value).toBe(false)
    expect(await attempt(() => Promise.reject(new Problem('Give it a name.', 422)))).toBeUndefined()
    expect(trouble.value).toBe('Give it a name.')
    await attempt(async () => 'again')
    expect(trouble.value).toBe('')
  })

  it('drops an answer that a newer question has overtaken, and its fault too', async () => {
    const { trouble, busy, newest, overtake } = useDoing()
    const ends: { done: (value: string) => void; fail: (error: Error) => void }[] = []
    const ask = () => newest(() => new Promise<string>((done, fail) => ends.push({ done, fail })))
    const [first, second] = [ask(), ask()]
    ends[1]!.done('second')
    expect(await second).toBe('second')
    ends[0]!.fail(new Problem('Too late.', 422))
    expect(await first).toBeUndefined()
    expect([trouble.value, busy.value]).toEqual(['', false])
    // What was wrong stays to be read while one goes on typing.
    const third = ask()
    ends[2]!.fail(new Problem('There is no field “Lenght”.', 422))
    await third
    const fourth = ask()
    expect(trouble.value).toBe('There is no field “Lenght”.')
    overtake()
    ends[3]!.done('nobody looks any more')
    expect(await fourth).toBeUndefined()
  })
})
