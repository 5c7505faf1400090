import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Crossed, Dots, StatementTold, Tile, TileReply } from '@/api/types'
import { answering, choose, field, offered, opened, put, settled, table } from '@/testing'
import DaysTile from './DaysTile.vue'
import DotsTile from './DotsTile.vue'
import NewTile from './NewTile.vue'
import PartsTile from './PartsTile.vue'
import StatementTile from './StatementTile.vue'
import TileBody from './TileBody.vue'
import ViewEditor from './ViewEditor.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const head = (text: string, hue?: string, depth = 1) => ({ text, hue: hue ?? null, depth, values: [], count: 1 })
const cell = (count: number) => ({ count, text: `${count}`, lead: `${count}`, figures: [], share: '' })
const CROSSED = {
  rows: [head('', undefined, 0), head('passable', 'fern'), head('dangerous', 'rowan'), head('', undefined)],
  columns: [head('', undefined, 0)],
  cells: [[cell(40)], [cell(24)], [cell(12)], [cell(4)]],
  most: '40',
} as unknown as Crossed

describe('parts of a whole', () => {
  it('divide one length, say each figure and share, and open what stands behind', async () => {
    const shown = put(PartsTile, { props: { crossed: CROSSED, byFigure: false } })
    const widths = shown.findAll('.whole span').map((one) => (one.element as HTMLElement).style.width)
    expect(widths).toEqual(['60%', '30%', '10%'])
    expect(shown.findAll('tbody tr').map((row) => row.text().replace(/\s+/g, ' '))).toEqual([
      'passable2460 %',
      'dangerous1230 %',
      // Those that say nothing are a part, too.
      'nothing said410 %',
    ])
    await shown.findAll('tbody button')[1]!.trigger('click')
    await shown.find('tfoot button').trigger('click')
    expect(shown.emitted('cell')).toEqual([
      [2, 0],
      [0, 0],
    ])
    // What is drawn is said beneath: nobody has to tell colours apart.
    expect(shown.find('.whole').attributes('aria-hidden')).toBe('true')
  })
})

describe('the days that come', () => {
  const days = [
    { text: 'Today', entries: [{ record: 7, title: 'WO-7', about: 'Gate off, Tamsin Oake', at: '09:30 to 12:00' }] },
    {
      text: 'Monday 30 November',
      entries: [
        { record: 8, title: 'WO-8', about: '', at: '' },
        { record: 9, title: 'WO-9', about: 'Wall', at: 'to 2 Dec 2026' },
      ],
    },
  ]
  it('stand one under the other, each entry leading to its record', () => {
    const shown = put(DaysTile, { props: { days, tracker: 1, table: 6 } })
    expect(shown.findAll('h3').map((one) => one.text())).toEqual(['Today', 'Monday 30 November'])
    expect(shown.findAll('li').map((one) => one.text().replace(/\s+/g, ' '))).toEqual([
      'WO-7 Gate off, Tamsin Oake09:30 to 12:00',
      'WO-8',
      'WO-9 Wallto 2 Dec 2026',
    ])
    expect(shown.findAll('a')).toHaveLength(3)
  })
  it('say so when there are none', () => {
    expect(put(DaysTile, { props: { days: [], tracker: 1, table: 6 } }).text()).toBe('Nothing is planned from today on.')
  })
})

const DOTS: Dots = {
  across: 'days open',
  up: 'hours needed',
  says: '2 faults; 1 more lack one of the two',
  dots: [
    { record: 3, name: 'Gate off', x: '12', y: '3.5', x_text: '12', y_text: '3.5 h' },
    { record: 4, name: 'Wall down', x: '40', y: '8', x_text: '40', y_text: '8.0 h' },
  ],
}

describe('dots', () => {
  it('say what they are of, and are told as a table on wish', async () => {
    const shown = put(DotsTile, { props: { dots: DOTS, tracker: 1, table: 3, title: 'Faults, a dot for each.' } })
    expect(shown.find('p').text()).toContain('hours needed by days open: 2 faults; 1 more lack one of the two.')
    expect(shown.find('table').exists()).toBe(false)
    await shown.find('[data-test=dots-table]').trigger('click')
    expect(shown.find('[data-test=dots-table]').attributes('aria-expanded')).toBe('true')
    expect(shown.find('caption').text()).toBe('Faults, a dot for each.')
    expect(shown.findAll('tbody tr').map((row) => row.text())).toEqual(['Gate off123.5 h', 'Wall down408.0 h'])
  })
})

describe('a line with a target', () => {
  it('draws how far it has come, at most to its end, and says it in words', () => {
    const line = (wanted: string, reached: string | null) => ({
      words: 'orders finished',
      sign: '',
      now: '11',
      before: '',
      change: '',
      total: false,
      wanted,
      reached,
      refused: '',
    })
    const told: StatementTold = {
      heads: [],
      lines: [line('12 wanted, 1 to go', '0.917'), line('9 wanted, 2 beyond', '1.222'), line('', null)],
    }
    const shown = put(StatementTile, { props: { told } })
    expect(shown.findAll('.wanted').map((one) => one.text())).toEqual(['12 wanted, 1 to go', '9 wanted, 2 beyond'])
    expect(shown.findAll('.come').map((one) => (one.element as HTMLElement).style.width)).toEqual(['91.7%', '100%'])
  })
})

describe('a tile', () => {
  const view = (over: object) =>
    ({ key: 1, width: 1, shows: { as: 'view', tracker: 1, table: 3, query: { fields: [] }, most: 5, ...over } }) as never as Tile
  const told = (over: object) =>
    ({
      key: 1,
      sentence: [],
      refused: '',
      statement: null,
      crossed: null,
      dots: null,
      days: null,
      query: null,
      fields: [],
      names: [],
      rows: [],
      counted: '',
      ...over,
    }) as never as TileReply
  it('is drawn as what it is told as', () => {
    const shape = { as: 'cross-tab', down: [], leads: 'count' }
    const drawn = (tile: object, reply: object) => put(TileBody, { props: { tile: view(tile), told: told(reply) } })
    expect(
      drawn({ draws: 'parts', query: { fields: [], shape } }, { crossed: CROSSED })
        .find('.whole')
        .exists(),
    ).toBe(true)
    expect(
      drawn({ draws: 'bars', query: { fields: [], shape } }, { crossed: CROSSED })
        .find('.bar')
        .exists(),
    ).toBe(true)
    expect(drawn({}, { days: [] }).text()).toContain('Nothing is planned')
    expect(drawn({ draws: 'parts' }, { refused: 'Only what adds up has parts.' }).find('[data-test=tile-refused]').text()).toBe(
      'Only what adds up has parts.',
    )
  })
})

const TITLE = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'What is wrong', within: 'what is wrong' })
const DAY = field({ type: 'date' }, { id: 48, name: 'Reported on', within: 'reported on' })
const HOURS = field({ type: 'number', decimals: 1, unit: 'h' } as never, { id: 50, name: 'Hours', within: 'hours' })
const home = table([TITLE, DAY, HOURS], { id: 3, standing: 41 } as never)

describe('how a view is drawn', () => {
  async function editor(over: object) {
    answering({
      'POST /api/trackers/1/tables/3/query': { sentence: [], shapes: [], groups: [], tallies: [], row_count: 0 },
    })
    const query = { fields: [{ field: 41, width: 100 }] }
    const props = { view: { tracker: 1, table: 3, query, draws: 'table' as const, most: 5, ...over } }
    const shown = put(ViewEditor, { props } as never, opened({ tables: [home] } as never))
    await settled()
    return shown
  }
  it('offers a list or dots for records, and says how many only where that is said', async () => {
    const shown = await editor({})
    expect(offered(shown, '[data-test=tile-draws]')).toEqual(['a list', 'dots, by their first two numbers'])
    expect(shown.find('[data-test=tile-most]').exists()).toBe(true)
    await choose(shown, '[data-test=tile-draws]', 'dots, by their first two numbers')
    expect(shown.emitted('change')?.at(-1)?.[0]).toMatchObject({ draws: 'dots' })
    expect((await editor({ draws: 'dots' })).find('[data-test=tile-most]').exists()).toBe(false)
  })
  it('offers what the server says of a cross-tab, and of days only how many', async () => {
    const cross = { fields: [], shape: { as: 'cross-tab', down: [] } }
    const shown = await editor({ query: cross })
    expect(offered(shown, '[data-test=tile-draws]')).toEqual(['a table', 'parts of a whole'])
    expect(shown.find('[data-test=tile-most]').exists()).toBe(false)
    const days = await editor({ query: { fields: [], shape: { as: 'calendar', dates: [{ start: 48 }] } } })
    expect(days.find('[data-test=tile-draws]').exists()).toBe(false)
    expect(days.text()).toContain('the next')
  })
})

describe('what comes onto a page', () => {
  it('begins days and dots without asking the server how a cross-tab would begin', async () => {
    const asked = answering({
      'GET /api/trackers': [{ id: 1, name: 'Paths' }],
      'GET /api/trackers/1': { id: 1, name: 'Paths', tables: [home] },
    })
    const shown = put(NewTile, { props: { keyOf: 4 } })
    await settled()
    for (const [sort, draws, shape] of [
      ['days', 'table', 'calendar'],
      ['dots', 'dots', undefined],
    ] as const) {
      await shown.find(`[data-sort=${sort}]`).trigger('click')
      await shown.find('[data-test=tile-begin]').trigger('click')
      await settled()
      const made = shown.emitted('made')?.at(-1)?.[0] as Tile
      expect(made.shows).toMatchObject({ as: 'view', draws })
      expect(made.shows.as === 'view' && made.shows.query.shape?.as).toBe(shape)
    }
    expect(asked.some((one) => one.method === 'POST')).toBe(false)
  })
})
