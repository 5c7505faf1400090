import { beforeEach, expect, it, vi } from 'vitest'
import type { AreaView, HomeLine, HomeView } from '@/api/types'
import { answering, changes, put, refusing, settled } from '@/testing'
import { useSession } from '@/features/session/session'
import HomePage from './HomePage.vue'
import { moved } from './home'

beforeEach(() => {
  document.body.innerHTML = ''
  localStorage.clear()
  vi.unstubAllGlobals()
})

const STILL: HomeLine['report'] = {
  since: 'yesterday at 17:42',
  count: 0,
  says: [{ text: 'is as you left it.', tone: 'plain' }],
  strokes: [],
  loose: [],
}
const MOVED: HomeLine['report'] = {
  since: 'yesterday at 17:42',
  count: 3,
  says: [
    { text: '3 faults came in', tone: 'edit', table: 3 },
    { text: ', all by the form “Report a path fault”: ', tone: 'plain' },
    { text: 'Footbridge handrail gone', tone: 'edit', table: 3, record: 88 },
    { text: '.', tone: 'plain' },
  ],
  strokes: [0, 2, 0, 1],
  loose: [
    { sort: 'missing', words: '27 faults without a severity', count: 27, at: { table: 3, field: 9, record: 4 } },
    { sort: 'error', words: 'a formula has no value', count: 1 },
  ],
}
const NOTHING: HomeLine['on_you'] = { duties: [], more: 0 }
const line = (id: number, name: string, over: Partial<HomeLine> = {}): HomeLine =>
  ({ id, name, description: '', area: '', icon: '', hue: null, holds: '318 faults', stage: 'open', stage_word: '', report: STILL, on_you: NOTHING, looked: null, kept: false, kept_for: '', adds: [], ...over }) as HomeLine // prettier-ignore
const section = (name: string, lines: HomeLine[], area: number | null = null) => ({ name, about: '', area, lines })
const view = (sections: HomeView['sections'], out: HomeLine[] = [], on_you = NOTHING): HomeView => ({
  now: 'Thursday 26 November 2026, 08:31',
  title: 'Since yesterday at 17:42',
  since: 'looked',
  order: 'area',
  says: [
    { text: '3', tone: 'strong' },
    { text: ' things happened, told ', tone: 'plain' },
    { text: 'since you last looked', tone: 'edit', at: '/since' },
  ],
  sections,
  out,
  on_you,
})
const NADIA = { person: { id: 1, name: 'Nadia', initials: 'N' }, owns: true, stands_in: null }

async function home(answer: unknown, over: Record<string, unknown> = {}) {
  const asked = answering({ 'GET /api/home': answer, 'GET /api/session': { ...NADIA, owns: false }, ...over })
  await useSession().again()
  const shown = put(HomePage)
  await settled()
  return { shown, asked }
}

it('tells what happened in each tracker, area by area, in sentences that lead there', async () => {
  const { shown } = await home(
    view([section('Paths', [line(1, 'Path upkeep', { report: MOVED })], 1), section('In no area', [line(2, 'Store')])]),
  )
  expect(shown.get('h1').text()).toBe('Since yesterday at 17:42')
  expect(shown.findAll('.part').map((one) => one.get('h2').text())).toEqual(['Paths', 'In no area'])
  const told = shown.get('[data-tracker="Path upkeep"]')
  expect(told.get('.says').text()).toBe('3 faults came in, all by the form “Report a path fault”: Footbridge handrail gone.')
  expect(told.findAll('.says a')).toHaveLength(2)
  expect(told.findAll('.rule i')).toHaveLength(2)
  expect(told.findAll('.loose li').map((one) => one.text())).toEqual(['27 faults without a severity', 'a formula has no value'])
  const still = shown.get('[data-tracker="Store"]')
  expect(still.get('.title').text()).toContain('Store is as you left it.')
  expect(still.find('.rule').exists()).toBe(false)
})

it('tells what is on one, late ones with how late, and leads to it or to one’s rounds', async () => {
  const duty = (over: Partial<HomeLine['on_you']['duties'][number]>) => ({ name: 'Gate', tells: [], late: 0, late_text: '', due_text: '', why: 'as warden', ...over }) // prettier-ignore
  const on_you = {
    duties: [
      duty({ tracker: 1, table: 3, record: 88, late: 2, late_text: '2 days late' }),
      duty({ name: 'Post', task: 4, tells: ['Sallow Beck'] }),
    ],
    more: 2,
  }
  const { shown } = await home(view([section('', [line(1, 'Paths', { on_you }), line(2, 'Store')])], [], { duties: [duty({ task: 9, why: 'Idris gave it today' })], more: 0 })) // prettier-ignore
  const told = shown.get('[data-tracker=Paths] [data-test=on-you]')
  expect(told.findAll('li').map((one) => one.text())).toEqual([
    'Gate2 days late, as warden',
    'PostSallow Beck, as warden',
    'and 2 more in rounds',
  ])
  expect(told.findAll('a').map((one) => one.attributes('href'))).toEqual(['/record/1/3', '/rounds', '/rounds'])
  expect(told.get('a').classes()).toContain('late')
  expect(shown.find('[data-tracker=Store] [data-test=on-you]').exists()).toBe(false)
  expect(shown.get('section[aria-label="In no tracker"] li').text()).toBe('GateIdris gave it today')
})

it('finds by name, description and area, once there are many', async () => {
  expect((await home(view([section('', [line(1, 'One')])]))).shown.find('[data-test=find-tracker]').exists()).toBe(false)
  const lines = [line(1, 'One'), line(2, 'Two', { description: 'Bridges of the upland' }), line(3, 'Three', { area: 'Bridges' }), line(4, 'Four')] // prettier-ignore
  const { shown } = await home(view([section('', lines)]))
  const find = shown.get<HTMLInputElement>('[data-test=find-tracker]')
  await find.setValue(' BRIDGES ')
  expect(shown.findAll('.entry').map((one) => one.attributes('data-tracker'))).toEqual(['Two', 'Three'])
  await find.setValue('nowhere')
  expect(shown.text()).toContain('No tracker is called like that.')
})

it('says what to do where nothing is open to one, and what went wrong where it is not known', async () => {
  expect((await home(view([]))).shown.text()).toContain('ask the person who runs one to give you a role in it')
  const { shown } = await home(refusing(503, 'What holds the data does not answer at the moment.'))
  expect(shown.get('[role=alert]').text()).toContain('does not answer')
  expect(shown.text()).not.toContain('No tracker is open to you')
})

it('lists what was put away apart', async () => {
  const { shown } = await home(view([section('', [line(1, 'One')])], [line(2, 'Old walls', { stage: 'away', stage_word: 'put away' })]))
  expect(shown.get('[data-test=out]').text()).toContain('Out of the way: 1')
  expect(shown.get('[data-test=out]').text()).toContain('put away; 318 faults')
})

it('tells the team’s owners of every tracker that they are not in, and others nothing of it', async () => {
  const others = [
    { id: 9, name: 'Birds of the fell', size: '12 records in 1 table', stewards: ['Wren Castellane'], last: '' },
    { id: 10, name: 'Walls', size: '0 records in 0 tables', stewards: [], last: '3 Nov 2026, 09:00' },
  ]
  const told = { 'GET /api/trackers/others': others, 'GET /api/team/areas': [], 'GET /api/team': { groups: [] } }
  const { shown } = await home(view([]), { ...told, 'GET /api/session': NADIA })
  const words = shown.get('[data-test=others]').text()
  expect(words).toContain('Trackers of the team that you do not work in: 2')
  expect(words).toContain('run by Wren Castellane')
  expect(words).toContain('run by nobody any more, last looked at 3 Nov 2026, 09:00')
  expect((await home(view([]), told)).shown.find('[data-test=others]').exists()).toBe(false)
})

const NEIGHBOURS: AreaView = {
  id: 2,
  name: 'Neighbours',
  about: '',
  opens_say: '',
  area: { id: 2, name: 'Neighbours', about: '', trackers: [4, 5], opens: {} },
  trackers: [
    { id: 4, name: 'Repair mornings' },
    { id: 5, name: 'Village orchard' },
  ],
}
const OWNING = {
  'GET /api/session': NADIA,
  'GET /api/trackers/others': [],
  'GET /api/team/areas': [NEIGHBOURS],
  'GET /api/team': { groups: [{ id: 7, name: 'Office', members: [6], pins: [5] }] },
}

it('lets an owner say in which order an area stands, and take that back', async () => {
  const { shown, asked } = await home(view([section('Neighbours', [line(4, 'Repair mornings')], 2)]), {
    ...OWNING,
    'PUT /api/team/areas/2': { seq: 9, did: 'put what lies in Neighbours in another order' },
    'POST /api/team/undo/9': { seq: 10, did: 'put what lies in Neighbours in another order' },
  })
  await shown.get('[data-test=area]').trigger('click')
  await settled()
  await shown.get('[aria-label="Repair mornings further down"]').trigger('click')
  await shown.get('[data-test=do-it]').trigger('click')
  await settled()
  expect(changes(asked)[0]!.body).toMatchObject({ name: 'Neighbours', trackers: [5, 4], opens: {} })
  await shown.get('[data-test=undo-line] button').trigger('click')
  await settled()
  expect(changes(asked)[1]!.path).toBe('/api/team/undo/9')
})

it('keeps a tracker on top for oneself, and as an owner for a group', async () => {
  const { shown, asked } = await home(view([section('', [line(5, 'Village orchard')])]), { ...OWNING, 'PUT /api/trackers/5/top': null })
  await shown.get('[data-test=entry-more]').trigger('click')
  await settled()
  const offered = [...document.querySelectorAll<HTMLElement>('[data-test=popup] button')]
  expect(offered.map((one) => one.textContent)).toEqual(['Keep it on top for me', 'No more on top for Office'])
  offered[1]!.click()
  await settled()
  expect(changes(asked).map((one) => one.body)).toEqual([{ on: false, group: 7 }])
})

it('moves one of a list', () => {
  expect(moved([1, 2, 3], 2, -1)).toEqual([1, 3, 2])
  expect(moved([1, 2, 3], 0, -1)).toEqual([1, 2, 3])
})
