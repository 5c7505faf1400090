import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { DocumentView, SheetBlock } from '@/api/types'
import { answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import { blockWith } from './document'
import DocumentPage from './DocumentPage.vue'

vi.mock('vue-router', async (real) => ({
  ...(await real<object>()),
  useRoute: () => ({ params: { tracker: '1', document: '9' }, name: 'document' }),
  onBeforeRouteLeave: () => undefined,
}))
beforeEach(() => {
  document.body.innerHTML = ''
  URL.createObjectURL = vi.fn(() => 'blob:page')
  URL.revokeObjectURL = vi.fn()
})
afterEach(() => vi.unstubAllGlobals())

const NUMBER = field({ type: 'text', limit: 80 } as never, { id: 10, name: 'Number', within: 'number' })
const home = table([NUMBER], { id: 1, name: 'Orders', one: 'order', many: 'orders', standing: 10 } as never)
const blocks: SheetBlock[] = [
  blockWith({ as: 'heading', text: 'Order {Number}', team: true }),
  blockWith({ as: 'text', text: 'Take care.', typed: false }),
  { ...blockWith({ as: 'rule' }), beside: false },
]
const named = (name: string, place: number) => ({
  name,
  short: [],
  sentence: [{ text: name, tone: 'edit' as const, at: `/blocks/${place}/set` }],
})
const view: DocumentView = {
  document: {
    id: 9,
    table: 1,
    title: 'Order',
    of: 'each',
    page: { size: 'A4', across: false, margin: 20 },
    customs: 'en-GB',
    called: '{Number}',
    keep: null,
    foot: { text: '', team: true, day: true, pages: true },
    blocks,
  },
  words: { sentence: [{ text: 'each order', tone: 'edit', at: '/of' }], blocks: ['Heading', 'Text', 'Rule'].map(named), typed: [] },
}
const preview = {
  pages: ['<svg/>'],
  count: 1,
  width: 210,
  height: 297,
  blocks: [],
  name: 'WO-7',
  at: { record: 7, name: 'WO-7', place: 2, count: 5, before: 6, after: null, longest: 3, bare: null },
}

async function page(answers: Record<string, unknown> = {}) {
  const asked = answering({
    'GET /api/trackers/1/documents/9': view,
    'POST /api/trackers/1/documents/preview': preview,
    'POST /api/trackers/1/parts/look': { view: { document: view }, faults: [] },
    'PUT /api/trackers/1/parts/document/9': { seq: 4, did: 'changed the document Order' },
    ...answers,
  })
  const shown = put(DocumentPage, {}, opened({ tables: [home] } as never))
  await later()
  return { shown, asked }
}
/** Once what waits for somebody to stop typing has been asked. */
async function later() {
  await settled()
  await new Promise((done) => setTimeout(done, 260))
  await settled()
}
const order = (shown: Awaited<ReturnType<typeof page>>['shown']) => shown.findAll('.block b').map((one) => one.text())

it('lays the running order beside the true sheet, with one record and ways to others', async () => {
  const { shown, asked } = await page()
  expect(order(shown)).toEqual(['Heading', 'Text', 'Rule'])
  expect(shown.find('[data-test=page] img').attributes('alt')).toBe('WO-7, page 1 of 1')
  expect(shown.find('.steps').text()).toContain('shown with WO-7, 2 of 5')
  expect(shown.find('[data-test=step-after]').attributes('disabled')).toBeDefined()
  expect(shown.find('[data-test=step-bare]').exists()).toBe(false)
  await shown.find('[data-test=step-longest]').trigger('click')
  await later()
  expect(asked.filter((one) => one.path.endsWith('/preview')).map((one) => (one.body as { record: number | null }).record)).toEqual([
    null,
    3,
  ])
  // Nothing was changed: it can be printed, and there is nothing to keep.
  expect(shown.find('[data-test=document-keep]').exists()).toBe(false)
  expect(shown.find('[data-test=print-one]').attributes('disabled')).toBeUndefined()
})

it('moves a block by its button, which keeps the keys, and prints only what is kept', async () => {
  const { shown, asked } = await page()
  await shown.find('[data-test=block-1]').trigger('click')
  await shown.find('[data-test=block-down]').trigger('click')
  await later()
  expect(shown.find('[data-block="2"]').classes()).toContain('open')
  expect((document.activeElement as HTMLElement).dataset.test).toBe('block-down')
  expect(shown.find('[data-test=print-one]').attributes('disabled')).toBeDefined()
  await shown.find('[data-test=keep-document]').trigger('click')
  await settled()
  const [kept] = changes(asked).filter((one) => one.method === 'PUT')
  const sent = (kept!.body as { document: { document: { blocks: SheetBlock[] } } }).document.document.blocks
  expect(sent.map((block) => block.shows.as)).toEqual(['text', 'heading', 'rule'])
})

it('adds what the table has something for, and says of the rest that there is nothing', async () => {
  const { shown } = await page()
  await shown.find('[data-test=add-signature]').trigger('click')
  await later()
  expect(shown.findAll('.block')).toHaveLength(4)
  expect((document.activeElement as HTMLElement).dataset.test).toBe('block-4')
  await shown.find('[data-test=add-picture]').trigger('click')
  expect(shown.find('[role=status]').text()).toBe('Orders has nothing for that yet.')
  await shown.find('[data-test=block-1]').trigger('click')
  await shown.find('[data-test=block-drop]').trigger('click')
  await later()
  expect(shown.findAll('.block')).toHaveLength(3)
})

it('says what is wrong where it stands, and keeps nothing of it', async () => {
  const faults = [{ kind: 'bad_rule', pointer: '/blocks/1/shows/text', message: 'There is no field “Moon” in Orders.' }]
  const { shown } = await page({
    'POST /api/trackers/1/parts/look': { view: null, faults },
    'POST /api/trackers/1/documents/preview': refusing(422, 'There is no field “Moon” in Orders.', faults),
  })
  await shown.find('[data-test=document-title]').setValue('Another')
  await later()
  expect(shown.find('[data-block="2"]').classes()).toContain('wrong')
  expect(shown.find('[data-test=keep-document]').attributes('disabled')).toBeDefined()
  // Left, it is as it was.
  await shown.findAll('[data-test=document-keep] button')[0]!.trigger('click')
  await later()
  expect((shown.find('[data-test=document-title]').element as HTMLInputElement).value).toBe('Order')
})
