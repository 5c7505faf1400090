import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import type { AlmanacShape, Field, Query, Row } from '@/api/types'
import { answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import type { Shown } from '../window'
import AlmanacBoard from './AlmanacBoard.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.useFakeTimers({ now: Date.parse('2026-11-26T10:00:00Z'), toFake: ['Date'] })
})
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

const WHAT = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'What', within: 'what' })
const PLANNED = field({ type: 'date' } as never, { id: 222, name: 'Planned for', within: 'planned for' })
const WHEN = field({ type: 'range' } as never, { id: 223, name: 'When', within: 'when' })
const DUE = field({ type: 'date' } as never, { id: 49, name: 'Due', within: 'due', writes: false, refusal: '“Due” is computed.' } as never)

const row = (id: number, text: string, over: Partial<Row> = {}): Row =>
  ({ id, version: 1, cells: [{ value: { text }, text }, null], change: true, remove: true, ...over }) as Row

async function drawn(start: Field, mark: { start: string; end: string } | undefined, answers: Record<string, unknown> = {}) {
  const home = table([WHAT, start])
  const marks = mark ? [{ record: 7, date: 0, ...mark }] : []
  const days = {
    seq: 1,
    days: marks.map((one) => ({ day: one.start, count: 1 })),
    weeks: [{ start: '2026-11-23', number: 48, count: 1, counted: '1 fault', tallies: [], over: '7 h too many' }],
    marks,
    rows: marks.length ? [row(7, 'Mesh, Otter Bridge')] : [],
    without: 1,
    without_counted: '1 fault',
    waiting: [row(8, 'Beam cracked')],
    today: '2026-11-26',
  }
  const asked = answering({
    'POST /api/trackers/1/tables/3/days': days,
    'PATCH /api/trackers/1/tables/3/records/7': { seq: 2, did: 'changed it' },
    'PATCH /api/trackers/1/tables/3/records/8': { seq: 2, did: 'changed it' },
    ...answers,
  })
  const shape: AlmanacShape = { dates: [{ start: start.id }] }
  const query = { fields: [], shape: { as: 'calendar', ...shape } } as unknown as Query
  const window = { answer: ref({ of: [3] }) } as unknown as Shown
  const props = { tracker: 1, table: home, fields: [WHAT, start], window, query, shape, readonly: false }
  const shown = put(AlmanacBoard, { props }, opened({ tables: [home] } as never))
  await settled()
  const put_ = () => changes(asked).filter((one) => one.method === 'PATCH')
  const carry = async (from: string, to: string) => {
    await shown.get(from).trigger('dragstart')
    await shown.get(to).trigger('dragover')
    await shown.get(to).trigger('drop')
    await settled()
  }
  return { shown, asked, put: put_, carry }
}

describe('an almanac', () => {
  it('draws six weeks from the last one on, weighs each, and says what has no day', async () => {
    const { shown } = await drawn(PLANNED, { start: '2026-11-26', end: '2026-11-26' })
    expect(shown.findAll('.week')).toHaveLength(6)
    expect(shown.get('[data-record="7"]').text()).toBe('Mesh, Otter Bridge')
    expect(shown.text()).toContain('7 h too many')
    expect(shown.get('[data-test=without]').text()).toContain('1 fault without planned for')
  })

  it('puts what is carried onto a day there, also what had none', async () => {
    const { carry, put } = await drawn(PLANNED, { start: '2026-11-26', end: '2026-11-26' })
    await carry('[data-record="7"]', '[data-day="2026-12-02"]')
    await carry('.waits', '[data-day="2026-12-03"]')
    expect(put().map((one) => [one.path.at(-1), one.body])).toEqual([
      ['7', { edits: [{ field: 222, input: { value: { date: '2026-12-02' } }, was: 'empty' }] }],
      ['8', { edits: [{ field: 222, input: { value: { date: '2026-12-03' } }, was: 'empty' }] }],
    ])
  })

  it('keeps the length of a span, and moves one end alone by its foot', async () => {
    const { carry, put, shown } = await drawn(WHEN, { start: '2026-11-27', end: '2026-11-29' })
    await carry('[data-record="7"]', '[data-day="2026-12-02"]')
    await carry('.foot.end', '[data-day="2026-12-05"]')
    const ranges = put().map((one) => (one.body as { edits: { input: { value: object } }[] }).edits[0]!.input.value)
    expect(ranges).toEqual([{ range: ['2026-12-02', '2026-12-04'] }, { range: ['2026-11-27', '2026-12-05'] }])
    expect(shown.emitted('trouble')?.at(-1)).toEqual([''])
  })

  it('goes a day on by keys, and says why where it can’t', async () => {
    const { shown, put } = await drawn(PLANNED, { start: '2026-11-26', end: '2026-11-26' })
    await shown.get('[data-mark]').trigger('keydown', { key: 'ArrowRight', altKey: true, shiftKey: true })
    await settled()
    expect(put()[0]!.body).toMatchObject({ edits: [{ input: { value: { date: '2026-11-27' } } }] })
    const computed = await drawn(DUE, { start: '2026-11-26', end: '2026-11-26' })
    await computed.shown.get('[data-mark]').trigger('keydown', { key: 'ArrowRight', altKey: true, shiftKey: true })
    await settled()
    expect(computed.put()).toEqual([])
    expect(computed.shown.emitted('trouble')!.at(-1)).toEqual(['“Due” is computed.'])
    expect(computed.shown.find('[data-add="2026-11-26"]').exists()).toBe(false)
  })

  it('tells what the server refuses, and begins a record on a day', async () => {
    const refused = { 'PATCH /api/trackers/1/tables/3/records/7': refusing(422, 'The party ends before it begins.') }
    const { carry, shown } = await drawn(PLANNED, { start: '2026-11-26', end: '2026-11-26' }, refused)
    await carry('[data-record="7"]', '[data-day="2026-12-02"]')
    expect(shown.emitted('trouble')!.at(-1)).toEqual(['The party ends before it begins.'])
    await shown.get('[data-add="2026-12-01"]').trigger('click')
    expect(shown.emitted('begin')).toEqual([[{ 222: { value: { date: '2026-12-01' } } }]])
  })

  it('opens a busy day in place, and a year in twelve lines', async () => {
    const { shown } = await drawn(PLANNED, { start: '2026-11-26', end: '2026-11-26' })
    await shown.get('[data-day="2026-11-26"] .number').trigger('click')
    await settled()
    expect(shown.get('[data-test=open-day] li').text()).toContain('Mesh, Otter Bridge')
    await shown.get('[data-scale=year]').trigger('click')
    await settled()
    expect(shown.findAll('.year section')).toHaveLength(12)
  })
})
