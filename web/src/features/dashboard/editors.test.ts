import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { Dashboard, Statement, Tile } from '@/api/types'
import { answering, choose, field, offered, opened, put, settled, table } from '@/testing'
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
