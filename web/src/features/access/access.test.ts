import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Role, TableRights } from '@/api/types'
import { answering, changes, choose, chosen, field, offered, opened, put, refusing, settled, table } from '@/testing'
import AccessPage from './AccessPage.vue'
import OwnRecords from './OwnRecords.vue'
import RightsEditor from './RightsEditor.vue'
import RoleSheet from './RoleSheet.vue'

vi.mock('vue-router', async (original) => ({
  ...(await original<typeof import('vue-router')>()),
  useRoute: () => ({ params: { tracker: '1' } }),
}))
beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const faults = table([field({ type: 'yes_no' }, { id: 40, name: 'Closed' })])
const people = [
  { id: 1, name: 'Nadia', initials: 'N' },
  { id: 2, name: 'Tamsin', initials: 'T' },
]
const rights = (over: Partial<TableRights> = {}): TableRights => ({
  look: 'all',
  add: false,
  change: 'none',
  remove: 'none',
  fields: {},
  released: [],
  ...over,
})
const role = (over: object = {}): Role =>
  ({
    role: { id: 111, name: 'Warden', base: 'own', members: [2], tables: {}, ...over },
    sentences: [{ table: 3, text: 'Sees all faults.' }],
    rights: { 3: rights() },
  }) as unknown as Role

async function page(answers: Record<string, unknown>) {
  const asked = answering(answers)
  const shown = put(AccessPage, {}, opened({ tables: [faults], people } as never))
  await settled()
  return { shown, asked }
}

const told = {
  says: ['1 person sees less.'],
  people: [
    {
      person: 2,
      name: 'Tamsin',
      shut_out: false,
      tables: [
        {
          table: 3,
          look: { before: 67, after: 26 },
          change: { before: 67, after: 26 },
          remove: { before: 0, after: 0 },
          of: 320,
          gained: [],
          lost: [{ id: 5, name: 'Gate off its hinge' }],
          fields_gained: [],
          fields_lost: [],
          words: 'sees 67 → 26, changes 67 → 26',
        },
      ],
    },
  ],
}
const rehearsing = { 'POST /api/trackers/1/roles/111/rehearsal': told }

describe('who may do what', () => {
  it('reads as a sentence for each role and table, with its members', async () => {
    const { shown } = await page({ 'GET /api/trackers/1/roles': [role()] })
    const row = shown.get('[data-role=Warden]').text()
    expect(row).toContain('Tamsin')
    expect(row).toContain('Sees all faults.')
  })

  it('says that nobody holds a role yet', async () => {
    const { shown } = await page({ 'GET /api/trackers/1/roles': [role({ members: [] })] })
    expect(shown.get('[data-role=Warden]').text()).toContain('Nobody yet')
  })

  it('says what went wrong in place of an empty table', async () => {
    const { shown } = await page({ 'GET /api/trackers/1/roles': refusing(503, 'What holds the data does not answer at the moment.') })
    expect(shown.text()).toContain('does not answer')
    expect(shown.find('table').exists()).toBe(false)
  })

  it('gives a steward everything, which nobody can edit', async () => {
    const { shown } = await page({ 'GET /api/trackers/1/roles': [role({ name: 'Steward', base: 'steward' })] })
    expect(shown.get('[data-role=Steward]').findAll('td button')).toHaveLength(0)
  })
})

describe('what is somebody’s own', () => {
  const mail = field({ type: 'email' }, { id: 51, name: 'Mail' })
  const by = { made: true, address: null, entered_for: null }
  const crew = table([mail], { mine: { by, says: 'A fault is somebody’s own where they made it.' } } as never)

  it('is said under the roles for each table, and rehearsed before it is another', async () => {
    const asked = answering({
      'GET /api/trackers/1/roles': [role()],
      'POST /api/trackers/1/tables/3/mine/rehearsal': { says: ['1 person sees more.'], people: [], carries: [] },
      'PUT /api/trackers/1/tables/3/mine': { seq: 4, did: '' },
    })
    const shown = put(AccessPage, {}, opened({ tables: [crew], people } as never))
    await settled()
    await shown.get('[data-own=Faults] button').trigger('click')
    await settled()
    const sheet = shown.findComponent(OwnRecords)
    expect(offered(sheet, '[data-test=own-by-own]')).toEqual(['no field', 'Mail'])
    await choose(sheet, '[data-test=own-by-own]', 'Mail')
    await sheet.get('[data-test=own-made]').setValue(false)
    await sheet.get('form').trigger('submit')
    await settled()
    expect(shown.text()).toContain('1 person sees more.')
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    const wanted = { mine: { ...by, made: false, own: 51 } }
    expect(changes(asked).map((one) => [one.method, one.body])).toEqual([
      ['POST', wanted],
      ['PUT', wanted],
    ])
  })

  it('is carried along a link with one press', async () => {
    const carry = { table: 3, rights: rights({ look: 'none' }), says: 'Faults hang on sections.' }
    const { shown, asked } = await page({
      'GET /api/trackers/1/roles': [role()],
      'POST /api/trackers/1/roles/111/rehearsal': { ...told, carries: [carry] },
      'POST /api/trackers/1/parts/look': {},
    })
    await shown.get('[data-name=Warden]').trigger('click')
    await settled()
    await shown.findComponent(RoleSheet).get('[data-test=drop-role]').trigger('click')
    await settled()
    await shown.get('[data-test=carry] button').trigger('click')
    await settled()
    expect(changes(asked).at(-2)?.body).toMatchObject({ role: { tables: { 3: { look: 'none' } } } })
  })
})

describe('the roles of a tracker', () => {
  const roles = { 'GET /api/trackers/1/roles': [role({ about: 'Her own district', tables: { 3: rights() } })] }
  const made = { 'POST /api/trackers/1/parts': { seq: 4, made: 112, did: 'made the role Crew' } }
  const name = (shown: Awaited<ReturnType<typeof page>>['shown'], css: string, text: string) => shown.get(css).setValue(text)

  it('makes one from a plain beginning, or as another stands', async () => {
    const { shown, asked } = await page({ ...roles, ...made })
    await shown.get('[data-test=add-role]').trigger('click')
    await name(shown, '[data-test=role-name]', 'Crew')
    await name(shown, '[data-test=role-about]', 'whoever is on a work order')
    expect(offered(shown, '[data-test=role-begins]')).toEqual([
      'Does what stands here and nothing else.',
      'Looks at everything, changes nothing.',
      'As Warden stands',
    ])
    await shown.get('[data-test=role-sheet]').trigger('submit')
    await settled()
    const plain = { name: 'Crew', about: 'whoever is on a work order', base: 'own', tables: {}, members: [], groups: [] }
    expect(changes(asked).at(-1)?.body).toEqual({ role: plain })
    await shown.get('[data-test=add-role]').trigger('click')
    await name(shown, '[data-test=role-name]', 'Deputies')
    await choose(shown, '[data-test=role-begins]', 'As Warden stands')
    await shown.get('[data-test=role-sheet]').trigger('submit')
    await settled()
    expect(changes(asked).at(-1)?.body).toEqual({ role: { ...plain, name: 'Deputies', about: '', tables: { 3: rights() } } })
  })

  it('names one, makes another like it, takes it away', async () => {
    const answers = {
      ...rehearsing,
      'PUT /api/trackers/1/parts/role/111': { seq: 5, did: '' },
      'DELETE /api/trackers/1/parts/role/111': { seq: 6, did: '' },
    }
    const { shown, asked } = await page({ ...roles, ...made, ...answers })
    expect(shown.text()).toContain('Her own district')
    await shown.get('[data-name=Warden]').trigger('click')
    await settled()
    await shown.findComponent(RoleSheet).get('[data-test=role-name]').setValue('Wardens')
    await shown.findComponent(RoleSheet).get('[data-test=role-sheet]').trigger('submit')
    await settled()
    expect(changes(asked).at(-1)?.body).toMatchObject({ role: { name: 'Wardens', about: 'Her own district', members: [2] } })
    await shown.get('[data-name=Warden]').trigger('click')
    await settled()
    await shown.findComponent(RoleSheet).get('[data-test=double-role]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)?.body).toMatchObject({ role: { name: 'Warden, another', members: [], tables: { 3: rights() } } })
    await shown.get('[data-name=Warden]').trigger('click')
    await settled()
    await shown.findComponent(RoleSheet).get('[data-test=drop-role]').trigger('click')
    await settled()
    // It is rehearsed first: nothing is taken away before one says so.
    expect(changes(asked).at(-1)).toMatchObject({ path: '/api/trackers/1/roles/111/rehearsal', body: { role: null } })
    await shown.get('[data-test=rehearsal] .v-btn').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ method: 'DELETE', path: '/api/trackers/1/parts/role/111' })
  })

  it('stays open where a name is refused', async () => {
    const { shown } = await page({ ...roles, 'POST /api/trackers/1/parts': refusing(422, 'Give it a name.') })
    await shown.get('[data-test=add-role]').trigger('click')
    await name(shown, '[data-test=role-name]', 'Crew')
    await shown.get('[data-test=role-sheet]').trigger('submit')
    await settled()
    expect(shown.text()).toContain('Give it a name.')
    expect(shown.get<HTMLInputElement>('[data-test=role-name]').element.value).toBe('Crew')
  })
})

describe('the rights of a role in a table', () => {
  function editing(over: Partial<TableRights> = {}) {
    return put(RightsEditor, { props: { table: faults, rights: rights(over) } }, opened({ tables: [faults], people } as never))
  }

  it('are kept as one chose them', async () => {
    answering({})
    const shown = editing()
    await choose(shown, '[data-test=reach-change]', 'their own faults')
    await shown.get('.add input').setValue(true)
    await shown
      .findAll('button')
      .find((b) => b.text().startsWith('Change'))!
      .trigger('click')
    expect(shown.emitted('keep')![0]![0]).toMatchObject({ look: 'all', change: 'mine', add: true, remove: 'none' })
  })
})

describe('a tracker that its stewards alone see', () => {
  const steward = role({ id: 110, name: 'Steward', base: 'steward', members: [1] })

  it('is opened to a group or a person in one sentence', async () => {
    const asked = answering({
      'GET /api/trackers/1/roles': [steward, role({ members: [] })],
      'POST /api/trackers/1/parts': { seq: 4, made: 112, did: 'made the role Wardens' },
    })
    const groups = [{ id: 7, name: 'Wardens' }]
    const shown = put(AccessPage, {}, opened({ tables: [faults], people, groups } as never))
    await settled()
    expect(offered(shown, '[data-test=open-whom]')).toEqual(['Wardens', 'Nadia', 'Tamsin'])
    expect(offered(shown, '[data-test=open-base]')).toEqual(['Warden', 'Looks at everything, changes nothing.'])
    await choose(shown, '[data-test=open-base]', 'Looks at everything, changes nothing.')
    expect(shown.get('[data-test=open-it]').attributes('disabled')).toBeDefined()
    await choose(shown, '[data-test=open-whom]', 'Wardens')
    await shown.get('[data-test=open-it]').trigger('click')
    await settled()
    const body = { name: 'Wardens', about: '', base: 'reader', tables: {}, groups: [7], members: [] }
    expect(changes(asked).at(-1)?.body).toEqual({ role: body })
  })

  it('is opened as a role says that it has already, without making one', async () => {
    const asked = answering({
      'GET /api/trackers/1/roles': [steward, role({ members: [], about: 'Mends what waits.' })],
      'PUT /api/trackers/1/parts/role/111': { seq: 4, did: 'changed the role Warden' },
    })
    const shown = put(AccessPage, {}, opened({ tables: [faults], people, groups: [] } as never))
    await settled()
    expect(chosen(shown, '[data-test=open-base]')).toBe('Warden: Mends what waits.')
    await choose(shown, '[data-test=open-whom]', 'Tamsin')
    await shown.get('[data-test=open-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ method: 'PUT', body: { role: { name: 'Warden', members: [2], groups: [] } } })
  })

  it('says no such thing once somebody else holds a role in it', async () => {
    const { shown } = await page({ 'GET /api/trackers/1/roles': [steward, role()] })
    expect(shown.find('[data-test=open-to]').exists()).toBe(false)
  })
})

describe('another state of a role', () => {
  async function proposing(answers: Record<string, unknown> = {}) {
    const seen = { ...role({ tables: { 3: rights({ look: 'mine' }) } }), sentences: [{ table: 3, text: 'Sees their own faults.' }] }
    const all = {
      'GET /api/trackers/1/roles': [role()],
      'POST /api/trackers/1/parts/look': { faults: [], view: { role: seen } },
      ...rehearsing,
      ...answers,
    }
    const { shown, asked } = await page(all)
    await shown.get('td button').trigger('click')
    await settled()
    shown.findComponent(RightsEditor).vm.$emit('keep', rights({ look: 'mine' }))
    await settled()
    return { shown, asked }
  }

  it('is said person by person before it holds, with what is struck and what takes its place', async () => {
    const { shown, asked } = await proposing({ 'PUT /api/trackers/1/parts/role/111': { seq: 3, did: 'changed the role Warden' } })
    const panel = shown.get('[data-test=rehearsal]')
    expect(panel.text()).toContain('1 person sees less.')
    expect(panel.text()).toContain('sees 67 → 26, changes 67 → 26')
    expect(panel.text()).toContain('No more: Gate off its hinge')
    expect(panel.findAll('.bar i').map((bar) => bar.attributes('style'))).toEqual(['width: 12.8125%;', 'width: 0%;'])
    expect(shown.get('td s').text()).toBe('Sees all faults.')
    expect(shown.get('td .then').text()).toBe('Sees their own faults.')
    expect(changes(asked).some((one) => one.method === 'PUT')).toBe(false)
    await panel.get('.v-btn').trigger('click')
    await settled()
    // The rest of the role is taken along.
    expect(changes(asked).at(-1)).toMatchObject({
      path: '/api/trackers/1/parts/role/111',
      body: { role: { name: 'Warden', base: 'own', members: [2], tables: { 3: { look: 'mine' } } } },
    })
    expect(shown.find('[data-test=rehearsal]').exists()).toBe(false)
  })

  it('is gone on with from what is proposed, and left without a trace', async () => {
    const { shown, asked } = await proposing()
    shown.findComponent(RightsEditor).vm.$emit('keep', rights({ look: 'mine', add: true }))
    await settled()
    const rehearsed = changes(asked).filter((one) => one.path.endsWith('/rehearsal'))
    expect(rehearsed.map((one) => (one.body as { role: { tables: object } }).role.tables)).toMatchObject([
      { 3: { look: 'mine', add: false } },
      { 3: { look: 'mine', add: true } },
    ])
    await shown.findAll('[data-test=rehearsal] .v-btn')[1]!.trigger('click')
    expect(shown.find('[data-test=rehearsal]').exists()).toBe(false)
    expect(shown.find('td s').exists()).toBe(false)
    expect(changes(asked).some((one) => one.method === 'PUT')).toBe(false)
  })

  it('says why it can’t be, and nothing is proposed', async () => {
    const refused = refusing(403, 'A tracker needs at least one steward. Make somebody else steward first.')
    const { shown } = await proposing({ 'POST /api/trackers/1/roles/111/rehearsal': refused })
    expect(shown.text()).toContain('A tracker needs at least one steward.')
    expect(shown.find('[data-test=rehearsal]').exists()).toBe(false)
  })
})
