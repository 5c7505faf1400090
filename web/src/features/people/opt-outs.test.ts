import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, put, refusing, settled } from '@/testing'
import OptOuts from './OptOuts.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const of = (part: number) => ({ tracker: 1, part })
const LINES = [
  { address: 'a@out.example', all: true, of: [{ of: of(121), words: '“Thanks” of Path upkeep' }], since: 'since 12 November 2026' },
  { address: 'b@out.example', all: false, of: [{ of: of(121), words: '“Thanks” of Path upkeep' }], since: 'since 13 November 2026' },
]
const DONE = { seq: 7, did: 'lets messages go to a@out.example again' }

async function list(props = {}, answers: Record<string, unknown> = {}) {
  const asked = answering({ 'GET /api/team/opt-outs': LINES, 'POST /api/team/opt-outs': DONE, ...answers })
  const shown = put(OptOuts, { props: { owns: true, readonly: false, ...props } })
  await settled()
  return { shown, asked }
}
const line = (shown: Awaited<ReturnType<typeof list>>['shown'], address: string) => shown.get(`[data-address="${address}"]`)

describe('addresses that want no more messages', () => {
  it('say of each what it declined, and since when', async () => {
    const { shown } = await list()
    expect(shown.get('summary').text()).toContain('no more messages: 2')
    expect(line(shown, 'a@out.example').text()).toContain('wants none at all')
    expect(line(shown, 'a@out.example').text()).toContain('since 12 November 2026')
    expect(line(shown, 'b@out.example').text()).toContain('no more of “Thanks” of Path upkeep')
  })

  it('are looked for, once there are many of them', async () => {
    const { shown } = await list()
    expect(shown.find('[data-test=find-opt-out]').exists()).toBe(false)
    const many = Array.from({ length: 9 }, (_, n) => ({ ...LINES[1]!, address: `walker${n}@out.example` }))
    const { shown: long } = await list({}, { 'GET /api/team/opt-outs': many })
    await long.get('[data-test=find-opt-out]').setValue('WALKER7')
    expect(long.findAll('li').map((one) => one.attributes('data-address'))).toEqual(['walker7@out.example'])
    expect(long.get('[role=status]').text()).toBe('1 of 9')
    await long.get('[data-test=find-opt-out]').setValue('nobody')
    expect(long.text()).toContain('None of them is called so.')
  })

  it('are put right by an owner: all again, or these alone', async () => {
    const { shown, asked } = await list()
    await line(shown, 'a@out.example').get('button').trigger('click')
    await settled()
    expect(asked.at(-1)).toMatchObject({ body: { address: 'a@out.example', to: 'all' } })
    expect(shown.findComponent(OptOuts).emitted('done')?.at(-1)).toEqual([DONE])
    await line(shown, 'b@out.example').get('button').trigger('click')
    await settled()
    expect(asked.at(-1)).toMatchObject({ body: { address: 'b@out.example', to: { these: of(121) } } })
  })

  it('are named by an owner who was told otherwise, and what is wrong with one is said', async () => {
    const { shown, asked } = await list({}, { 'POST /api/team/opt-outs': refusing(422, 'This is not a mail address.') })
    await shown.get('[data-test=note-opt-out]').trigger('click')
    await shown.get('[data-test=opt-out-address]').setValue('somebody@out')
    await shown.get('form').trigger('submit')
    await settled()
    expect(asked.at(-1)).toMatchObject({ body: { address: 'somebody@out', to: { none: { by: null } } } })
    expect(shown.get('[role=alert]').text()).toBe('This is not a mail address.')
    expect(shown.find('form').exists()).toBe(true)
  })

  it('give a steward only what they may say, and whoever stands in nothing', async () => {
    const steward = await list({ owns: false })
    expect(line(steward.shown, 'a@out.example').find('button').exists()).toBe(false)
    expect(line(steward.shown, 'b@out.example').find('button').exists()).toBe(true)
    expect(steward.shown.find('[data-test=note-opt-out]').exists()).toBe(false)
    const standing = await list({ readonly: true })
    expect(standing.shown.find('button').exists()).toBe(false)
    const nobody = await list({ owns: false }, { 'GET /api/team/opt-outs': [] })
    expect(nobody.shown.find('details').exists()).toBe(false)
  })
})
