import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Query, ShapeOffer } from '@/api/types'
import { answering, changes, field, opened, put, settled, table } from '@/testing'
import { viewsOf, viewWith } from './beginning'
import HangsPage from './HangsPage.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const STATUS = field(
  {
    type: 'choice',
    options: [
      { id: 80, name: 'reported', hue: 'flint' },
      { id: 84, name: 'made good', hue: 'fern' },
    ],
  } as never,
  { id: 47, name: 'Status', within: 'status' },
)
const DUE = field({ type: 'date' } as never, { id: 49, name: 'Due', within: 'due' })
const offer = (name: string, begins: object, by: number[]): ShapeOffer =>
  ({ name, says: '', by, begins, missing: '', makes: null }) as unknown as ShapeOffer
const OFFERS = [
  offer('rows', { as: 'rows' }, []),
  offer('lanes', { as: 'lanes', by: 45 }, [45, 47]),
  offer('calendar', { as: 'calendar', dates: [{ start: 48 }] }, [49]),
]
const QUERY: Query = { fields: [{ field: 41, width: 200 }] }
const home = table([STATUS, DUE], { many: 'faults', name: 'Faults' } as never)

describe('what begins from a field', () => {
  it('is each shape that can stand by it, and groups of it, with the field shown', () => {
    const views = viewsOf(home, STATUS, QUERY, OFFERS)
    expect(views.map((one) => one.says)).toEqual(['lanes by status', 'rows grouped by status'])
    expect(views[0]!.query).toMatchObject({ shape: { as: 'lanes', by: 47 }, fields: [{ field: 41 }, { field: 47 }] })
    expect(viewsOf(home, DUE, QUERY, OFFERS).map((one) => [one.says, one.name])).toEqual([
      ['a calendar by due', 'Faults as calendar by due'],
      ['rows grouped by due', 'Faults by due'],
    ])
  })

  it('is of an option a view of those that have it', () => {
    const one = viewWith(home, STATUS, { id: 84, name: 'made good', hue: 'fern' }, QUERY)
    expect([one.says, one.name]).toEqual(['rows where status is made good', 'Faults, made good'])
    expect(one.query.condition).toEqual({ all: [{ test: { path: [47], of: 'any', check: { is: 'option', not: false, any: [84] } } }] })
  })
})

describe('what hangs on a table', () => {
  const view = (id: number, name: string, owner: number | null = null) => ({
    id,
    name,
    about: '',
    locked: false,
    owner,
    query: QUERY,
    given: [],
    withheld: false,
  })
  async function page(over: object = {}) {
    const tables = [{ ...home, id: 3, count: 9, views: [view(1, 'First'), view(2, 'Second'), view(3, 'Mine', 1)] }]
    const plan = {
      tables: [{ id: 3, name: 'Faults', seen_by: ['Steward', 'Warden'] }],
      links: [],
      forms: [{ form: 5, title: 'Report a fault', table: 3, open: true, week: 2 }],
      automations: [{ automation: 6, name: 'Tell the warden', table: 3, on: false, to: 'mail to the warden' }],
      pages: [],
    }
    const asked = answering({
      'GET /api/trackers/1/groundplan': plan,
      'GET /api/trackers/1/tables/3/highlights': [],
      'GET /api/trackers/1/tables/3/views': [{ view: 1, sentence: 'All 9 faults, as rows.', matching: 9 }],
      'POST /api/trackers/1/tables/3/query': { shapes: OFFERS, slices: [], groups: [] },
      'POST /api/trackers/1/tables/3/days': { days: [] },
      'POST /api/trackers/1/views/2/move': { seq: 8, did: 'changed the view Second' },
      'POST /api/trackers/1/parts': { seq: 9, made: 12 },
    })
    const shown = put(HangsPage, {}, opened({ tables, builds: true, steward: true, ...over } as never))
    await shown.vm.$router.push('/hangs/1/3')
    await settled()
    await settled()
    return { shown, asked }
  }

  it('is told in one place', async () => {
    const { shown } = await page()
    const words = shown.text().replace(/\s+/g, ' ')
    for (const says of [
      'All 9 faults, as rows.',
      'Report a fault, open, 2 this week',
      'Tell the warden: mail to the warden, off',
      'Steward, Warden',
      'Views of your own',
    ])
      expect(words).toContain(says)
  })

  it('has its views put in order by keys, those of the team among themselves', async () => {
    const { shown, asked } = await page()
    await shown.get('#view-2').trigger('keydown', { key: 'ArrowUp', altKey: true })
    await settled()
    await shown.get('#view-2').trigger('keydown', { key: 'ArrowDown', altKey: true })
    await settled()
    expect(
      changes(asked)
        .filter((one) => one.path.at(-1) === 'e' || one.path.endsWith('/move'))
        .map((one) => one.body),
    ).toEqual([{ to: 0 }])
    // One that stands alone has no order.
    expect(shown.find('#view-3').exists()).toBe(false)
  })

  it('begins a view in a shape, and goes there', async () => {
    const { shown, asked } = await page()
    await shown.get('[data-begin=lanes]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)!.body).toMatchObject({
      view: { name: 'Faults as lanes', personal: false, query: { shape: { as: 'lanes', by: 45 } } },
    })
    expect(shown.vm.$router.currentRoute.value.name).toBe('view')
  })
})
