import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { BlockShows, BlockWords, SheetBlock } from '@/api/types'
import { answering, choose, field, opened, put, settled, table } from '@/testing'
import BlockLine from './BlockLine.vue'
import BlockPhrase from './BlockPhrase.vue'
import { blockWith } from './document'
import DocumentPhrase from './DocumentPhrase.vue'
import PrintSheet from './PrintSheet.vue'
import SheetView from './SheetView.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  URL.createObjectURL = vi.fn(() => 'blob:page')
  URL.revokeObjectURL = vi.fn()
})
afterEach(() => vi.unstubAllGlobals())

const NUMBER = field({ type: 'text', limit: 80 } as never, { id: 10, name: 'Number', within: 'number' })
const PLANNED = field({ type: 'date' }, { id: 11, name: 'Planned day', within: 'planned day' })
const LINES = field({ type: 'link', to: 2, back: 20, one: false, holds: false } as never, { id: 14, name: 'Lines', within: 'lines' })
const COST = field({ type: 'number', decimals: 2, unit: '' } as never, { id: 21, name: 'Cost', within: 'cost' })
const home = table([NUMBER, PLANNED, LINES], { id: 1, one: 'order', many: 'orders', standing: 10 } as never)
const lines = table([COST], { id: 2, one: 'line', many: 'lines', standing: 21 } as never)
const tracker = opened({ tables: [home, lines] } as never)

const words: BlockWords = {
  name: 'Text',
  short: [
    { text: 'Work of ', tone: 'plain' },
    { text: 'planned day', tone: 'strong' },
  ],
  sentence: [{ text: '“Work of planned day”', tone: 'edit', at: '/blocks/1/shows/text' }],
}

function line(over: object = {}) {
  const block = blockWith({ as: 'text', text: 'Work of {Planned day}', typed: false })
  return put(
    BlockLine,
    { props: { table: home, block, words, place: 1, count: 3, each: true, open: false, faults: [], typed: [], ...over } },
    tracker,
  )
}

it('says a closed block in a few words, what comes from the record apart from what was typed', async () => {
  const shown = line()
  expect(shown.find('.line').text()).toBe('2Text Work of planned day')
  expect(shown.find('.what .strong').text()).toBe('planned day')
  await shown.find('.line').trigger('click')
  expect(shown.emitted('toggle')).toHaveLength(1)
})

it('does with an open block what its words say', async () => {
  const shown = line({ open: true })
  expect(shown.find('.line').attributes('aria-expanded')).toBe('true')
  await shown.find('[data-test=block-beside]').trigger('click')
  expect((shown.emitted('change')!.at(-1)![0] as SheetBlock).beside).toBe(true)
  expect(shown.find('[data-test=block-beside]').text()).toBe('Beside block 1')
  for (const [test, event, told] of [
    ['up', 'move', -1],
    ['down', 'move', 1],
    ['double', 'double'],
    ['drop', 'drop'],
  ] as const) {
    await shown.find(`[data-test=block-${test}]`).trigger('click')
    expect(shown.emitted(event)!.at(-1)).toEqual(told === undefined ? [] : [told])
  }
  // The last can go no further down, the first no further up and beside nothing.
  await shown.setProps({ place: 2 })
  expect(shown.find('[data-test=block-down]').attributes('disabled')).toBeDefined()
  await shown.setProps({ place: 0 })
  expect(shown.find('[data-test=block-up]').attributes('disabled')).toBeDefined()
  expect(shown.find('[data-test=block-beside]').exists()).toBe(false)
})

it('points out a month that was typed, and what would do instead', async () => {
  const typed = [
    {
      block: 1,
      says: 'The month was typed by hand.',
      wrong: 'On 3 of 4 orders …',
      offer: 'Put in the month of “Planned day”',
      becomes: 'Work of {month of Planned day}',
    },
  ]
  const shown = line({ typed })
  expect(shown.find('[data-test=typed-by-hand]').text()).toContain('The month was typed by hand.')
  await shown.find('[data-test=typed-mend]').trigger('click')
  await shown.find('[data-test=typed-leave]').trigger('click')
  expect(shown.emitted('typed')).toEqual([['Work of {month of Planned day}'], [undefined]])
})

it('says what is wrong with a block, open or not', async () => {
  const faults = [{ kind: 'bad_rule', pointer: '/blocks/1/shows/text', message: 'There is no field “Moon” in Orders.' }]
  const shown = line({ open: true, faults })
  expect(shown.find('.block').classes()).toContain('wrong')
  expect(shown.find('[role=alert]').text()).toBe('There is no field “Moon” in Orders.')
})

function phrase(shows: BlockShows, at: string) {
  const shown = put(BlockPhrase, { props: { table: home, block: blockWith(shows), at, each: true } }, tracker)
  return { shown, asked: () => (shown.emitted('change')?.at(-1)?.[0] as SheetBlock | undefined)?.shows as never as Record<string, unknown> }
}
const LINED: BlockShows = {
  as: 'lines',
  link: 14,
  by: null,
  descending: false,
  without: '',
  shows: [21],
  totals: [{ field: 21, figure: 'sum', words: '' }],
  ruled: true,
  again: true,
}

it('edits lines phrase by phrase: their order, their columns with their figures, what they say without any', async () => {
  const order = phrase(LINED, '/shows/by')
  await settled()
  await choose(order.shown, '[aria-label="In which order"]', 'by cost, last to first')
  expect(order.asked()).toMatchObject({ by: 21, descending: true })
  const ruled = phrase(LINED, '/shows/ruled')
  await choose(ruled.shown, '[data-test=block-ruled]', 'no lines between')
  expect(ruled.asked()).toMatchObject({ ruled: false })
  expect(ruled.shown.emitted('close')).toHaveLength(1)
  const without = phrase(LINED, '/shows/without')
  await without.shown.find('[data-test=block-without] input').setValue('Nothing is needed.')
  expect(without.asked()).toMatchObject({ without: 'Nothing is needed.' })
  const totals = phrase({ ...LINED, totals: [] }, '/shows/totals')
  await settled()
  await totals.shown.find('[data-test=add-total]').trigger('click')
  expect(totals.asked()).toMatchObject({ totals: [{ field: 21, figure: 'sum', words: '' }] })
})

it('edits facts: in which order, under which words, and never none', async () => {
  const { shown, asked } = phrase(
    {
      as: 'facts',
      facts: [
        { path: [10], words: '' },
        { path: [14, 21], words: 'Costs' },
      ],
      empty: 'blank',
    },
    '/shows/facts',
  )
  expect(shown.findAll('.name').map((one) => one.text())).toEqual(['Number', 'Lines → Cost'])
  await shown.find('[aria-label="Number further down"]').trigger('click')
  expect(asked()).toMatchObject({ facts: [{ path: [14, 21] }, { path: [10] }] })
  await shown.find('[aria-label="Take Number out"]').trigger('click')
  expect(asked()).toMatchObject({ facts: [{ path: [14, 21], words: 'Costs' }] })
  const sole = phrase({ as: 'facts', facts: [{ path: [10], words: '' }], empty: 'blank' }, '/shows/facts')
  expect(sole.shown.find('[aria-label="Take Number out"]').attributes('disabled')).toBeDefined()
})

it('sets a block, and says when it is there', async () => {
  const { shown } = phrase({ as: 'rule' }, '/set')
  await shown.find('[data-test=set-bold]').setValue(true)
  await shown.find('[data-ink=fern]').trigger('click')
  const sets = shown.emitted('change')!.map(([block]) => (block as SheetBlock).set)
  expect(sets[0]).toMatchObject({ bold: true })
  expect(sets[1]).toMatchObject({ hue: 'fern' })
})

it('edits what the whole document is: its page, its foot, what it is called', async () => {
  const sheet = {
    id: 1,
    table: 1,
    title: 'Order',
    of: 'each',
    page: { size: 'A4', across: false, margin: 17 },
    customs: 'en-GB',
    called: '{Number}',
    keep: null,
    foot: { text: '', team: true, day: false, pages: true },
    blocks: [],
  }
  const at = (place: string) => put(DocumentPhrase, { props: { table: home, document: sheet as never, at: place } }, tracker)
  const size = at('/page/size')
  await choose(size, '[data-test=page-size]', 'A5 across')
  expect(size.emitted('change')).toEqual([[{ page: { size: 'A5', across: true, margin: 17 } }]])
  const foot = at('/foot')
  await foot.find('[data-test=foot-day]').setValue(true)
  expect(foot.emitted('change')).toEqual([[{ foot: { text: '', team: true, day: true, pages: true } }]])
  const called = at('/called')
  await called.find('[data-test=words] input').setValue('Order {Number}')
  expect(called.emitted('change')).toEqual([[{ called: 'Order {Number}' }]])
  expect(at('/keep').text()).toContain('orders have none')
})

it('ties the pages to the running order by numbers, one for each block where it begins', async () => {
  const block = (number: number, page: number, top: number) => ({ number, page, left: 20, top, width: 170, height: 30 })
  const preview = {
    pages: ['<svg/>', '<svg/>'],
    count: 5,
    width: 210,
    height: 297,
    blocks: [block(1, 0, 20), block(2, 0, 200), block(2, 1, 0)],
    name: 'WO-1',
    at: null,
  }
  const shown = put(SheetView, { props: { preview, open: 2 } })
  expect(shown.findAll('img').map((one) => one.attributes('alt'))).toEqual(['WO-1, page 1 of 5', 'WO-1, page 2 of 5'])
  expect(shown.findAll('.number').map((one) => one.text())).toEqual(['1', '2'])
  // The open block is framed on each of its pages.
  expect(shown.findAll('.frame')).toHaveLength(2)
  expect(shown.text()).toContain('and 3 more pages')
  await shown.findAll('.number')[0]!.trigger('click')
  expect(shown.emitted('open')).toEqual([[1]])
})

it('prints what was chosen, and what is being set can be stopped', async () => {
  const documents = [
    { id: 1, table: 1, title: 'Order', of: 'each' as const, keeps: true },
    { id: 2, table: 1, title: 'List', of: 'all' as const, keeps: false },
  ]
  let given: RequestInit | undefined
  vi.stubGlobal('fetch', (_: string, sent: RequestInit) => {
    given = sent
    return new Promise((_, refuse) => sent.signal?.addEventListener('abort', () => refuse(new Error('stopped'))))
  })
  const shown = put(PrintSheet, { props: { tracker: 1, table: home, documents, what: { records: [3, 4] }, count: 2 } }, tracker)
  expect(shown.text()).toContain('Print 2 orders as')
  await shown.find('[data-test=print-each]').trigger('click')
  expect(JSON.parse(String(given?.body))).toMatchObject({ records: [3, 4], each: true })
  expect(shown.find('[data-test=being-set]').text()).toBe('2 sheets are being set …')
  expect(shown.find('[data-test=print-pdf]').attributes('disabled')).toBeDefined()
  await shown.find('[data-test=stop-printing]').trigger('click')
  await settled()
  expect(given?.signal?.aborted).toBe(true)
  // What one stopped oneself is no trouble.
  expect(shown.find('[role=alert]').exists()).toBe(false)
  expect(shown.emitted('close')).toBeUndefined()
  // On one sheet together there is no other way, and nothing to keep it with.
  await choose(shown, '[data-test=print-as]', 'List')
  expect(shown.text()).toContain('on one sheet together')
  expect(shown.find('[data-test=print-each]').exists()).toBe(false)
  expect(shown.find('[data-test=keep-sheets]').exists()).toBe(false)
})

it('prints records as they are laid out, where no document was composed or one likes that better', async () => {
  let asked = ''
  vi.stubGlobal('fetch', (address: string) => {
    asked = address
    return Promise.resolve(new Response(new Blob(['%PDF']), { status: 200 }))
  })
  const shown = put(PrintSheet, { props: { tracker: 1, table: home, documents: [], what: { records: [3] }, count: 1 } }, tracker)
  expect(shown.text()).toContain('Print 1 order as it is laid out')
  await shown.find('[data-test=print-pdf]').trigger('click')
  await settled()
  expect(asked).toBe(`/api/trackers/1/tables/${home.id}/print`)
})

it('says why nothing is printed', async () => {
  answering({})
  vi.stubGlobal('fetch', () =>
    Promise.resolve(
      new Response(JSON.stringify({ title: 'x', status: 503, detail: 'Printing is being made ready.', faults: [] }), { status: 503 }),
    ),
  )
  const documents = [{ id: 1, table: 1, title: 'Order', of: 'each' as const, keeps: false }]
  const shown = put(PrintSheet, { props: { tracker: 1, table: home, documents, what: { records: [3] }, count: 1 } }, tracker)
  await shown.find('[data-test=print-pdf]').trigger('click')
  await settled()
  expect(shown.find('[role=alert]').text()).toBe('Printing is being made ready.')
})
