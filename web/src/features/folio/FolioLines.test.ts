import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { DraftLinesReply } from '@/api/types'
import CellEditor from '@/features/cell/CellEditor.vue'
import { answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import FolioLines from './FolioLines.vue'
import { linesOfDraft, linesOfRecord } from './linesKept'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const link = field({ type: 'link', to: 5, back: 51, one: false, holds: false } as never, { id: 45, name: 'Material lines', lines: true })
const back = field({ type: 'link', to: 3, back: 45, one: true, holds: true } as never, { id: 51, name: 'Order' })
const what = field({ type: 'text', limit: 80 }, { id: 52, name: 'What' })
const cost = field({ type: 'money', currency: 'GBP' }, { id: 53, name: 'Cost' })
const lines = table([back, what, cost], { id: 5, name: 'Material lines', one: 'material line', many: 'material lines', standing: 52 })
const RECORDS = '/api/trackers/1/tables/5/records'

const line = (id: number, text: string, over: object = {}) => ({
  id,
  change: true,
  remove: true,
  cells: [
    { value: { text }, text, links: [] },
    { value: { number: '4' }, text: '£4.00', links: [] },
  ],
  ...over,
})
const told = (...rows: object[]) => ({
  of: [5],
  matching: rows.length,
  slices: [{ start: 0, rows }],
  tallies: [{ field: 53, text: '£8.00' }],
  groups: [],
})

async function drawn(answers: Record<string, unknown>, change = true) {
  const asked = answering({ 'POST /api/trackers/1/tables/5/query': told(line(1, 'Planks'), line(2, 'Screws')), ...answers })
  const kept = linesOfRecord({ tracker: 1, table: 3, record: 7 }, link, lines)
  const props = { kept, field: link, lines, change }
  const shown = put(FolioLines, { props }, opened({ tables: [lines] } as never))
  await settled()
  const done = () => changes(asked).filter((one) => !one.path.endsWith('/query'))
  return { shown, asked, done }
}

describe('the lines of a record', () => {
  it('are those of this record, without the link back, with what they come to', async () => {
    const { shown, asked } = await drawn({})
    expect(asked[0]!.body).toMatchObject({
      query: { condition: { test: { path: [51], check: { is: 'record', any: [7] } } }, tallies: [{ field: 53, figure: 'sum' }] },
    })
    expect(shown.findAll('th').map((one) => one.text())).toEqual(['Line', 'What', 'Cost', ''])
    expect(shown.get('tfoot').text()).toBe('In all£8.00')
    expect(shown.findAll('tbody .nth').map((one) => one.text())).toEqual(['1', '2'])
  })

  it('say that there are none, and come to nothing then', async () => {
    const { shown } = await drawn({ 'POST /api/trackers/1/tables/5/query': told() })
    expect(shown.findAll('tbody').map((one) => one.text())).toEqual(['', 'No material lines yet.'])
    expect(shown.find('tfoot').exists()).toBe(false)
  })

  it('begin in their first field when one is added, linked to this record', async () => {
    const begun = told(line(1, 'Planks'), line(9, '', { begun: true }))
    const { shown, done } = await drawn({
      'POST /api/trackers/1/tables/5/query': begun,
      [`POST ${RECORDS}`]: { seq: 3, did: 'added the material line', added: [9] },
    })
    await shown.get('[data-test=add-line]').trigger('click')
    await settled()
    expect(done()[0]!.body).toEqual({ records: [{ '51': { value: { links: [7] } } }], begun: true })
    expect(shown.findAll('tbody tr')[1]!.findComponent(CellEditor).exists()).toBe(true)
  })

  it('are sent with what stood there, and the record hears of it', async () => {
    const { shown, done } = await drawn({ [`PATCH ${RECORDS}/2`]: { seq: 3, did: 'changed What' } })
    await shown.findAll('[data-cell=What]')[1]!.trigger('click')
    shown.getComponent(CellEditor).vm.$emit('commit', { text: 'Nails' }, 'stay')
    await settled()
    expect(done()[0]!.body).toEqual({ edits: [{ field: 52, input: { text: 'Nails' }, was: { text: 'Screws' } }] })
    expect(shown.emitted('changed')).toHaveLength(1)
    expect(shown.findComponent(CellEditor).exists()).toBe(false)
  })

  it('stay open where they were refused, and say why there', async () => {
    const { shown } = await drawn({ [`PATCH ${RECORDS}/1`]: refusing(422, '“What” is filled in always.') })
    await shown.get('[data-cell=What]').trigger('click')
    shown.getComponent(CellEditor).vm.$emit('commit', { text: '' }, 'stay')
    await settled()
    expect(shown.getComponent(CellEditor).props('fault')).toBe('“What” is filled in always.')
    expect(shown.emitted('changed')).toBeUndefined()
  })

  it('are taken out one by one; a refusal is told beneath', async () => {
    const { shown, done } = await drawn({ [`DELETE ${RECORDS}`]: refusing(403, 'You can’t remove material lines.') })
    await shown.findAll('[aria-label="Take out this material line"]')[1]!.trigger('click')
    await settled()
    expect(done()[0]!.body).toEqual({ records: [2] })
    expect(shown.get('[role=alert]').text()).toBe('You can’t remove material lines.')
  })

  it('take a block that is pasted, as one step: those beneath the last are new and linked', async () => {
    const { shown, done } = await drawn({
      'PATCH /api/trackers/1/tables/5/block': { seq: 4, did: 'added 2 material lines', added: [9, 10] },
    })
    const clipboardData = { getData: (kind: string) => (kind === 'text/plain' ? 'Post\t4\nRail\t5\n' : '') }
    await shown.get('[data-lines]').trigger('paste', { clipboardData })
    await settled()
    const sent = done()[0]!.body as { records: number[]; fields: number[]; cells: unknown[][] }
    expect([sent.records, sent.fields.at(-1), sent.cells.length]).toEqual([[], 51, 2])
    expect(sent.cells[0]!.at(-1)).toEqual({ value: { links: [7] } })
  })

  it('go up and down by their handles: shown at once, kept, and the keys go along', async () => {
    const PLACED = '/api/trackers/1/tables/3/lines/45/order'
    const { shown, asked, done } = await drawn({
      'POST /api/trackers/1/tables/5/query': told(line(1, 'Planks'), line(2, 'Screws'), line(3, 'Nails')),
      [`POST ${PLACED}`]: { seq: 4, did: 'moved the material line' },
    })
    expect(asked[0]!.body).toMatchObject({ under: 45 })
    document.body.append(shown.element)
    const grip = () => shown.findAll<HTMLElement>('.grip')
    await grip()[0]!.trigger('keydown', { key: 'ArrowDown' })
    expect(shown.findAll('[data-cell=What]').map((one) => one.text())).toEqual(['Screws', 'Planks', 'Nails'])
    await settled()
    expect(done().map((one) => [one.path, one.body])).toEqual([[PLACED, { lines: [1], spot: { after: 2 } }]])
    // Its first line goes no further up.
    await grip()[0]!.trigger('keydown', { key: 'ArrowUp' })
    await settled()
    expect(done()).toHaveLength(1)
  })

  it('stand as they stood where their new order is refused, and say why', async () => {
    const { shown } = await drawn({ 'POST /api/trackers/1/tables/3/lines/45/order': refusing(403, 'You can’t change material lines.') })
    await shown.findAll('.grip')[0]!.trigger('keydown', { key: 'ArrowDown' })
    expect(shown.findAll('[data-cell=What]').map((one) => one.text())).toEqual(['Screws', 'Planks'])
    await settled()
    expect(shown.findAll('[data-cell=What]').map((one) => one.text())).toEqual(['Planks', 'Screws'])
    expect(shown.get('[role=alert]').text()).toBe('You can’t change material lines.')
  })

  it('are put nowhere by hand where a field puts them in order', async () => {
    answering({ 'POST /api/trackers/1/tables/5/query': told(line(1, 'Planks'), line(2, 'Screws')) })
    const kept = linesOfRecord({ tracker: 1, table: 3, record: 7 }, link, lines)
    const listed = { field: 45, shows: [52], by: 52, descending: false, figures: [] }
    const shown = put(FolioLines, { props: { kept, field: link, lines, listed, change: true } }, opened({ tables: [lines] } as never))
    await settled()
    expect([shown.findAll('tbody tr').length, shown.findAll('.grip').length]).toEqual([2, 0])
  })

  it('can only be looked at by whoever may not change the record', async () => {
    const { shown } = await drawn({}, false)
    await shown.get('[data-cell=What]').trigger('click')
    expect(shown.findComponent(CellEditor).exists()).toBe(false)
    expect([shown.find('[data-test=add-line]').exists(), shown.findAll('th').length]).toEqual([false, 3])
  })
})

describe('the lines of a draft', () => {
  const LINES = '/api/trackers/1/tables/3/drafts/4/lines/45'
  const look = { says: '' }

  async function inDraft(answers: Record<string, unknown>) {
    const asked = answering({ [`POST ${LINES}/query`]: told(line(1, 'Planks'), line(2, 'Screws')), ...answers })
    const changed = vi.fn((reply: Promise<DraftLinesReply>) => reply)
    const kept = linesOfDraft({ tracker: 1, table: 3, draft: 4 }, link, changed)
    const shown = put(FolioLines, { props: { kept, field: link, lines, change: true } }, opened({ tables: [lines] } as never))
    await settled()
    return { shown, asked, changed, done: () => changes(asked).filter((one) => !one.path.endsWith('/query')) }
  }

  it('are asked of the draft, which knows which they are', async () => {
    const { shown, asked } = await inDraft({})
    expect(asked.map((one) => one.path)).toEqual([`${LINES}/query`])
    expect((asked[0]!.body as { query: object }).query).not.toHaveProperty('condition')
    expect(shown.findAll('[data-cell=What]').map((one) => one.text())).toEqual(['Planks', 'Screws'])
  })

  it('are begun with nothing in them, and what is typed and taken out goes into the draft, which hears of each', async () => {
    const answer = { look, lines: [9] }
    const { shown, done, changed } = await inDraft({
      [`POST ${LINES}/query`]: told(line(1, 'Planks'), line(9, '')),
      [`PATCH ${LINES}`]: answer,
    })
    await shown.get('[data-test=add-line]').trigger('click')
    await settled()
    shown.getComponent(CellEditor).vm.$emit('commit', { text: 'Nails' }, 'stay')
    await settled()
    await shown.findAll('[aria-label="Take out this material line"]')[0]!.trigger('click')
    await settled()
    expect(done().map((one) => one.body)).toEqual([
      { lines: [{ line: null, cells: [] }] },
      { lines: [{ line: 9, cells: [{ field: 52, input: { text: 'Nails' } }] }] },
      { gone: [1] },
    ])
    expect(changed).toHaveBeenCalledTimes(3)
  })

  it('take a block, over those that are there and as new ones, linked to nothing yet', async () => {
    const { shown, done } = await inDraft({ [`PATCH ${LINES}`]: { look, lines: [2, 9] } })
    await shown.findAll('[data-cell=What]')[1]!.trigger('click')
    const clipboardData = { getData: (kind: string) => (kind === 'text/plain' ? 'Post\t4\nRail\t5\n' : '') }
    await shown.get('[data-lines]').trigger('paste', { clipboardData })
    await settled()
    const cells = (what: string, cost: string) => [
      { field: 52, input: { text: what } },
      { field: 53, input: { text: cost } },
    ]
    expect(done().map((one) => one.body)).toEqual([{ lines: [{ line: 2, cells: cells('Post', '4') }, { line: null, cells: cells('Rail', '5') }] }]) // prettier-ignore
  })

  it('are put in another order in the draft itself', async () => {
    const { shown, done } = await inDraft({ [`PATCH ${LINES}`]: { look, lines: [] } })
    await shown.findAll('.grip')[1]!.trigger('keydown', { key: 'ArrowUp' })
    await settled()
    expect(done().map((one) => one.body)).toEqual([{ order: [2, 1] }])
  })

  it('that are refused are told where they were typed, and nothing is kept', async () => {
    const { shown } = await inDraft({ [`PATCH ${LINES}`]: refusing(422, '“Cost” is an amount: 12.50.') })
    await shown.get('[data-cell=Cost]').trigger('click')
    shown.getComponent(CellEditor).vm.$emit('commit', { text: 'much' }, 'stay')
    await settled()
    expect(shown.getComponent(CellEditor).props('fault')).toBe('“Cost” is an amount: 12.50.')
  })
})
