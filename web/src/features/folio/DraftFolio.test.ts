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

describe('the files of a record on its way', () => {
  const pictures = field({ type: 'files' }, { id: 54, name: 'Pictures' })
  const holding = table([title, pictures])
  const laid = { sections: [{ heading: '', two: false, closed: false, fields: [{ field: 54, wide: true }] }], away: [] }
  const gate = { id: 'abc', name: 'gate.jpg', media: 'image/jpeg', size: 9 }
  const look = (...files: object[]) => {
    const row = { id: 9, version: 1, cells: [null, { value: { files }, text: '', links: [] }], change: true, remove: true }
    return { draft: 5, look: { ...reply({}).look, laid, fields: [41, 54], row } }
  }

  it('have an address with a title among them', async () => {
    const asked = answering({
      [`GET ${DRAFT}`]: look(gate),
      [`PUT ${DRAFT}/files/54`]: look(gate, { id: 'https://maps.example/a', name: 'Map', media: 'text/uri-list', size: 0 }),
    })
    const shown = put(DraftFolio, { props: { tracker: 1, table: holding, draft: 5 } }, opened({ tables: [holding] } as never))
    await settled()
    await shown.findAll('button').find((one) => one.text() === 'add an address')!.trigger('click') // prettier-ignore
    await shown.get('[data-test=address]').setValue('https://maps.example/a')
    await shown.findAll('.address input')[1]!.setValue('Map')
    await shown.get('form.address').trigger('submit')
    await settled()
    const sent = changes(asked).find((one) => one.path.endsWith('/files/54'))
    expect(sent?.body).toEqual({ stays: ['abc'], addresses: [{ address: 'https://maps.example/a', title: 'Map' }] })
    expect(shown.text()).toContain('Map')
  })
})

describe('the lines of a record on its way', () => {
  const LINES = `${DRAFT}/lines/45`
  const under = field({ type: 'link', to: 5, back: 51, one: false, holds: false } as never, {
    id: 45,
    name: 'Material lines',
    lines: true,
    shows: { type: 'link', to: 5 } as never,
  })
  const what = field({ type: 'text', limit: 80 }, { id: 52, name: 'What' })
  const lines = table([what], { id: 5, name: 'Material lines', one: 'material line', many: 'material lines', standing: 52 })
  const holding = table([title, hours, under])
  const laid = { sections: [{ heading: '', two: false, closed: false, fields: [{ field: 45, wide: true }] }], away: [] }
  const told = { of: [5], matching: 1, slices: [{ start: 0, rows: [{ id: 1, change: true, cells: [{ value: { text: 'Post' }, text: 'Post', links: [] }] }] }], tallies: [], groups: [] } // prettier-ignore

  async function withLines(answers: Record<string, unknown>) {
    const asked = answering({
      [`GET ${DRAFT}`]: reply({ 41: 'Bridge' }, { laid }),
      [`POST ${LINES}/query`]: told,
      ...answers,
    })
    const shown = put(DraftFolio, { props: { tracker: 1, table: holding, draft: 5 } }, opened({ tables: [holding, lines] } as never))
    await settled()
    return { shown, asked }
  }

  it('stand where they will, and what still lacks in them is said', async () => {
    const lacks = { ...reply({ 41: 'Bridge' }, { laid, says: 'Still asked: what in line 1 of material lines.' }).look }
    const { shown } = await withLines({ [`PATCH ${LINES}`]: { look: lacks, lines: [1] } })
    expect(shown.get('[data-lines="Material lines"]').text()).toContain('Post')
    expect(shown.get('.says').text()).toBe('It can be added.')
    await shown.get('[data-cell=What]').trigger('click')
    shown.getComponent(CellEditor).vm.$emit('commit', { text: '' }, 'stay')
    await settled()
    expect(shown.get('.says').text()).toBe('Still asked: what in line 1 of material lines.')
  })

  it('are kept before it is added', async () => {
    const order: string[] = []
    const answers = {
      [`PATCH ${LINES}`]: () => (order.push('line'), { look: reply({ 41: 'Bridge' }, { laid }).look, lines: [1] }),
      [`POST ${DRAFT}/add`]: () => (order.push('add'), { seq: 4, did: 'added the fault', added: [12] }),
    }
    const { shown } = await withLines(answers)
    await shown.get('[data-cell=What]').trigger('click')
    shown.getComponent(CellEditor).vm.$emit('commit', { text: 'Rail' }, 'stay')
    await shown.get('[data-test=draft-add]').trigger('click')
    await settled()
    expect(order).toEqual(['line', 'add'])
    expect(shown.emitted('added')).toEqual([[12, false]])
  })

  it('hold it back while what was typed into one was refused, and let it go once that is left', async () => {
    const { shown, asked } = await withLines({
      [`PATCH ${LINES}`]: refusing(422, '“What” takes at most 80 characters.'),
      [`POST ${DRAFT}/add`]: { seq: 4, did: 'added the fault', added: [12] },
    })
    const adds = () => asked.filter((one) => one.path.endsWith('/add')).length
    await shown.get('[data-cell=What]').trigger('click')
    const line = shown.get<HTMLInputElement>('[data-lines] .editor input')
    await line.setValue('x'.repeat(90))
    await line.trigger('blur')
    await shown.get('[data-test=draft-add]').trigger('click')
    await settled()
    expect([adds(), shown.get('.acts [role=alert]').text()]).toEqual([0, 'Nothing is added yet: what does not fit is said in its line.'])
    expect(shown.get<HTMLInputElement>('[data-lines] .editor input').element.value).toBe('x'.repeat(90))
    await shown.get('[data-lines] .editor input').trigger('keydown', { key: 'Escape' })
    await shown.get('[data-test=draft-add]').trigger('click')
    await settled()
    expect(adds()).toBe(1)
  })
})
