import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { CrossCell, CrossHead, CrossShape, Query } from '@/api/types'
import { answering, field, opened, put, refusing, settled, table } from '@/testing'
import { windowOf } from '../testing'
import CrossTable from './CrossTable.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const option = (id: number, name: string) => ({ id, name, hue: 'slate' as const })
const STATUS = field({ type: 'choice', options: [option(80, 'reported'), option(81, 'checked')] } as never, { id: 47, name: 'Status', within: 'status' }) // prettier-ignore
const TITLE = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'What is wrong', within: 'what is wrong' })
const home = table([TITLE, STATUS])
const head = (text: string, depth: number, count: number, values: unknown[] = []) => ({ text, depth, count, values }) as CrossHead
const cell = (count: number, share = ''): CrossCell => ({
  count,
  text: String(count),
  lead: String(count),
  figures: [{ value: '2', text: '2.0 h' }],
  share,
  within: [count - 1, 1],
})
const CROSSED = {
  rows: [head('All', 0, 5), head('Eskermoor', 1, 5, [{ links: [1] }]), head('Low Marrow', 1, 0, [{ links: [3] }])],
  columns: [head('All months', 0, 5), head('May', 1, 5, [{ date: '2026-05-01' }])],
  cells: [
    [cell(5), cell(5, '100 %')],
    [cell(5, '100 %'), cell(5)],
    [null, null],
  ],
  within: [
    { value: { choice: 80 }, text: 'reported', count: 4, figures: [{ value: '2', text: '2.0 h' }] },
    { value: { choice: 81 }, text: 'checked', count: 1, figures: [] },
  ],
  stroke: 1,
  stroke_says: 'a stroke is a fault',
  most: '5',
  foot: ['5 faults', '3 without hours needed'],
}
const BEHIND = {
  title: 'Eskermoor, May',
  says: '5 faults.',
  along: '',
  down: 'Eskermoor 5',
  counted: '5 faults',
  count: 2,
  fields: [41],
  rows: [
    { id: 8, version: 1, cells: [{ value: { text: 'Gate' }, text: 'Gate' }], change: true, remove: true },
    { id: 9, version: 1, cells: [null], change: true, remove: true },
  ],
  parts: [{ value: { choice: 80 }, text: 'reported', count: 2, counted: '2 faults', tallies: [], within: [] }],
  only: { all: [] },
}
const PATH = '/api/trackers/1/tables/3/cross-tab'
const CROSS = `POST ${PATH}`

async function crossed(answers: Record<string, unknown> = {}, shape: Partial<CrossShape> = {}, told: Record<string, unknown> = {}) {
  const asked = answering({
    [CROSS]: { seq: 1, of: [3], crossed: CROSSED },
    [`${CROSS}/cell`]: { seq: 1, behind: BEHIND },
    ...answers,
  })
  const { window } = windowOf([], { matching: 5, total: 5, ...told })
  const full: CrossShape = { down: [], across: [], within: 47, ...shape }
  const query = { fields: [{ field: 41, width: 100 }], tallies: [{ field: 41, figure: 'sum' }], shape: { as: 'cross-tab', ...full } }
  const props = { tracker: 1, table: home, fields: [TITLE], window, query: query as unknown as Query, shape: full }
  const shown = put(CrossTable, { props, attachTo: document.body }, opened({ tables: [home] } as never))
  await settled()
  const at = (row: number, column: number) => shown.find(`[data-spot="${row} ${column}"]`)
  const behindAsked = () => asked.filter((one) => one.path === `${PATH}/cell`)
  return { shown, at, asked, behindAsked }
}

it('tells its totals first, what stands within, and what has nothing thin', async () => {
  const { shown, at } = await crossed()
  expect(shown.findAll('thead th').map((one) => one.text())).toEqual(['by', 'All months', 'May'])
  expect(at(0, 0).text()).toContain('5')
  expect(at(0, 1).text()).toContain('100 %')
  expect(shown.find('[data-test=legend]').text()).toContain('4 reported, 2.0 h')
  expect(shown.find('[data-test=legend]').text()).toContain('a stroke is a fault')
  expect(shown.findAll('tbody tr').map((row) => row.classes('thin'))).toEqual([false, false, true])
  expect(shown.find('[data-test=cross-foot]').text()).toContain('3 without hours needed')
  expect(at(1, 1).find('svg').findAll('path')).toHaveLength(2)
})

it('says what a cell is, and opens what stands behind it', async () => {
  const { shown, at, behindAsked } = await crossed()
  expect(shown.find('[data-test=behind]').exists()).toBe(false)
  await at(1, 1).trigger('click')
  await vi.waitFor(() => expect(behindAsked().length).toBeGreaterThan(1))
  await settled()
  expect(behindAsked().at(-1)!.body).toMatchObject({ down: [{ links: [1] }], across: [{ date: '2026-05-01' }] })
  expect(shown.find('[data-test=cross-words]').text()).toContain('Eskermoor, May: 5 faults.')
  const behind = shown.find('[data-test=behind]')
  expect(behind.findAll('li b').map((one) => one.text())).toEqual(['Gate', home.one])
  await behind.find('li button').trigger('click')
  expect(shown.emitted('open')).toEqual([[8]])
  await behind.find('[data-test=as-rows]').trigger('click')
  expect(shown.emitted('rows')).toEqual([[{ all: [] }]])
})

it('is walked by keys, opened by Enter and closed by Escape', async () => {
  const { shown, at } = await crossed()
  at(0, 0).element.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true, cancelable: true }))
  await settled()
  expect(at(1, 0).attributes('aria-selected')).toBe('true')
  expect(document.activeElement).toBe(at(1, 0).element)
  // What has nothing is walked over.
  at(1, 0).element.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true, cancelable: true }))
  await settled()
  expect(at(1, 0).attributes('aria-selected')).toBe('true')
  await at(1, 0).trigger('keydown', { key: 'Enter' })
  expect(shown.find('[data-test=behind]').exists()).toBe(true)
  await at(1, 0).trigger('keydown', { key: 'Escape' })
  expect(shown.find('[data-test=behind]').exists()).toBe(false)
})

it('reads its figure first where that leads, and draws a length where nothing is told apart', async () => {
  const plain = { ...CROSSED, within: [], cells: CROSSED.cells.map((row) => row.map((one) => one && { ...one, within: [] })) }
  const { shown, at } = await crossed({ [CROSS]: { seq: 1, of: [3], crossed: plain } }, { leads: 'figure' })
  expect(at(1, 1).find('b').text()).toBe('2.0 h')
  expect(at(1, 1).find('.length').attributes('style')).toContain('100%')
  expect(shown.find('[data-test=legend]').exists()).toBe(false)
})

it('is read anew when it is asked for otherwise', async () => {
  const { shown, asked } = await crossed()
  const times = () => asked.filter((one) => one.path === PATH).length
  const before = times()
  await shown.setProps({ query: { fields: [], shape: { as: 'cross-tab', down: [] } } as Query })
  await settled()
  expect(times()).toBe(before + 1)
  expect(shown.find('table').exists()).toBe(true)
})

it('says why it can’t be drawn, and what nothing fits', async () => {
  const refused = await crossed({ [CROSS]: refusing(422, 'There would be 900 values down, and at most 400 are shown.') })
  expect(refused.shown.find('[data-test=cross-trouble]').text()).toContain('900 values')
  refused.shown.unmount()
  const nothing = await crossed({}, {}, { matching: 0 })
  expect(nothing.shown.find('table').exists()).toBe(false)
})

it('is copied as lines of cells', async () => {
  const { shown, at } = await crossed()
  let kept = ''
  const event = new Event('copy', { bubbles: true, cancelable: true })
  Object.assign(event, { clipboardData: { setData: (_: string, text: string) => (kept = text) } })
  at(0, 0).element.dispatchEvent(event)
  await settled()
  expect(kept.split('\n')[0]).toBe('\tAll months\tMay')
  expect(shown.find('[data-test=cross-foot] [role=status]').text()).toBe('Copied: 3 rows of 2 columns.')
})
