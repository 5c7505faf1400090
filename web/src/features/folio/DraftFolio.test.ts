import { afterEach, describe, expect, it, vi } from 'vitest'
import CellEditor from '@/features/cell/CellEditor.vue'
import { answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import DraftFolio from './DraftFolio.vue'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const DRAFT = '/api/trackers/1/tables/3/drafts/5'
const title = field({ type: 'text', limit: 80 }, { id: 41, name: 'Title', required: true })
const hours = field({ type: 'number', decimals: 1, unit: 'h' }, { id: 50, name: 'Hours' })
const home = table([title, hours])

function reply(cells: Record<number, string>, over: object = {}) {
  const cell = (id: number) => (cells[id] ? { value: { text: cells[id] }, text: cells[id], links: [] } : null)
  const laid = { sections: [{ heading: 'Work', two: false, closed: false, fields: [{ field: 50, wide: false }] }], away: [] }
  const row = { id: 9, version: 1, cells: [cell(41), cell(50)], change: true, remove: true }
  return { draft: 5, look: { name: cells[41] ?? '', laid, fields: [41, 50], row, wrong: [], missing: [], says: '', ...over } }
}
const asks = { missing: [41], says: 'Still asked: title.' }

async function draft(answers: Record<string, unknown>) {
  const asked = answering({ [`GET ${DRAFT}`]: reply({}, asks), ...answers })
  const shown = put(DraftFolio, { props: { tracker: 1, table: home, draft: 5 } }, opened({ tables: [home] } as never))
  await settled()
  return { shown, asked }
}

describe('a record on its way', () => {
  it('begins at what is asked, keeps what is typed, and goes on to the next field', async () => {
    const { shown, asked } = await draft({ [`PATCH ${DRAFT}`]: reply({ 41: 'Stile' }) })
    expect(shown.text()).toContain('Still asked: title.')
    expect(shown.getComponent(CellEditor).props('field').id).toBe(41)
    shown.getComponent(CellEditor).vm.$emit('commit', { text: 'Stile' }, 'right')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({
      method: 'PATCH',
      path: DRAFT,
      body: { cells: [{ field: 41, input: { text: 'Stile' } }] },
    })
    expect(shown.getComponent(CellEditor).props('field').id).toBe(50)
    expect(shown.text()).toContain('It can be added.')
  })

  it('lets one pass by a field with nothing put into it, and stops where another was left', async () => {
    const { shown, asked } = await draft({})
    shown.getComponent(CellEditor).vm.$emit('cancel', 'right')
    await settled()
    expect(shown.getComponent(CellEditor).props('field').id).toBe(50)
    shown.getComponent(CellEditor).vm.$emit('cancel')
    await settled()
    expect(shown.findComponent(CellEditor).exists()).toBe(false)
    expect(changes(asked)).toEqual([])
  })

  it('shows what does not fit where it was typed, with why', async () => {
    const wrong = { wrong: [{ field: 50, input: { text: 'many' }, message: '“many” is no number.' }], says: 'Still asked: hours.' }
    const { shown } = await draft({ [`GET ${DRAFT}`]: reply({ 41: 'Stile' }, wrong) })
    expect(shown.get('[data-fact=Hours]').text()).toContain('“many” is no number.')
  })

  it('is added once, and says which record it became and whether another one follows', async () => {
    const { shown, asked } = await draft({
      [`GET ${DRAFT}`]: reply({ 41: 'Stile' }),
      [`POST ${DRAFT}/add`]: { seq: 9, did: 'added', added: [77] },
    })
    await shown.get('[data-test=draft-next]').trigger('click')
    await settled()
    expect(changes(asked).filter((one) => one.path.endsWith('/add'))).toHaveLength(1)
    expect(shown.emitted('added')).toEqual([[77, true]])
  })

  it('leads back to what is still asked where it was refused', async () => {
    const says = 'Still asked: title.'
    const { shown } = await draft({
      [`POST ${DRAFT}/add`]: refusing(422, says, [{ pointer: '/cells/41', message: says, kind: 'missing' } as never]),
    })
    await shown.get('[data-test=draft-add]').trigger('click')
    await settled()
    expect(shown.emitted('added')).toBeUndefined()
    expect(shown.get('[role=alert]').text()).toContain(says)
  })

  it('is let go of by a word of its own; closing keeps it', async () => {
    const { shown, asked } = await draft({ [`DELETE ${DRAFT}`]: new Response(null, { status: 204 }) })
    await shown.get('[aria-label^=Close]').trigger('click')
    expect(changes(asked)).toEqual([])
    await shown.get('[data-test=draft-drop]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ method: 'DELETE', path: DRAFT })
    expect(shown.emitted('gone')).toHaveLength(1)
  })
})
