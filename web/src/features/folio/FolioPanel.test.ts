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
    'GET /api/trackers/1/tables/3/records/7/trail': [],
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
