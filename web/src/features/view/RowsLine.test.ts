import { afterEach, describe, expect, it } from 'vitest'
import { ref } from 'vue'
import type { Field, Row } from '@/api/types'
import CellEditor from '@/features/cell/CellEditor.vue'
import { field, put, table } from '@/testing'
import type { ActivePlace } from './active'
import type { useCellEditing } from './cellEditing'
import RowsLine from './RowsLine.vue'

afterEach(() => (document.body.innerHTML = ''))

const title = field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' })
const section = field({ type: 'link', to: 2, back: 60, one: true, holds: true } as never, { id: 42, name: 'Section' })
const home = table([title, section])
const gate = {
  id: 7,
  change: true,
  cells: [
    { value: { text: 'Gate' }, text: 'Gate', links: [] },
    { value: { links: [25] }, text: 'Withy Edge', links: [{ id: 25, name: 'Withy Edge' }] },
  ],
} as unknown as Row

interface How {
  row?: Row
  columns?: Field[]
  narrow?: boolean
  editing?: object
  typed?: string
  refused?: object
  may?: boolean
}
function line({ row = gate, columns = [title, section], narrow = false, editing, typed, refused, may = true }: How = {}) {
  const at = { cell: ref({ record: 7 }), column: ref(0) } as unknown as ActivePlace
  const here = (record: number, one: number) => record === 7 && one === 41
  const cells = {
    editing: ref(editing),
    sending: { typed: (r: number, f: number) => (here(r, f) ? typed : undefined), refusedAt: (r: number, f: number) => (here(r, f) ? refused : undefined) }, // prettier-ignore
    commit: () => undefined,
    cancel: () => undefined,
  } as unknown as ReturnType<typeof useCellEditing>
  return put(RowsLine, { props: { row, table: home, tracker: 1, columns, at, cells, narrow, beside: false, may: () => may, stays: [0] } })
}
const cell = (shown: ReturnType<typeof line>, name: string) => shown.get(`[data-field=${name}]`)

describe('a linked cell', () => {
  it('leads to its record, which opens without choosing another', async () => {
    const shown = line()
    const to = cell(shown, 'Section').get('[data-test=to-linked]')
    expect([to.attributes('href'), to.attributes('aria-label')]).toEqual(['/record/1/2', 'Open Withy Edge'])
    await to.trigger('mousedown')
    await to.trigger('click')
    expect([shown.emitted('press'), shown.emitted('focus')]).toEqual([undefined, undefined])
  })

  it('leads nowhere where it is empty, where its record is not open, and from a phone’s entry', () => {
    const leads = (how: How) => line(how).find('[data-test=to-linked]').exists()
    const empty = { ...gate, cells: [gate.cells[0], { value: 'empty', text: '', links: [] }] } as unknown as Row
    const withheld = { ...gate, cells: [gate.cells[0], null] } as unknown as Row
    expect([leads({ row: empty }), leads({ row: withheld }), leads({ narrow: true })]).toEqual([false, false, false])
  })
})

describe('a cell', () => {
  it('is edited in its place, with what was wrong beside it', () => {
    const editor = line({ editing: { start: 'Stile', fault: 'It is too long.' } }).getComponent(CellEditor)
    expect(editor.props()).toMatchObject({ start: 'Stile', fault: 'It is too long.', field: title })
  })

  it('shows what is on its way, and what was refused with why', () => {
    expect(cell(line({ typed: 'Stile' }), 'Title').text()).toBe('Stile')
    const refused = cell(line({ refused: { start: 'Sti', fault: 'It is too short.' } }), 'Title')
    expect([refused.text(), refused.get('.refused').attributes('title')]).toEqual(['! Sti', 'It is too short.'])
  })

  it('says whether it can be changed, and that its record came by a form or is left out', () => {
    expect(cell(line({ may: false }), 'Title').attributes('aria-readonly')).toBe('true')
    expect(
      cell(line({ row: { ...gate, form: 120 } as Row }), 'Title')
        .find('[aria-label="came by a form"]')
        .exists(),
    ).toBe(true)
    expect(cell(line({ row: { ...gate, form: 120, outside: true } as Row }), 'Title').text()).toContain('left out here')
  })
})
