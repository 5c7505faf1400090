import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { PersonLine, TeamView } from '@/api/types'
import { answering, changes, choose, put, refusing, settled } from '@/testing'
import { useSession } from '@/features/session/session'
import LeavePanel from './LeavePanel.vue'
import LetIn from './LetIn.vue'
import PeoplePage from './PeoplePage.vue'
import ShareBars from './ShareBars.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const shares = { look: 210, add: 500, change: 160, remove: 0, build: false, by: ['Warden'] }
const line = (id: number, name: string, over: Partial<PersonLine> = {}): PersonLine => ({
  person: { id, name, initials: 'X' },
  about: 'warden',
  mail: `p${id}@orrindale-paths.example`,
  phone: '',
  owner: id === 1,
  standing: 'here',
  stations: [],
  last: 'now',
  reaches: [{ tracker: 1, shares, words: 'Warden: looks at 21 %' }],
  ...over,
})
const invited = line(3, 'Kester Lowe', {
  standing: 'invited',
  reaches: [],
  stations: [
    { words: 'mailed 24 Nov', done: true },
    { words: 'opened', done: false },
    { words: 'chooses a way in until 8 Dec', done: false },
    { words: 'here', done: false },
  ],
})
const TEAM: TeamView = {
  look: {},
  sending: {},
  name: 'Orrindale Paths Trust',
  says: '2 people and 1 on the way, in 1 tracker.',
  owns: true,
  lets_in: true,
  people: [line(1, 'Nadia Ferreira-Holt'), line(2, 'Tamsin Oake'), invited, line(4, 'Old Hand', { person: { id: 4, name: 'Old Hand', initials: 'OH', left: true } as never, standing: 'left', reaches: [] })], // prettier-ignore
  groups: [{ id: 7, name: 'Wardens', members: [2, 4], pins: [] }],
  trackers: [{ id: 1, name: 'Path upkeep' }],
}
const ME = { person: { id: 1, name: 'Nadia Ferreira-Holt', initials: 'NF' }, team: '', mail: '', about: '', phone: '', zone: '', owns: true, lets_in: true, post_room: true, stands_in: null } // prettier-ignore

async function page(answers: Record<string, unknown> = {}, team: Partial<TeamView> = {}) {
  const asked = answering({ 'GET /api/session': ME, 'GET /api/team': { ...TEAM, ...team }, 'GET /api/team/log': [], ...answers })
  await useSession().again()
  const shown = put(PeoplePage)
  await settled()
  return { shown, asked }
}

describe('the people of a team', () => {
  it('stand once, under the first of their groups; whoever has left beneath all', async () => {
    const { shown } = await page()
    const parts = shown.findAll('.part').map((part) => [part.get('h2').text(), ...part.findAll('.name').map((name) => name.text())])
    expect(parts).toEqual([
      ['Wardens', 'Tamsin Oake'],
      ['In no group', 'Nadia Ferreira-Holt', 'Kester Lowe'],
      ['Have left', 'Old Hand'],
    ])
  })

  it('are compared by bars that say in words what they reach', async () => {
    const { shown } = await page()
    const reach = shown.get('[data-person="Tamsin Oake"] [role=img]')
    expect(reach.attributes('aria-label')).toBe('Warden: looks at 21 %')
    expect(reach.findAll('i').map((bar) => bar.attributes('style'))).toEqual([
      'width: 21%;',
      'width: 50%;',
      'width: 16%;',
      'width: 0%;',
      'width: 0%;',
    ])
    expect(put(ShareBars, { props: { reaches: undefined } }).text()).toBe('not in it')
  })

  it('that are invited show where they got stuck, and are handed a link that is shown once', async () => {
    const { shown, asked } = await page({ 'POST /api/team/people/3/invitation': { link: 'http://here.example/come-in/abc' } })
    const kester = shown.get('[data-person="Kester Lowe"]')
    expect(kester.findAll('.stations li').map((one) => one.classes('done'))).toEqual([true, false, false, false])
    await kester.get('[data-test=make-link]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)?.body).toEqual({ mail: false })
    expect(shown.get('[data-test=invitation-link]').text()).toContain('http://here.example/come-in/abc')
  })

  it('are changed by whoever owns the team, and what was done can be taken back', async () => {
    const { shown, asked } = await page({
      'PUT /api/team/people/2': { seq: 9, did: 'made Tamsin Oake an owner of the team' },
      'POST /api/team/undo/9': { seq: 10, did: 'made Tamsin Oake no owner of the team any more' },
    })
    await shown.get('[data-person="Tamsin Oake"] .name').trigger('click')
    await shown.get('[data-test=owner]').setValue(true)
    await shown.get('[data-facts="2"] form').trigger('submit')
    await settled()
    expect(changes(asked).at(-1)?.body).toMatchObject({ name: 'Tamsin Oake', owner: true })
    expect(shown.get('[data-test=undo-line]').text()).toContain('You made Tamsin Oake an owner of the team.')
    await shown.get('[data-test=undo-line] button').trigger('click')
    await settled()
    expect(changes(asked).at(-1)?.path).toBe('/api/team/undo/9')
    expect(shown.get('[data-test=undo-line]').text()).not.toContain('Undo')
  })

  it('are looked at alone by whoever neither owns it nor lets people in', async () => {
    const { shown } = await page({}, { owns: false, lets_in: false, groups: [{ id: 7, name: 'Wardens', members: [2], pins: [] }] })
    expect(shown.find('[data-test=let-in]').exists()).toBe(false)
    expect(shown.find('[data-test=add-group]').exists()).toBe(false)
    expect(shown.find('h2 button').exists()).toBe(false)
    await shown.get('[data-person="Tamsin Oake"] .name').trigger('click')
    expect(shown.find('[data-facts="2"] form').exists()).toBe(false)
  })

  it('are put into groups, which hold their roles', async () => {
    const { shown, asked } = await page({ 'PUT /api/team/groups/7': { seq: 9, did: 'put 1 person into Wardens' } })
    shown.get<HTMLElement>('h2 button').element.focus()
    await shown.get('h2 button').trigger('click')
    // Whoever has left is there to be taken out.
    expect(shown.find('[data-member="Old Hand"]').exists()).toBe(true)
    await shown.get('[data-member="Kester Lowe"]').setValue(true)
    await shown.get('[data-test=rehearsal] .v-btn').trigger('click')
    await settled()
    expect(changes(asked).at(-1)?.body).toEqual({ name: 'Wardens', members: [2, 4, 3] })
    // One goes on where one opened it.
    expect(document.activeElement?.textContent).toBe('Wardens')
  })
})

describe('letting people in', () => {
  const rehearsed = { done: null, people: [], says: '2 people would be named, 1 would get a mail.' }

  it('reads each line, rehearses, and names them', async () => {
    const asked = answering({ 'POST /api/team/people': rehearsed })
    const shown = put(LetIn, { props: { known: ['p2@orrindale-paths.example'] } })
    await shown.get('[data-test=let-in-lines]').setValue('Kester Lowe, kester@walkers.example\nPim Reed')
    await new Promise((done) => setTimeout(done, 350))
    await settled()
    expect(shown.text()).toContain('2 people would be named, 1 would get a mail.')
    expect(shown.text()).toContain('none: hand over a link')
    await shown.get('[data-test=rehearsal] .v-btn').trigger('click')
    await settled()
    expect(changes(asked).map((one) => (one.body as { rehearse: boolean }).rehearse)).toEqual([true, false])
    expect(shown.emitted('done')).toEqual([[rehearsed]])
  })

  it('says of each line what is wrong with it, once, and names nobody', async () => {
    const faults = [{ pointer: '/1/mail', message: 'Bex Lindqvist has this address already.' }]
    answering({ 'POST /api/team/people': refusing(409, 'Bex Lindqvist has this address already.', faults) })
    const shown = put(LetIn, { props: { known: ['p2@orrindale-paths.example'] } })
    await shown.get('[data-test=let-in-lines]').setValue('Kester Lowe\nBex, bex@orrindale-paths.example')
    await new Promise((done) => setTimeout(done, 350))
    await settled()
    expect(shown.findAll('tbody tr').map((row) => row.find('.fault-text').exists())).toEqual([false, true])
    expect(shown.findAll('.fault-text')).toHaveLength(1)
    expect(shown.get('[data-test=rehearsal] .v-btn').attributes('disabled')).toBeDefined()
  })
})

describe('somebody who leaves', () => {
  const held = { of: 'field', table: 1, field: 20 }
  const roles = { of: 'parts', sort: 'role' }
  const trackers = [
    {
      tracker: 1,
      name: 'Path upkeep',
      only_steward: true,
      holdings: [
        { held, words: '2 districts name them as warden', count: 2 },
        { held: roles, words: '1 role: Steward', count: 1 },
      ],
    },
  ]
  const inTeam = [{ held: 'tasks', words: '2 things that were asked of them are not done', count: 2 }]

  async function leaving(answers: Record<string, unknown> = {}) {
    const asked = answering({ 'GET /api/session': ME, 'GET /api/team/people/2/holdings': { trackers, team: inTeam }, ...answers })
    await useSession().again()
    const shown = put(LeavePanel, { props: { one: TEAM.people[1]!, people: TEAM.people } })
    await settled()
    return { shown, asked }
  }

  it('is not let go before each tracker has somebody who owns it', async () => {
    const { shown, asked } = await leaving({ 'PUT /api/team/people/2/standing': { seq: 4, did: 'let Tamsin Oake go' } })
    expect(shown.text()).toContain('5 things hang on them; 3 of 3 sorts go to nobody.')
    expect(shown.text()).toContain('Nobody else is a steward of Path upkeep.')
    const act = () => shown.get('[data-test=rehearsal] .v-btn')
    expect(act().attributes('disabled')).toBeDefined()
    await choose(shown, '[data-test=give-all]', 'Nadia Ferreira-Holt')
    expect(act().text()).toBe('Hand over, let them go')
    await act().trigger('click')
    await settled()
    const hand_over = [
      { tracker: 1, held, to: 1 },
      { tracker: 1, held: roles, to: 1 },
    ]
    expect(changes(asked).at(-1)?.body).toEqual({ here: false, hand_over, tasks_to: 1, dashboards_to: null })
    expect(shown.emitted('done')).toEqual([[{ seq: 4, did: 'let Tamsin Oake go' }]])
  })
})
