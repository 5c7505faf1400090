import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Field } from '@/api/types'
import CellEditor from '@/features/cell/CellEditor.vue'
import { answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import FolioPanel from './FolioPanel.vue'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const title: Field = field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' })
const home = table([title])
const EDIT = 'PATCH /api/trackers/1/tables/3/records/7'

function answers(text: string): Record<string, unknown> {
  const row = { id: 7, version: 1, cells: [{ value: { text }, text, links: [] }], change: true, remove: true }
  const record = {
    seq: 1,
    of: [3],
    name: text,
    fields: [41],
    laid: { sections: [], away: [] },
    row,
    linked: [],
    waiting: [],
    awaits: [],
    moved_on: [],
    parameters: [],
    created: '',
    changed: '',
    came_by: null,
  }
  return {
    'GET /api/trackers/1/tables/3/records/7': record,
    'GET /api/trackers/1/tables/3/records/7/trail': { entries: [], earlier: false },
    'GET /api/trackers/1/tables/3/records/7/runs': [],
  }
}

async function folio(over: Record<string, unknown>) {
  const asked = answering({ ...answers('Gate'), ...over })
  const shown = put(FolioPanel, { props: { tracker: 1, table: home, record: 7 } }, opened({ tables: [home] } as never))
  await settled()
  return { shown, asked }
}

describe('a fact of a folio', () => {
  it('is sent with what stood there when one began', async () => {
    const { shown, asked } = await folio({ [EDIT]: { seq: 2, did: 'changed Title' } })
    await shown.get('[data-fact=Title] button').trigger('click')
    shown.getComponent(CellEditor).vm.$emit('commit', { text: 'Stile' }, 'stay')
    await settled()
    expect(changes(asked)[0]!.body).toEqual({ edits: [{ field: 41, input: { text: 'Stile' }, was: { text: 'Gate' } }] })
  })

  it('stays open where somebody else changed it, and goes over theirs once they were seen', async () => {
    const words = 'Somebody changed this meanwhile: it now says “Wall”.'
    const clash = { theirs: { text: 'Wall' }, theirs_text: 'Wall', yours: { text: 'Stile' } }
    const { shown, asked } = await folio({
      [EDIT]: refusing(409, words, [{ pointer: '/edits/0', message: words, kind: 'clash', clash } as never]),
    })
    await shown.get('[data-fact=Title] button').trigger('click')
    shown.getComponent(CellEditor).vm.$emit('commit', { text: 'Stile' }, 'stay')
    await settled()
    expect(document.body.textContent).toContain(words)
    shown.getComponent(CellEditor).vm.$emit('commit', { text: 'Stile' }, 'stay')
    await settled()
    expect(changes(asked)[1]!.body).toMatchObject({ edits: [{ was: { text: 'Wall' } }] })
  })
})

describe('the head and the margin of a folio', () => {
  const entry = (seq: number, what: string, edits: object[] = []) => ({
    seq,
    at: `2026-11-0${seq}T08:00:00Z`,
    at_text: `${seq} Nov 2026, 08:00`,
    who: 'Bex Lindqvist',
    what,
    edits,
  })
  const edit = (before: string, until: string) => ({ field: 42, name: 'Status', before, after: 'x', until })
  const status = field({ type: 'choice', options: [] }, { id: 42, name: 'Status' })
  const told = answers('Gate')
  const record = told['GET /api/trackers/1/tables/3/records/7'] as { row: { cells: object[] } }
  const both = {
    ...record,
    fields: [41, 42],
    laid: { sections: [{ heading: '', two: false, closed: false, fields: [{ field: 42, wide: false }] }], away: [] },
    row: { ...record.row, cells: [...record.row.cells, { value: { choice: 1 }, text: 'checked', links: [] }] },
  }
  const trail = [
    entry(3, 'changed', [edit('repaired', 'repaired until 3 Nov')]),
    entry(2, 'changed', [edit('reported', 'reported until 2 Nov')]),
    entry(1, 'added', [edit('', 'empty until 1 Nov')]),
  ]
  const opening = async (what: object[], over: object = {}) => {
    const asked = { 'GET /api/trackers/1/tables/3/records/7/trail': { entries: what, earlier: false } }
    answering({ ...told, 'GET /api/trackers/1/tables/3/records/7': both, ...asked, ...over })
    const home = table([title, status])
    const shown = put(FolioPanel, { props: { tracker: 1, table: home, record: 7 } }, opened({ tables: [home] } as never))
    await settled()
    return shown
  }

  it('says beside a fact what stood there last, and nothing where it is as it came', async () => {
    expect((await opening(trail)).get('[data-fact=Status] .until').text()).toBe('repaired until 3 Nov')
    document.body.innerHTML = ''
    expect((await opening(trail.slice(2))).find('.until').exists()).toBe(false)
  })

  const was = (then: string) => ({
    'POST /api/trackers/1/tables/3/records/7/as-it-was': { says: '', fields: [{ field: 42, name: 'Status', now: 'checked', then }] },
  })

  it('shows the record as it was, by keys, and nothing is typed while one looks back', async () => {
    const shown = await opening(trail, was('reported'))
    const mark = shown.get('[data-test=life-mark]')
    expect(mark.attributes()).toMatchObject({ 'aria-valuenow': '3', 'aria-valuetext': 'now' })
    await mark.trigger('keydown', { key: 'ArrowLeft' })
    await mark.trigger('keydown', { key: 'ArrowLeft' })
    await settled()
    expect(shown.get('[data-test=moment]').text()).toContain('As it was on 2 Nov 2026, 08:00, once Bex Lindqvist changed Status.')
    expect(shown.get('[data-fact=Status] .then').text()).toBe('reported')
    expect(shown.get('[data-fact=Status] .margin').text()).toBe('now checked')
    expect(shown.find('[data-fact=Status] .edit').exists()).toBe(false)
    await mark.trigger('keydown', { key: 'Escape' })
    await settled()
    expect(shown.find('[data-test=moment]').exists()).toBe(false)
    expect(shown.get('[data-fact=Status] .edit').text()).toContain('checked')
  })

  it('tells what was before a page of its trail, and keeps telling it', async () => {
    const early = entry(1, 'added')
    const asked = answering({
      ...told,
      'GET /api/trackers/1/tables/3/records/7': both,
      'GET /api/trackers/1/tables/3/records/7/trail': (query: URLSearchParams) =>
        query.get('before') === '2' ? { entries: [early], earlier: false } : { entries: trail.slice(0, 2), earlier: true },
    })
    const home = table([title, status])
    const shown = put(FolioPanel, { props: { tracker: 1, table: home, record: 7 } }, opened({ tables: [home] } as never))
    await settled()
    expect(shown.get('[data-test=life]').text()).toContain('told from 2 Nov 2026, 08:00 on')
    await shown.get('[data-test=trail-earlier]').trigger('click')
    await settled()
    expect(shown.findAll('[data-test=trail] time').map((one) => one.text().slice(0, 5))).toEqual(['3 Nov', '2 Nov', '1 Nov'])
    expect(shown.find('[data-test=trail-earlier]').exists()).toBe(false)
    expect(asked.filter((call) => call.path.endsWith('/trail'))).toHaveLength(3)
  })

  it('draws its life, each stroke leading to what it was', async () => {
    const shown = await opening(trail)
    Element.prototype.scrollIntoView = vi.fn()
    const strokes = shown.findAll('[data-test=life] button')
    expect(strokes.map((one) => one.classes('tall'))).toEqual([true, false, false])
    expect(strokes[1]!.attributes('title')).toBe('Bex Lindqvist, 2 Nov 2026, 08:00')
    await strokes[1]!.trigger('click')
    await settled()
    expect(shown.get('.event.shown').text()).toContain('reported')
  })
})

describe('a file on its way', () => {
  it('goes to the record at which it was brought, also where one has walked on meanwhile', async () => {
    const files = field({ type: 'files' }, { id: 54, name: 'Pictures' })
    const of = (id: number) => {
      const told = answers('Gate')['GET /api/trackers/1/tables/3/records/7'] as { row: object }
      const laid = { sections: [{ heading: '', two: false, closed: false, fields: [{ field: 54, wide: false }] }], away: [] }
      const row = { ...told.row, id, cells: [null, null], change: true }
      return { ...told, fields: [41, 54], laid, row }
    }
    const record = (id: number) => ({
      [`GET /api/trackers/1/tables/3/records/${id}`]: of(id),
      [`GET /api/trackers/1/tables/3/records/${id}/trail`]: { entries: [], earlier: false },
      [`GET /api/trackers/1/tables/3/records/${id}/runs`]: [],
      [`POST /api/trackers/1/tables/3/records/${id}/files/54`]: { seq: 2, did: 'changed Pictures' },
    })
    const coming = (at: number) => ({ token: 't-1', at, size: 4, piece: 100 })
    const asked = answering({ ...record(7), ...record(8), 'POST /api/files/coming': coming(0), 'PUT /api/files/coming/t-1': coming(4) })
    const home = table([title, files])
    const shown = put(FolioPanel, { props: { tracker: 1, table: home, record: 7 } }, opened({ tables: [home] } as never))
    await settled()
    const input = shown.get<HTMLInputElement>('.files input[type=file]')
    Object.defineProperty(input.element, 'files', { value: [new File(['gate'], 'gate.txt', { lastModified: 1 })] })
    await input.trigger('change')
    await shown.setProps({ record: 8 })
    await settled()
    await settled()
    expect(changes(asked).map((one) => one.path)).toContain('/api/trackers/1/tables/3/records/7/files/54')
    expect(changes(asked).map((one) => one.path)).not.toContain('/api/trackers/1/tables/3/records/8/files/54')
  })
})
