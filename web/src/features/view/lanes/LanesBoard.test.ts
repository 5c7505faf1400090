import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { computed } from 'vue'
import type { Group, LanesShape, Query, Row } from '@/api/types'
import { answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import { windowOf } from '../testing'
import LanesBoard from './LanesBoard.vue'

// The stand-in for a browser gives nothing a size: every line is drawn.
vi.mock('@tanstack/vue-virtual', () => ({
  useVirtualizer: (options: { value: { count: number } }) =>
    computed(() => ({
      getVirtualItems: () =>
        Array.from({ length: options.value.count }, (_, index) => ({ index, key: index, start: index * 56, size: 56 })),
      getTotalSize: () => options.value.count * 56,
      measure: () => undefined,
      measureElement: () => undefined,
      scrollToIndex: () => undefined,
    })),
}))
beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const option = (id: number, name: string) => ({ id, name, hue: 'slate' as const })
const STATUS = field({ type: 'choice', options: [option(80, 'reported'), option(81, 'checked'), option(84, 'made good')] } as never, { id: 47, name: 'Status', within: 'status' }) // prettier-ignore
const TITLE = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'What is wrong', within: 'what is wrong' })
const home = table([TITLE, STATUS], { looking: 'You can look at this fault but not change it.' } as never)
const row = (id: number, text: string, days: number, change = true): Row =>
  ({ id, version: 1, cells: [{ value: { text }, text }], change, remove: true, days }) as Row
const lane = (id: number, text: string, count: number, over: Partial<Group> = {}): Group => ({
  value: { choice: id },
  text,
  count,
  counted: `${count} faults`,
  tallies: [],
  within: [],
  ...over,
})

async function board(answers: Record<string, unknown> = {}, { writes = true, readonly = false, change = true, byHand = false } = {}) {
  const asked = answering({
    'POST /api/trackers/1/tables/3/records/rehearsal': { says: ['You change Status.', '1 fault leaves this view.'], place: 1 },
    'PATCH /api/trackers/1/tables/3/records/1': { seq: 2, did: 'changed Status' },
    'PATCH /api/trackers/1/tables/3/records': { seq: 2, did: 'changed Status' },
    ...answers,
  })
  const groups = [lane(80, 'reported', 2, { stuck: 1 }), lane(81, 'checked', 1), lane(84, 'made good', 0, { outside: true })]
  const rows = [row(1, 'Gate', 9, change), row(2, 'Wall', 2), row(3, 'Stile', 1)]
  const { window } = windowOf(rows, { groups, ordering: { own: byHand, refusal: null } })
  const shape: LanesShape = { by: 47, away: [], limits: [{ lane: { choice: 80 }, most: 1, days: 3 }] }
  const status = { ...STATUS, writes, refusal: writes ? undefined : '“Status” is computed.' } as typeof STATUS
  const tables = table([TITLE, status], { looking: home.looking } as never)
  const query = { fields: [{ field: 41, width: 100 }], shape: { as: 'lanes', ...shape } } as unknown as Query
  const edit = vi.fn(async () => undefined)
  const props = {
    tracker: 1,
    table: tables,
    view: 7,
    fields: [TITLE],
    window,
    query,
    shape,
    edit,
    left: vi.fn(async () => undefined),
    readonly,
  }
  const shown = put(LanesBoard, { props }, opened({ tables: [tables] } as never))
  await settled()
  const press = async (key: string, init: KeyboardEventInit = {}) => {
    shown.get('[data-test=lanes]').element.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...init }))
    await settled()
  }
  return { shown, asked, press, window, edit, put: () => changes(asked).filter((one) => one.method === 'PATCH') }
}

describe('lanes', () => {
  it('say how many they hold, what is amiss, and where the level falls', async () => {
    const { shown, window } = await board()
    expect(shown.get('[data-lane=reported]').text()).toContain('1 over its limit of 1')
    expect(shown.get('[data-lane=reported]').text()).toContain('1 stands over 3 days')
    expect(shown.get('.level').text()).toBe('1 above stands over 3 days')
    expect(shown.get('.days.past').text()).toContain('9')
    expect(shown.get('.ways').text()).toContain('made good')
    expect(window.show).toHaveBeenLastCalledWith({ first: 0, last: 1 }, { first: 2, last: 2 })
  })

  it('tell what a drop would do, and make it one step', async () => {
    const { shown, asked, put } = await board()
    await shown.get('.entry').trigger('dragstart')
    await shown.findAll('.lane')[1]!.trigger('dragover')
    await settled()
    expect(shown.get('.land').text()).toContain('1 fault leaves this view.')
    expect(shown.get('[data-lane=checked] em').text()).toBe('→ 2')
    // Staying over a lane asks once.
    await shown.findAll('.lane')[1]!.trigger('dragover')
    await settled()
    expect(asked.filter((one) => one.path.endsWith('/rehearsal'))).toHaveLength(1)
    await shown.findAll('.lane')[1]!.trigger('drop')
    await settled()
    expect(put().map((one) => one.body)).toEqual([{ edits: [{ field: 47, input: { value: { choice: 81 } }, was: { choice: 80 } }] }])
    expect(shown.find('.land').exists()).toBe(false)
  })

  it('take along all that are chosen', async () => {
    const { shown, press, put } = await board()
    await shown.findAll('.entry .title')[0]!.trigger('click', { ctrlKey: true })
    await shown.findAll('.entry .title')[1]!.trigger('click', { ctrlKey: true })
    expect(shown.get('[data-test=tray]').text()).toContain('2 faults')
    await shown.findAll('.entry .title')[0]!.trigger('click')
    await press('ArrowRight', { altKey: true, shiftKey: true })
    expect(put()[0]!.body).toMatchObject({ records: [1, 2], edits: [{ field: 47, input: { value: { choice: 81 } }, was: { choice: 80 } }] })
    expect(shown.find('[data-test=tray]').exists()).toBe(false)
  })

  it('are walked by arrows, within a lane and across', async () => {
    const { shown, press } = await board()
    await press('ArrowDown')
    const here = () => shown.find('.entry.here').text()
    expect(here()).toContain('Gate')
    await press('ArrowDown')
    expect(here()).toContain('Wall')
    await press('ArrowDown')
    expect(here(), 'the end of the lane').toContain('Wall')
    await press('ArrowRight')
    expect(here()).toContain('Stile')
    await press('Enter', { ctrlKey: true })
    expect(shown.emitted('open')).toEqual([[3]])
  })

  it('say why nothing can be moved: the field is computed, the record is another’s, or one stands in', async () => {
    const computedField = await board({}, { writes: false })
    await computedField.shown.get('.entry').trigger('dragstart')
    await computedField.shown.findAll('.lane')[1]!.trigger('dragover')
    await settled()
    expect(computedField.shown.get('.land').text()).toBe('“Status” is computed.')
    await computedField.shown.findAll('.lane')[1]!.trigger('drop')
    await settled()
    expect(computedField.put()).toEqual([])
    expect(computedField.shown.emitted('trouble')!.at(-1)).toEqual(['“Status” is computed.'])
    const foreign = await board({}, { change: false })
    await foreign.press('ArrowDown')
    await foreign.press('ArrowRight', { altKey: true, shiftKey: true })
    expect([foreign.put(), foreign.shown.emitted('trouble')!.at(-1)]).toEqual([[], ['You can look at this fault but not change it.']])
    const looking = await board({}, { readonly: true })
    expect(looking.shown.find('[data-test=move]').exists()).toBe(false)
  })

  it('tell what the server refuses, and stay as they were', async () => {
    const refused = { 'PATCH /api/trackers/1/tables/3/records/1': refusing(422, 'A fault that is checked needs a day.') }
    const { press, shown, window } = await board(refused)
    await press('ArrowDown')
    await press('ArrowRight', { altKey: true, shiftKey: true })
    expect(shown.emitted('trouble')!.at(-1)).toEqual(['A fault that is checked needs a day.'])
    expect(window.refresh).toHaveBeenCalled()
  })

  it('put records up and down where they stand by hand, and say so where they do not', async () => {
    const placed = { 'POST /api/trackers/1/views/7/order': { seq: 3, did: 'moved' } }
    const sorted = await board(placed)
    await sorted.shown.get('#cell-1-0').trigger('click')
    await sorted.press('ArrowDown', { altKey: true, shiftKey: true })
    expect(sorted.shown.emitted('trouble')!.at(-1)![0]).toContain('longest there first')
    document.body.innerHTML = ''
    const { shown, press, asked } = await board(placed, { byHand: true })
    // Where nothing stands longest first, no level falls.
    expect(shown.find('.level').exists()).toBe(false)
    await shown.get('#cell-1-0').trigger('click')
    await press('ArrowDown', { altKey: true, shiftKey: true })
    const sent = changes(asked).filter((one) => one.path.endsWith('/order'))
    expect(sent.map((one) => one.body)).toEqual([{ place: { records: [1], spot: { after: 2 }, edits: [] } }])
  })
})
