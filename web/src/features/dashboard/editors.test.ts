import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { Dashboard, Statement, Tile } from '@/api/types'
import { answering, choose, field, offered, opened, put, settled, table } from '@/testing'
import BoardOnly from './BoardOnly.vue'
import BoardSettings from './BoardSettings.vue'
import NewTile from './NewTile.vue'
import StatementEditor from './StatementEditor.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const TITLE = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'What is wrong', within: 'what is wrong' })
const DAY = field({ type: 'date' }, { id: 48, name: 'Reported on', within: 'reported on' })
const home = table([TITLE, DAY], { id: 3 } as never)
const orders = table([TITLE], { id: 6, name: 'Work orders', one: 'work order', many: 'work orders' } as never)
const VOCABULARY = { 'GET /api/vocabulary': { kinds: [], figures: [], buckets: [] } }

const statement: Statement = {
  tracker: 1,
  run: 'month',
  lines: [
    { words: 'reported', of: { records: { table: 3, condition: { all: [] }, sign: 'plus' } } },
    { words: 'done', of: { records: { table: 3, condition: { all: [] }, sign: 'minus' } } },
    { words: 'of it done', of: { share: { part: 1, whole: 0 } } },
  ],
}

async function lines(over: Partial<Statement> = {}) {
  answering(VOCABULARY)
  const shown = put(StatementEditor, { props: { statement: { ...statement, ...over } } }, opened({ tables: [home, orders] } as never))
  await settled()
  const asked = () => shown.emitted('change')?.at(-1)?.[0] as Statement | undefined
  return { shown, asked }
}

it('changes a line of a statement: its words, its table, its days and what it does to the total', async () => {
  const { shown, asked } = await lines()
  await shown.findAll('.line')[1]!.trigger('click')
  expect(shown.findAll('.line').map((one) => one.attributes('aria-expanded'))).toEqual(['false', 'true', 'false'])
  await shown.find('[data-test=line-words] input').setValue('made good')
  expect(asked()?.lines[1]!.words).toBe('made good')
  expect(offered(shown, '[data-test=line-day]')).toEqual(['as of now', 'in that time, by Reported on'])
  await choose(shown, '[data-test=line-day]', 'in that time, by Reported on')
  expect(asked()?.lines[1]!.of).toMatchObject({ records: { day: 48, sign: 'minus' } })
  await choose(shown, '[data-test=line-sign]', 'not in the total')
  expect(asked()?.lines[1]!.of).toMatchObject({ records: { sign: 'beside' } })
  await choose(shown, '[data-test=line-table]', 'Work orders')
  expect(asked()?.lines[1]!.of).toEqual({ records: { table: 6, condition: { all: [] }, sign: 'minus' } })
})

it('makes a line of the two above it, and offers that only where there are two', async () => {
  const { shown, asked } = await lines()
  await shown.findAll('.line')[0]!.trigger('click')
  expect(offered(shown, '[data-test=line-sort]')).toEqual(['a figure of records'])
  await shown.findAll('.line')[2]!.trigger('click')
  await choose(shown, '[data-test=line-sort]', 'one line for each of another')
  expect(asked()?.lines[2]!.of).toEqual({ per: { what: 0, each: 1 } })
})

it('adds a line of the table that was last spoken of, and takes out with a line what was made of it', async () => {
  const { shown, asked } = await lines()
  await shown.find('[data-test=add-line]').trigger('click')
  expect(asked()?.lines.at(-1)).toMatchObject({ words: '', of: { records: { table: 3 } } })
  await shown.findAll('.out')[0]!.trigger('click')
  expect(asked()?.lines.map((line) => line.words)).toEqual(['done'])
  await choose(shown, '[data-test=statement-run]', 'what stands now')
  expect(asked()?.run).toBeNull()
})

it('begins a tile of a table of a tracker, as the server begins a cross-tab of it', async () => {
  const cross = { as: 'cross-tab', down: [{ field: 47 }], across: [], within: null }
  answering({
    ...VOCABULARY,
    'GET /api/trackers': [{ id: 1, name: 'Path upkeep' }],
    'GET /api/trackers/1': { id: 1, name: 'Path upkeep', tables: [home, orders] },
    'POST /api/trackers/1/tables/3/query': { shapes: [{ name: 'cross-tab', begins: cross, missing: '', by: [], says: '' }] },
    'POST /api/trackers/1/tables/6/query': {
      shapes: [{ name: 'cross-tab', begins: null, missing: 'No work order has such a field.', by: [], says: '' }],
    },
  })
  const shown = put(NewTile, { props: { keyOf: 4 } })
  await settled()
  await shown.find('[data-sort=bars]').trigger('click')
  await shown.find('[data-test=tile-begin]').trigger('click')
  await settled()
  expect(shown.emitted('made')?.[0]?.[0] as Tile).toMatchObject({
    key: 4,
    shows: { as: 'view', draws: 'bars', query: { shape: { down: [{ field: 47 }], order: 'most' } } },
  })
  // Of what can't be counted it is said why.
  await choose(shown, '[data-test=tile-table]', 'Work orders')
  await shown.find('[data-test=tile-begin]').trigger('click')
  await settled()
  expect(shown.find('[role=alert]').text()).toBe('No work order has such a field.')
  // Words need no table.
  await shown.find('[data-sort=text]').trigger('click')
  expect(shown.find('[data-test=tile-table]').exists()).toBe(false)
  await shown.find('[data-test=tile-begin]').trigger('click')
  await settled()
  expect(shown.emitted('made')?.at(-1)?.[0] as Tile).toMatchObject({ shows: { as: 'text', text: '' } })
})

it('says to whom a dashboard is open, and takes it away only once that is said twice', async () => {
  answering({
    'GET /api/team': {
      groups: [
        { id: 1, name: 'Wardens' },
        { id: 2, name: 'Office' },
      ],
    },
  })
  const board = { id: 1, name: 'Year', about: '', owner: 1, open: { groups: [1] }, columns: 2, tiles: [] } as Dashboard
  const shown = put(BoardSettings, { props: { board, busy: false, trouble: '' } })
  await settled()
  const [wardens, office] = shown.findAll('.groups input')
  expect((wardens!.element as HTMLInputElement).checked).toBe(true)
  await office!.setValue(true)
  await shown.find('[data-test=board-name] input').setValue('The year')
  await shown.find('[data-test=board-keep]').trigger('click')
  expect(shown.emitted('keep')?.[0]?.[0]).toEqual({ name: 'The year', about: '', open: { groups: [1, 2] }, columns: 2 })
  await choose(shown, '[data-test=board-open]', 'for me alone')
  expect(shown.find('.groups').exists()).toBe(false)
  await shown.find('[data-test=board-remove]').trigger('click')
  expect(shown.emitted('remove')).toBeUndefined()
  await shown.find('[data-test=board-really]').trigger('click')
  expect(shown.emitted('remove')).toHaveLength(1)
})

it('takes what a line should come to, of a share in hundredths, and says what is no number', async () => {
  const { shown, asked } = await lines()
  await shown.findAll('.line')[0]!.trigger('click')
  await shown.find('[data-test=line-target]').setValue('12,5')
  expect(asked()?.lines[0]!.target).toBe('12.5')
  await shown.find('[data-test=line-target]').setValue('a dozen')
  expect(shown.find('[role=alert]').text()).toContain('as a number')
  await shown.find('[data-test=line-target]').setValue('')
  expect(asked()?.lines[0]!.target).toBeNull()
  await shown.findAll('.line')[2]!.trigger('click')
  await shown.find('[data-test=line-target]').setValue('80')
  expect(asked()?.lines[2]!.target).toBe('0.8')
})

const PLACE = { tracker: 1, table: 3 }
const SENTENCE = [{ text: 'faults where severity is dangerous', tone: 'plain' as const }]
const boardView = (over: object = {}) =>
  ({
    dashboard: { id: 1, name: 'Year', owner: 1, columns: 2, tiles: [], only: [] },
    tables: [{ ...PLACE, name: 'Faults', tracker_name: 'Paths' }],
    only: [],
    narrowed: [],
    ...over,
  }) as never
const onlyOf = (over: object = {}) =>
  put(BoardOnly, { props: { view: boardView(), narrowed: [], changes: true, busy: false, trouble: '', ...over } })

it('says what a page is about, to whom it can be told, and what one narrowed oneself', () => {
  const view = boardView({
    only: [
      { ...PLACE, sentence: SENTENCE, refused: '' },
      { tracker: 9, table: 1, sentence: [], refused: 'It is of something that is not open to you.' },
    ],
    narrowed: [{ ...PLACE, sentence: SENTENCE, refused: '' }],
  })
  const shown = onlyOf({ view, changes: false })
  expect(shown.findAll('[data-test=board-only]').map((one) => one.text())).toEqual([
    'Only faults where severity is dangerous.',
    'It is of something that is not open to you.',
  ])
  // A reader changes nothing of what holds for all.
  expect(shown.find('[data-test=board-only] button').exists()).toBe(false)
  expect(shown.find('[data-test=board-narrowed]').text()).toContain('For you now: faults where severity is dangerous')
})

it('narrows a page for oneself or, by its maker, for all', async () => {
  vi.stubGlobal(
    'EventSource',
    class {
      addEventListener() {}
      close() {}
    },
  )
  answering({ ...VOCABULARY, 'GET /api/trackers/1': { id: 1, name: 'Paths', tables: [home] } })
  const shown = onlyOf()
  await shown.find('[data-test=board-narrow]').trigger('click')
  await settled()
  const press = async (css: string) => {
    document.querySelector<HTMLElement>(css)!.click()
    await settled()
  }
  await press('[data-narrow="3"]')
  expect(document.querySelector('[data-test=only-editor]')!.textContent).toContain('For you alone')
  await press('[data-test=only-keep]')
  expect(shown.emitted('narrow')).toEqual([[[]]])
  await shown.find('[data-test=board-narrow]').trigger('click')
  await settled()
  await press('[data-only="3"]')
  expect(document.querySelector('[data-test=only-editor]')!.textContent).toContain('for every reader')
  await press('[data-test=only-keep]')
  expect(shown.emitted('keep')).toEqual([[[]]])
})
