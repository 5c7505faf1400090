import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { Dashboard, Tile, TileReply } from '@/api/types'
import { answering, changes, put, refusing, settled } from '@/testing'
import DashboardPage from './DashboardPage.vue'

// What draws charts measures what the stand-in for a browser gives no size.
vi.mock('vue-echarts', () => ({ default: { template: '<i class="chart" />' } }))
beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const words = (key: number, text: string): Tile => ({ key, width: 1, title: '', shows: { as: 'text', text } })
const statement: Tile = {
  key: 5,
  width: 1,
  title: 'What is open',
  shows: { as: 'statement', tracker: 1, run: 'month', lines: [{ words: 'open', of: { records: { table: 3 } } }] },
}
const nothing: Omit<TileReply, 'key'> = {
  sentence: [],
  refused: '',
  statement: null,
  crossed: null,
  fields: [],
  names: [],
  rows: [],
  counted: '',
}
const LINE = { words: 'open', sign: '+', now: '71', before: '58', change: '13 more', total: false, wanted: '', refused: '' }
const told = (key: number, part: Partial<TileReply> = {}): TileReply => ({ ...nothing, key, ...part })
const board: Dashboard = {
  id: 1,
  name: 'The season so far',
  about: '',
  owner: 1,
  open: 'team',
  columns: 2,
  tiles: [words(1, 'Read from the top.'), statement, words(7, 'And this.')],
}
const REPLIES = [
  told(1),
  told(5, {
    sentence: [
      { text: 'Path upkeep, ', tone: 'plain' },
      { text: 'this month', tone: 'edit', at: '/run' },
    ],
    statement: { heads: ['this month', 'last, so far'], lines: [LINE, { ...LINE, words: 'closed', refused: 'This is not open to you.' }] },
  }),
  told(7, { refused: 'This is of something that is not open to you.' }),
]
const AT = '/api/dashboards/1'

async function page(answers: Record<string, unknown> = {}, over: Record<string, unknown> = {}) {
  const view = {
    dashboard: board,
    open_says: 'Open to everybody of the team; it counts what its reader may see',
    changes: true,
    tiles: REPLIES,
    only: [],
    narrowed: [],
    tables: [],
    seen: '1',
    ...over,
  }
  const asked = answering({
    [`GET ${AT}`]: view,
    [`PUT ${AT}`]: { seq: 9, did: 'changed the dashboard The season so far' },
    'POST /api/dashboards/look': told(5, { statement: { heads: [], lines: [] } }),
    'GET /api/trackers/1': refusing(404, 'Not here.'),
    ...answers,
  })
  vi.stubGlobal(
    'EventSource',
    class {
      addEventListener = () => undefined
      close = () => undefined
    },
  )
  const shown = put(DashboardPage)
  await shown.vm.$router.push({ name: 'dashboard', params: { dashboard: 1 } })
  await settled()
  const kept = () => (changes(asked).findLast((one) => one.method === 'PUT')?.body as Dashboard | undefined)?.tiles?.map((tile) => tile.key)
  const act = async (key: number, what: string) => {
    await shown.find(`[data-tile="${key}"] [data-test=tile-menu]`).trigger('click')
    const entry = await vi.waitFor(() => document.querySelector<HTMLElement>(`[data-test=${what}]`) ?? Promise.reject(new Error(what)))
    entry.click()
    await settled()
  }
  return { shown, asked, kept, act }
}

it('is a page: to whom it is open, its tiles with their titles, and what one may not see', async () => {
  const { shown } = await page()
  expect(shown.find('.over').text()).toContain('Open to everybody of the team')
  expect(shown.findAll('article').map((one) => one.attributes('aria-label'))).toEqual(['Words', 'What is open', 'Words'])
  expect(shown.find('[data-tile="5"] .says').text()).toBe('Path upkeep, this month')
  expect(shown.findAll('[data-tile="5"] tbody tr').map((row) => row.text())).toEqual([
    '+open71' + '58' + '13 more',
    '+closedThis is not open to you.',
  ])
  expect(shown.find('[data-test=tile-refused]').text()).toContain('not open to you')
})

it('is only looked at by whoever may not change it', async () => {
  const { shown } = await page({}, { changes: false })
  for (const css of ['[data-test=add-tile]', '[data-test=tile-menu]', '[data-test=board-settings]'])
    expect(shown.find(css).exists()).toBe(false)
  expect(shown.find('[data-tile="5"] button').exists()).toBe(false)
})

it('moves, widens and takes off what stands on it, each as a step that is told', async () => {
  const { shown, kept, act } = await page()
  await act(5, 'tile-back')
  expect(kept()).toEqual([5, 1, 7])
  expect(shown.find('[data-test=undo-line]').text()).toContain('You changed the dashboard')
  await act(5, 'tile-drop')
  expect(kept()).toEqual([1, 7])
  await shown.find('[data-tile="1"]').trigger('keydown', { key: 'ArrowRight', altKey: true })
  await settled()
  expect(kept()).toEqual([5, 1, 7])
})

it('changes a tile beside the page, drawn anew before it is kept; left, it is as it was', async () => {
  const { shown, asked, kept, act } = await page()
  await act(5, 'tile-edit')
  expect(shown.find('[data-test=tile-editor]').exists()).toBe(true)
  expect(asked.some((one) => one.path === '/api/dashboards/look')).toBe(true)
  await shown.find('[data-test=tile-title] input').setValue('Open, and what changed')
  await settled()
  expect(shown.find('[data-tile="5"] h2').text()).toBe('Open, and what changed')
  await shown.find('[data-test=tile-leave]').trigger('click')
  expect(kept()).toBeUndefined()
  expect(shown.find('[data-tile="5"] h2').text()).toBe('What is open')
  await act(5, 'tile-edit')
  await shown.find('[data-test=tile-title] input').setValue('Open')
  await shown.find('[data-test=tile-keep]').trigger('click')
  await settled()
  expect(kept()).toEqual([1, 5, 7])
  expect(shown.find('[data-test=tile-editor]').exists()).toBe(false)
})

it('keeps open what could not be kept, with why', async () => {
  const { shown, act } = await page({ [`PUT ${AT}`]: refusing(422, 'A tile’s title takes at most 200 characters.') })
  await act(5, 'tile-edit')
  await shown.find('[data-test=tile-keep]').trigger('click')
  await settled()
  expect(shown.find('[data-test=tile-editor] [role=alert]').text()).toContain('200 characters')
})

it('says that there is none where it is not open', async () => {
  const { shown } = await page({ [`GET ${AT}`]: refusing(404, 'There is no such dashboard here.') })
  expect(shown.text()).toContain('There is no such dashboard here')
})
