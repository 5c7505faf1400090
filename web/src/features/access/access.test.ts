import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Role, TableRights } from '@/api/types'
import { choose, answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import AccessPage from './AccessPage.vue'
import RightsEditor from './RightsEditor.vue'

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

describe('what is kept', () => {
  it('takes the rest of the role along', async () => {
    const { shown, asked } = await page({
      'GET /api/trackers/1/roles': [role()],
      'PUT /api/trackers/1/parts/role/111': { seq: 3, did: 'changed the role Warden' },
    })
    await shown.get('td button').trigger('click')
    await settled()
    const editor = shown.findComponent(RightsEditor)
    editor.vm.$emit('keep', rights({ look: 'mine' }))
    await settled()
    expect(changes(asked)[0]).toMatchObject({
      path: '/api/trackers/1/parts/role/111',
      body: { role: { name: 'Warden', base: 'own', members: [2], tables: { 3: { look: 'mine' } } } },
    })
  })
})
