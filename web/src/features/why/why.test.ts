import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Because, Why } from '@/api/types'
import { answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import BecauseTree from './BecauseTree.vue'
import TraceLines from './TraceLines.vue'
import { askBecause, askWhy, useWhy } from './why'
import WhySlip from './WhySlip.vue'

beforeEach(() => {
  useWhy().close()
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const AT = { tracker: 1, table: 3, record: 5, field: 48 }
const due = field({ type: 'calculation' } as never, { id: 48, name: 'Due', formula: 'Reported on + 14' } as never)
const told = (over: Partial<Why> = {}): Why =>
  ({ field: 'Due', text: '28 Feb 2026', how: 'It is computed.', steps: [], sources: [], set: null, ...over }) as unknown as Why
const slip = () => document.querySelector('[data-test=why]')

async function asked(answers: Record<string, unknown>, builds = true) {
  const log = answering(answers)
  const shown = put(WhySlip, {}, opened({ tables: [table([due])], builds } as never))
  await askWhy(AT, { x: 10, y: 10 })
  await settled()
  return { shown, log }
}

describe('the slip that answers why', () => {
  it('says what stands there, how it came, and who put it in', async () => {
    await asked({ 'GET /api/trackers/1/tables/3/records/5/why/48': told({ text: '', set: 'Bex, 3 Jan 2026' }) })
    expect(slip()!.textContent).toContain('Due')
    expect(slip()!.textContent).toContain('nothing')
    expect(slip()!.textContent).toContain('By Bex, 3 Jan 2026.')
  })

  it('goes on to a cell that went in, and back', async () => {
    const cell = { table: 3, record: 5, field: 49, computed: true, record_name: 'Gate' }
    await asked({
      'GET /api/trackers/1/tables/3/records/5/why/48': told({ sources: [{ name: 'Days allowed', text: '14', cell }] } as never),
      'GET /api/trackers/1/tables/3/records/5/why/49': told({ field: 'Days allowed', text: '14' }),
    })
    expect(slip()!.querySelector('.back')).toBeNull()
    slip()!.querySelector<HTMLButtonElement>('.sources button')!.click()
    await settled()
    expect(slip()!.querySelector('h3')!.textContent).toContain('Days allowed')
    slip()!.querySelector<HTMLButtonElement>('.back')!.click()
    await settled()
    expect(slip()!.querySelector('h3')!.textContent).toContain('Due')
  })

  it('offers to change a formula only to whoever builds', async () => {
    const answers = { 'GET /api/trackers/1/tables/3/records/5/why/48': told() }
    await asked(answers)
    expect(slip()!.querySelector('.change')).not.toBeNull()
    useWhy().close()
    document.body.innerHTML = ''
    await asked(answers, false)
    expect(slip()!.querySelector('.change')).toBeNull()
  })

  it('says in its place what can not be told', async () => {
    await asked({
      'GET /api/trackers/1/tables/3/records/5/why/48': refusing(404, 'There is no such field here, or it is not open to you.'),
    })
    expect(slip()!.querySelector('[role=alert]')!.textContent).toContain('not open to you')
  })

  it('asks of a condition with the condition itself', async () => {
    const because: Because = { holds: false, words: 'status is made good', found: 'reported', parts: [] } as never
    const { log } = await asked({
      'GET /api/trackers/1/tables/3/records/5/why/48': told(),
      'POST /api/trackers/1/tables/3/records/5/because': because,
    })
    await askBecause({ tracker: 1, table: 3, record: 5 }, { all: [] }, { x: 1, y: 1 })
    await settled()
    const sent = changes(log).filter((one) => one.path.endsWith('/because'))
    expect(sent).toEqual([{ method: 'POST', path: '/api/trackers/1/tables/3/records/5/because', body: { condition: { all: [] } } }])
    expect(slip()!.querySelector('h3')!.textContent).toBe('It is left out because')
  })
})

describe('the parts of a condition', () => {
  const part = (holds: boolean, words: string, parts: Because[] = [], found?: string): Because => ({ holds, words, parts, found }) as never

  it('tells of each whether it held, and what stands there where it did not', () => {
    const shown = put(BecauseTree, {
      props: { because: part(false, 'all of', [part(true, 'kind is wall'), part(false, 'hours are over 3', [], '2')]) },
    })
    const signs = shown.findAll('[role=img]').map((one) => one.attributes('aria-label'))
    expect(signs).toEqual(['Does not hold:', 'Holds:', 'Does not hold:'])
    expect(shown.text()).toContain('hours are over 3 (it says 2)')
  })

  it('leaves out what joins a single part', () => {
    const shown = put(BecauseTree, { props: { because: part(true, 'all of', [part(true, 'any of', [part(true, 'kind is wall')])]) } })
    expect(shown.findAll('[role=img]')).toHaveLength(1)
    expect(shown.text()).toContain('kind is wall')
  })
})

describe('how a value came about', () => {
  const steps = (many: number) =>
    Array.from({ length: many }, (_, n) => ({ part: `p${n}`, with_values: `${n} + 1`, result: String(n + 1) }))
  const drawn = (over: object) =>
    put(TraceLines, { props: { formula: 'A + B', withValues: '1 + 2', result: '3', steps: [], sources: [], table: 3, record: 5, ...over } })

  it('shows a few steps at once and many when asked', async () => {
    // The last step is the formula itself.
    expect(drawn({ steps: steps(4) }).findAll('[data-test=steps] li')).toHaveLength(3)
    const shown = drawn({ steps: steps(9) })
    expect(shown.find('[data-test=steps]').exists()).toBe(false)
    await shown.get('.more').trigger('click')
    expect(shown.findAll('[data-test=steps] li')).toHaveLength(8)
    expect(
      drawn({ steps: steps(1) })
        .find('[data-test=steps]')
        .exists(),
    ).toBe(false)
  })

  it('names the record of a value that came from elsewhere, and not of its own', () => {
    const cell = (record: number) => ({ table: 3, record, field: 41, record_name: 'Ford', computed: false })
    const shown = drawn({ sources: [{ name: 'Hours', text: '2', cell: cell(5) }, { name: 'Hours', text: '', cell: cell(9), set: 'by Bex' }] }) // prettier-ignore
    expect(shown.findAll('.sources tr').map((row) => row.text())).toEqual(['Hours2', 'Ford: Hoursnothingby Bex'])
  })
})
