import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Groundplan, Tracker } from '@/api/types'
import { answering, changes, opened, put, refusing, settled } from '@/testing'
import GroundplanPage from './GroundplanPage.vue'
import PlanList from './PlanList.vue'
import PublishSheet from './PublishSheet.vue'
import TrackerSheet from './TrackerSheet.vue'

vi.mock('vue-router', async (original) => ({
  ...(await original<typeof import('vue-router')>()),
  useRoute: () => ({ params: { tracker: '1' }, query: {} }),
}))
beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const tracker = (over: object = {}) =>
  ({ id: 1, name: 'Path upkeep', description: '', area: 1, area_name: 'Paths', icon: 'list', hue: null, steward: true, builds: true, tables: [{ id: 3, name: 'Faults', one: 'fault', count: 318, views: [] }], forms: [], people: [], views: [], ...over }) as unknown as Tracker // prettier-ignore

describe('the name and looks of a tracker', () => {
  it('keeps all of it in one step and closes', async () => {
    const asked = answering({ 'PUT /api/trackers/1': { seq: 9, did: 'named it' }, 'GET /api/trackers/1': tracker() })
    const shown = put(TrackerSheet, { props: { tracker: tracker() } })
    await shown.findAll('input')[0]!.setValue('Ways and bridges')
    await shown.get('[aria-label="Colour: gorse"]').trigger('click')
    await shown
      .findAll('button')
      .find((one) => one.text() === 'Keep')!
      .trigger('click')
    await settled()
    expect(changes(asked)[0]!.body).toEqual({ name: 'Ways and bridges', description: '', icon: 'list', hue: 'gorse' })
    expect(shown.emitted('close')).toHaveLength(1)
  })

  it('can not be without a name, and stays open with what is wrong', async () => {
    answering({ 'PUT /api/trackers/1': refusing(422, 'A name has at most 80 characters.') })
    const shown = put(TrackerSheet, { props: { tracker: tracker() } })
    const keep = () => shown.findAll('button').find((one) => one.text() === 'Keep')!
    await shown.findAll('input')[0]!.setValue('  ')
    expect(keep().attributes('disabled')).toBeDefined()
    await shown.findAll('input')[0]!.setValue('x'.repeat(81))
    await keep().trigger('click')
    await settled()
    expect(shown.get('[role=alert]').text()).toContain('at most 80')
    expect(shown.emitted('close')).toBeUndefined()
  })
})

describe('publishing as a template', () => {
  it('says what it will tell others, with records only where a steward says so', async () => {
    const asked = answering({ 'POST /api/trackers/1/template': {} })
    const shown = put(PublishSheet, { props: { tracker: tracker() } })
    expect(shown.text()).toContain('318 records: whoever uses it sees them')
    await shown.get<HTMLInputElement>('[data-test=template-title]').setValue('Upkeep of ways')
    await shown.get('[data-test=publish-yes]').trigger('click')
    await settled()
    expect(changes(asked)[0]!.body).toMatchObject({ title: 'Upkeep of ways', records: false })
    expect(shown.text()).toContain('“Upkeep of ways” is published.')
    expect(
      put(PublishSheet, { props: { tracker: tracker({ steward: false }) } })
        .find('[data-test=template-records]')
        .exists(),
    ).toBe(false)
  })
})

const plan = (over: Partial<Groundplan> = {}): Groundplan =>
  ({
    tables: [
      { id: 3, name: 'Faults', heading: '', count: 318, week: 3, came: '3 faults', column: 0, place: 0, seen_by: [] },
      { id: 2, name: 'Sections', heading: '', count: 64, week: 0, came: '', column: 1, place: 0, seen_by: [] },
    ],
    links: [{ from: 3, to: 2, name: 'Section' }],
    forms: [{ form: 120, title: 'Report a fault', table: 3, open: true, week: 2 }],
    automations: [{ automation: 8, name: 'Tell the warden', table: 3, on: false, to: 'mail to the warden' }],
    pages: [{ page: 124, title: 'Faults in the parish', tables: [3], open: true, to: '1 named address' }],
    says: '2 tables with 382 records.',
    ends: [{ sort: 'missing', words: '2 faults without “Section”', count: 2, at: { table: 3, field: 42, record: 7 } }],
    ends_say: '1 loose end waits',
    ...over,
  }) as Groundplan

it('the plan as a list tells of each table what comes in, what it links to, what goes out, what is loose', () => {
  const shown = put(PlanList, { props: { plan: plan(), tracker: 1 } })
  const [faults, sections] = shown.findAll('li').map((one) => one.text().replace(/\s+/g, ' '))
  expect(faults).toContain('comes in by the form Report a fault, 2 this week')
  expect(faults).toContain('links to Sections by section')
  expect(faults).toContain('Tell the warden: mail to the warden, off')
  expect(faults).toContain('shown outside on Faults in the parish, open, for 1 named address')
  expect(faults).toContain('2 faults without “Section”')
  expect(sections).toBe('Sections 64what hangs on it, and what to begin')
})

describe('the groundplan', () => {
  async function page(answer: Groundplan, over: object = {}, more: Record<string, unknown> = {}) {
    const asked = answering({ 'GET /api/trackers/1/groundplan': answer, 'GET /api/trackers/1/bin': [], ...more })
    const shown = put(GroundplanPage, {}, opened(tracker({ tables: [{ id: 3, name: 'Faults', one: 'fault', count: 318, views: [] }, { id: 2, name: 'Sections', one: 'section', count: 64, views: [] }], ...over }) as never)) // prettier-ignore
    await settled()
    return { shown, asked }
  }

  it('reads as core wrote it: what there is, what came, what is loose', async () => {
    const { shown } = await page(plan())
    expect(shown.get('.sentence').text().replace(/\s+/g, ' ')).toBe(
      '2 tables with 382 records. This week came in 3 faults. 1 loose end waits.',
    )
    await shown.get('[data-test=loose-ends]').trigger('click')
    expect(shown.get('[data-test=ends]').text()).toContain('2 faults without “Section”')
  })

  it('says nothing of a quiet week or of ends that are tied', async () => {
    const quiet = plan({ ends: [], ends_say: '', tables: plan().tables.map((one) => ({ ...one, week: 0, came: '' })) })
    const { shown } = await page(quiet)
    expect(shown.get('.sentence').text()).toBe('2 tables with 382 records.')
  })

  it('offers building to whoever builds', async () => {
    expect((await page(plan())).shown.find('[data-test=add-table]').exists()).toBe(true)
    document.body.innerHTML = ''
    const { shown, asked } = await page(plan(), { builds: false })
    expect(shown.find('[data-test=add-table]').exists()).toBe(false)
    expect(asked.some((one) => one.path.endsWith('/bin'))).toBe(false)
  })

  it('makes a table of each name that is given', async () => {
    const { shown, asked } = await page(
      plan(),
      {},
      { 'POST /api/trackers/1/tables': { seq: 5, made: 9, did: 'made it' }, 'GET /api/trackers/1': tracker() },
    )
    await shown.get('[data-test=add-table]').trigger('click')
    await shown.get<HTMLInputElement>('[data-test=new-table-name]').setValue('Wells, Keepers,  ')
    await shown.get('.adding').trigger('submit')
    await settled()
    expect(changes(asked).map((one) => (one.body as { name: string }).name)).toEqual(['Wells', 'Keepers'])
    expect(shown.find('.adding').exists()).toBe(false)
  })
})
