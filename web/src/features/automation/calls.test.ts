import { beforeEach, describe, expect, it, vi } from 'vitest'
import { Problem } from '@/api/client'
import type { Call, Step } from '@/api/types'
import { answering, choose, field, offered, opened, put, settled, table } from '@/testing'
import { freshSecret } from './calling'
import StepEditor from './StepEditor.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const faults = table([
  field({ type: 'text', limit: 99 }, { id: 41, name: 'Title', within: 'title' }),
  field({ type: 'number', decimals: 1, unit: 'h' }, { id: 50, name: 'Hours needed', within: 'hours needed' }),
  field({ type: 'files' } as never, { id: 54, name: 'Pictures', within: 'pictures' }),
])
const CALL: Call = { method: 'post', address: 'https://rates.example/', seconds: 20 }

async function editor(calls: Partial<Call> = {}, problem?: Problem) {
  answering({})
  const step = { call: { calls: { ...CALL, ...calls }, steps: ['stop'], otherwise: [] } } as Step
  const props = { step, at: '/steps/0', table: faults, own: faults, problem, readonly: false }
  const shown = put(StepEditor, { props }, opened({ tables: [faults], forms: [] } as never))
  await settled()
  return shown
}
type Shown = Awaited<ReturnType<typeof editor>>
async function kept(shown: Shown) {
  await shown.get('[data-test=keep-call]').trigger('click')
  return (shown.emitted('keep')?.at(-1)?.[0] as { call: { calls: Call; steps: Step[] } } | undefined)?.call
}

describe('a step that calls a web address', () => {
  it('sends values of the record under names of their own, and keeps what is done after it', async () => {
    const shown = await editor()
    await shown.get('[data-test=call-address] input').setValue('https://rates.example/of/{Title}')
    await choose(shown, '[data-test=call-send]', 'Hours needed')
    const call = await kept(shown)
    expect(call?.steps).toEqual(['stop'])
    expect(call?.calls).toEqual({
      ...CALL,
      address: 'https://rates.example/of/{Title}',
      headers: [],
      sends: [{ name: 'hours_needed', value: '{Hours needed}' }],
      takes: [],
    })
    await shown.get('[data-test=call-name]').setValue('hours')
    await shown.get('[data-test=call-value]').setValue('about {Hours needed}')
    expect((await kept(shown))?.calls.sends).toEqual([{ name: 'hours', value: 'about {Hours needed}' }])
    await shown.get('[data-sends="0"] .link').trigger('click')
    expect((await kept(shown))?.calls.sends).toEqual([])
  })

  it('puts what it is answered only into what people fill in', async () => {
    const shown = await editor({ takes: [{ path: 'price', field: 50 }] })
    expect(offered(shown, '[data-test=call-into]')).toEqual(['Title', 'Hours needed'])
    await shown.get('[data-test=call-path]').setValue('quote.price')
    await shown.get('[data-test=call-take]').trigger('click')
    await choose(shown, '[data-takes="1"] [data-test=call-into]', 'Hours needed')
    expect((await kept(shown))?.calls.takes).toEqual([
      { path: 'quote.price', field: 50 },
      { path: '', field: 50 },
    ])
  })

  it('is signed with a secret that nobody had before, told so that the other side can check it', async () => {
    const shown = await editor()
    expect(shown.find('[data-test=call-secret]').exists()).toBe(false)
    await shown.get('[data-test=call-signed]').setValue(true)
    const first = shown.get('[data-test=call-secret]').text()
    expect(first).toMatch(/^[0-9a-f]{64}$/)
    expect((await kept(shown))?.calls.secret).toBe(first)
    await shown
      .findAll('button')
      .find((one) => one.text() === 'another secret')!
      .trigger('click')
    expect(shown.get('[data-test=call-secret]').text()).not.toBe(first)
    await shown.get('[data-test=call-signed]').setValue(false)
    expect((await kept(shown))?.calls.secret).toBe('')
    expect(freshSecret()).not.toBe(freshSecret())
  })

  it('says what is wrong where it was typed, with what is seldom said in sight then', async () => {
    const fault = (pointer: string, message: string) => ({ pointer: `/steps/0/call/calls${pointer}`, message, kind: 'bad_rule' }) as never
    const faults = [
      fault('/address', 'Write the address whole.'),
      fault('/sends/0/name', 'Give it a name.'),
      fault('/takes/0/path', 'Say where.'),
      fault('/headers/0', 'A header is one line.'),
    ]
    const shown = await editor(
      { headers: [{ name: 'X', value: 'a' }], sends: [{ name: '', value: 'x' }], takes: [{ path: '', field: 41 }] },
      new Problem('Something is wrong.', 422, faults),
    )
    for (const [where, said] of [
      ['[data-test=call-address]', 'Write the address whole.'],
      ['[data-sends="0"]', 'Give it a name.'],
      ['[data-takes="0"]', 'Say where.'],
      ['[data-header="0"]', 'A header is one line.'],
    ] as const)
      expect(shown.get(where).text()).toContain(said)
    expect(shown.get('details').attributes('open')).toBeDefined()
    await shown.get('[data-test=call-header]').trigger('click')
    await shown.get('[data-test=call-seconds]').setValue('45')
    const calls = (await kept(shown))?.calls
    expect([calls?.headers?.length, calls?.seconds]).toEqual([2, 45])
  })
})
