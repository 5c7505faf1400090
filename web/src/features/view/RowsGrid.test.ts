import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { computed, ref } from 'vue'
import { Problem } from '@/api/client'
import type { Field, Group, Query, Row } from '@/api/types'
import { answering, changes, field, opened, put, settled, table } from '@/testing'
import RowsGrid from './RowsGrid.vue'
import { useScreen } from './screen'
import { windowOf } from './testing'

// The stand-in for a browser gives nothing a size: every line is drawn.
vi.mock('@tanstack/vue-virtual', () => ({
  useVirtualizer: (options: { value: { count: number } }) =>
    computed(() => ({
      getVirtualItems: () =>
        Array.from({ length: options.value.count }, (_, index) => ({ index, key: index, start: index * 33, size: 33 })),
      getTotalSize: () => options.value.count * 33,
      measure: () => undefined,
      scrollToIndex: () => undefined,
    })),
}))
beforeEach(() => {
  document.body.innerHTML = ''
  localStorage.clear()
})
afterEach(() => vi.restoreAllMocks())

const columns: Field[] = [
  field({ type: 'text', limit: 80 }, { id: 41, name: 'Title', within: 'title' }),
  field(
    { type: 'calculation', formula: '', shows: { type: 'number', decimals: 0, unit: '' } } as never,
    {
      id: 42,
      name: 'Days',
      within: 'days',
      writes: false,
      refusal: '“Days” is computed.',
    } as never,
  ),
]
const home = table(columns, { adds: true, looking: 'You can look at this fault but not change it.' } as never)
const row = (id: number, title: string, over: Partial<Row> = {}): Row =>
  ({
    id,
    cells: [
      { value: { text: title }, text: title },
      { value: { number: '3' }, text: '3' },
    ],
    change: true,
    remove: true,
    ...over,
  }) as unknown as Row
const group = (name: string, count: number): Group =>
  ({ value: { text: name }, text: name, count, counted: `${count} faults`, tallies: [{ text: '9' }], within: [] }) as unknown as Group

function grid({
  rows = [row(1, 'Gate'), row(2, 'Wall'), row(3, 'Stile')],
  groups = [] as Group[],
  query = {} as Partial<Query>,
  readonly = false,
  builds = true,
  beside = undefined as number | undefined,
  fields = columns,
  refusal = undefined as string | undefined,
} = {}) {
  const { window, all } = windowOf(
    rows,
    { counted: `${rows.length} faults`, groups, tallies: [{ text: '9 h' }], ordering: { own: false, refusal: refusal ?? null } },
    { fields: [], ...query },
  )
  const edit = vi.fn(async () => undefined as unknown)
  const left = vi.fn(async () => undefined as unknown)
  const shown = put(
    RowsGrid,
    {
      props: {
        table: home,
        view: 7,
        fields: fields.map((f) => ({ field: f, width: 100 })),
        window,
        screen: useScreen(ref('3/100')),
        query: { fields: [], ...query } as Query,
        edit,
        readonly,
        left,
        beside,
      },
    },
    opened({ tables: [home], builds } as never),
  )
  const frame = shown.get('[data-test=grid]')
  const press = async (key: string, init: KeyboardEventInit = {}) => {
    frame.element.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...init }))
    await settled()
  }
  const here = () => document.querySelector('[data-active=true]')
  return { shown, press, here, edit, left, window, all, frame }
}
const line = () => document.querySelector<HTMLInputElement>('[data-test=cell-editor] input')!

describe('a grid of records', () => {
  it('tells where one is to those who can’t see it', async () => {
    const { press, here, frame } = grid()
    await press('ArrowDown')
    await press('ArrowRight')
    expect(here()?.textContent).toContain('3')
    expect(frame.attributes('aria-activedescendant')).toBe(here()?.id)
    expect(here()?.getAttribute('aria-readonly')).toBe('true')
  })

  it('sends what was typed with what stood there, and goes on to the next record', async () => {
    const { press, here, edit } = grid()
    await press('ArrowDown')
    await press('x')
    line().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }))
    await settled()
    expect(edit).toHaveBeenCalledWith(3, 1, columns[0], { text: 'x' }, { text: 'Gate' })
    expect(here()?.id).toBe('cell-2-0')
  })

  it('opens a refused cell again, with what was typed and why', async () => {
    const { press, edit } = grid()
    edit.mockRejectedValueOnce(new Problem('“x” is too short.', 422))
    await press('ArrowDown')
    await press('x')
    line().dispatchEvent(new KeyboardEvent('keydown', { key: 'Tab', bubbles: true, cancelable: true }))
    await settled()
    expect(line().value).toBe('x')
    expect(document.body.textContent).toContain('“x” is too short.')
  })

  it('shows both where somebody else changed the cell meanwhile, and puts one’s own in only over what one has seen', async () => {
    const { press, edit, all } = grid()
    await press('ArrowDown')
    await press('x')
    all.value = new Map([...all.value]).set(0, row(1, 'Their gate'))
    await settled()
    const clash = { theirs: { text: 'Their gate' }, theirs_text: 'Their gate', yours: { text: 'x' } }
    const words = 'Somebody changed this meanwhile: it now says “Their gate”.'
    edit.mockRejectedValueOnce(new Problem(words, 409, [{ kind: 'clash', message: words, pointer: '', clash }] as never))
    const enter = () => line().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }))
    enter()
    await settled()
    expect(edit).toHaveBeenLastCalledWith(3, 1, columns[0], { text: 'x' }, { text: 'Gate' })
    expect([line().value, document.body.textContent]).toEqual(['x', expect.stringContaining(words)])
    enter()
    await settled()
    expect(edit).toHaveBeenLastCalledWith(3, 1, columns[0], { text: 'x' }, { text: 'Their gate' })
  })

  it('says which record has gone by what was typed, and only then', async () => {
    const { press, shown, window, all } = grid()
    const typeOver = async () => {
      await press('x')
      line().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }))
      await settled()
    }
    await press('ArrowDown')
    await typeOver()
    expect(shown.emitted('gone')).toBeUndefined()
    vi.mocked(window.refresh).mockImplementationOnce(async () => {
      all.value = new Map([[0, row(1, 'Gate')], [1, row(3, 'Stile')]]) // prettier-ignore
    })
    await typeOver()
    expect(shown.emitted('gone')).toEqual([[2]])
  })

  it('takes what is on its way from here for no clash', async () => {
    const { press, edit } = grid()
    let arrive = () => {}
    edit.mockImplementationOnce(() => new Promise<void>((done) => (arrive = done)))
    await press('ArrowDown')
    await press('x')
    line().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }))
    await settled()
    await press('ArrowUp')
    await press('y')
    line().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }))
    arrive()
    await settled()
    expect(edit).toHaveBeenLastCalledWith(3, 1, columns[0], { text: 'y' }, undefined)
  })

  it('says in core’s words why a cell takes nothing', async () => {
    const { press, shown } = grid()
    await press('ArrowDown')
    await press('ArrowRight')
    await press('Enter')
    expect(shown.emitted('trouble')!.at(-1)).toEqual(['“Days” is computed.'])
    const locked = grid({ rows: [row(1, 'Gate', { change: false })] })
    await locked.press('ArrowDown')
    await locked.press('Enter')
    expect(locked.shown.emitted('trouble')!.at(-1)).toEqual(['You can look at this fault but not change it.'])
    const standingIn = grid({ readonly: true })
    await standingIn.press('ArrowDown')
    await standingIn.press('F2')
    expect(String(standingIn.shown.emitted('trouble')!.at(-1))).toContain('standing in')
  })

  it('says that one has gone on from a record that was begun', async () => {
    const { press, left } = grid({ rows: [row(1, 'Gate', { begun: true } as never), row(2, 'Wall')] })
    await press('ArrowDown')
    await press('ArrowDown')
    await settled()
    expect(left.mock.calls).toEqual([[1]])
  })

  it('opens what can be done with a record by keys, and does it', async () => {
    const { press, shown } = grid()
    await press('ArrowDown')
    await press('F10', { shiftKey: true })
    const entries = [...document.querySelectorAll<HTMLElement>('[data-test=popup] button')]
    expect(entries.map((b) => b.textContent?.trim().split('  ')[0])).toEqual([
      expect.stringContaining('Open folio'),
      expect.stringContaining('Choose it'),
      expect.stringContaining('Why is Title like this?'),
      'What stood in “Title” before',
      'Why is it in this view?',
      expect.stringContaining('Move to the top'),
      expect.stringContaining('Move to the bottom'),
      'Move to place …',
      'Put into the bin',
    ])
    entries.at(-1)!.click()
    await settled()
    expect((shown.emitted('remove')![0]![0] as Row).id).toBe(1)
  })

  it('leads by keys to the record that a linked cell names', async () => {
    const link = { type: 'link', to: 2, back: 0, one: true, holds: true } as never
    const cell = { value: { links: [7] }, text: 'Beck Foot', links: [{ id: 7, name: 'Beck Foot' }] }
    const { press, shown } = grid({ fields: [field(link, { id: 43, name: 'Section' })], rows: [row(1, '', { cells: [cell] } as never)] })
    await press('ArrowDown')
    await press('F10', { shiftKey: true })
    document.querySelector<HTMLElement>('[data-test=menu-to-linked]')!.click()
    await settled()
    expect(shown.vm.$router.currentRoute.value.path).toBe('/record/1/2')
  })

  it('closes and opens a group by keys, and adds to the one where one is', async () => {
    const status = field({ type: 'choice', options: [] } as never, { id: 47, name: 'Status', within: 'status' })
    home.fields.push(status)
    const { press, here, shown } = grid({
      groups: [group('reported', 2), group('', 1)],
      query: { groups: [{ field: 47, descending: false }] },
    })
    expect(shown.text()).toContain('No status')
    await press('ArrowDown')
    expect(here()?.textContent).toContain('reported')
    await press('ArrowLeft')
    expect(shown.findAll('.row')).toHaveLength(1)
    expect(here()?.querySelector('[aria-expanded]')?.getAttribute('aria-expanded')).toBe('false')
    await press('Enter')
    expect(shown.findAll('.row')).toHaveLength(3)
    await press('ArrowDown')
    expect((shown.vm as unknown as { groupHere: () => { key: string } }).groupHere().key).toBe(JSON.stringify([{ text: 'reported' }]))
    home.fields.pop()
  })

  it('tells the order on the heading', () => {
    const { shown } = grid({ query: { sorts: [{ field: 41, descending: true }] } })
    expect(shown.get('#heading-0').attributes('aria-sort')).toBe('descending')
  })

  it('opens the slip of a heading by keys', async () => {
    const { press, shown } = grid()
    await press('ArrowDown')
    await press('ArrowUp')
    await press('Enter')
    expect(shown.emitted('slip')![0]![0]).toMatchObject({ field: columns[0] })
  })

  it('says whether nothing is there or nothing fits', () => {
    const empty = grid({ rows: [] })
    expect(empty.shown.text()).toContain('There are no faults yet.')
    const narrowed = grid({ rows: [] })
    ;(narrowed.window.answer.value as { total: number }).total = 7
    return settled().then(() => expect(narrowed.shown.text()).toContain('No fault fits.'))
  })

  it('where nothing fits, says of each part of the condition what it leaves alone, and drops the one that is pressed', async () => {
    const { shown, window } = grid({ rows: [] })
    const alone = [
      { at: '/condition/all/0', words: 'status is made good', leaves: '42 faults' },
      { at: '/condition/all/1', words: 'hours are over 90', leaves: '0 faults' },
    ]
    Object.assign(window.answer.value!, { total: 318, alone })
    await settled()
    const lines = shown.get('[data-test=alone]').findAll('li')
    expect(lines.map((line) => line.text())).toEqual([
      'status is made good alone leaves 42 faults. Drop it',
      'hours are over 90 alone leaves 0 faults. Drop it',
    ])
    await lines[1]!.get('button').trigger('click')
    expect(shown.emitted('drop')).toEqual([['/condition/all/1']])
  })

  it('beside a folio is a list that goes on from the record that is open, and changes nothing itself', async () => {
    const { shown, press, here, edit } = grid({ beside: 2 })
    await settled()
    expect(shown.get('.runs').text()).toContain('Wall')
    expect(here()?.id).toBe('cell-2-0')
    expect(shown.find('#heading-0').exists()).toBe(false)
    for (const key of ['x', 'Delete']) await press(key)
    expect([line(), edit.mock.calls.length]).toEqual([null, 0])
    expect(shown.emitted('open')).toEqual([[2]])
    await press('ArrowDown')
    expect(shown.emitted('moved')!.at(-1)).toEqual([3])
    await shown.get('#cell-1-0').trigger('click')
    expect(shown.emitted('moved')!.at(-1)).toEqual([1])
  })
})

describe('a block of cells', () => {
  /** What stands in the first column. */
  const SEEN = [[{ text: 'Gate' }], [{ text: 'Wall' }]]
  const REHEARSED = { says: ['2 cells change.'], changed: 2, added: 0, unfit: 0, missing: [], wrong: [], refused: '' }
  /** The grid with its first cell chosen, and what it asks. */
  async function blocks(over: Record<string, unknown> = {}, told: Parameters<typeof grid>[0] = {}) {
    const asked = answering({
      'POST /api/trackers/1/tables/3/block/sums': { says: ['days: sum 6, average 3', '4 cells hold something'] },
      'POST /api/trackers/1/tables/3/block/rehearsal': REHEARSED,
      'PATCH /api/trackers/1/tables/3/block': { seq: 9, did: 'changed Title of 2 faults' },
      ...over,
    })
    const one = grid(told)
    await one.shown.get('#cell-1-0').trigger('click')
    const put_ = () => changes(asked).filter((call) => call.method === 'PATCH')
    const selected = () => one.shown.findAll('[role=gridcell].selected').map((cell) => cell.attributes('id'))
    const paste = async (text: string) => {
      const event = new Event('paste', { bubbles: true, cancelable: true })
      Object.assign(event, { clipboardData: { getData: (kind: string) => (kind === 'text/plain' ? text : '') } })
      one.frame.element.dispatchEvent(event)
      await settled()
    }
    return { ...one, asked, put: put_, selected, paste }
  }

  it('is selected with Shift and arrows, says what it comes to, and is let go', async () => {
    const { press, selected, shown } = await blocks()
    await press('ArrowDown', { shiftKey: true })
    await press('ArrowRight', { shiftKey: true })
    expect(selected()).toEqual(['cell-1-0', 'cell-1-1', 'cell-2-0', 'cell-2-1'])
    expect(shown.get('[data-test=block-tray]').text()).toContain('4 cells days: sum 6, average 3')
    await press('Escape')
    expect(selected()).toEqual([])
    await press('a', { ctrlKey: true })
    expect(selected()).toHaveLength(6)
    await press('ArrowDown')
    expect(shown.find('[data-test=block-tray]').exists()).toBe(false)
  })

  it('is filled down, and emptied, as one step', async () => {
    const { press, put } = await blocks()
    await press('ArrowDown', { shiftKey: true })
    await press('d', { ctrlKey: true })
    await press('Delete')
    expect(put().map((call) => call.body)).toEqual([
      { records: [1, 2], fields: [41], cells: [[null], [{ value: { text: 'Gate' } }]], was: SEEN, leave_out: false, make: false },
      { records: [1, 2], fields: [41], cells: [[{ value: 'empty' }], [{ value: 'empty' }]], was: SEEN, leave_out: false, make: false },
    ])
  })

  it('is pasted over what is there; one that does not fit says why first, and what fits goes in on a word', async () => {
    const wrong = { row: 1, field: 'Days', text: 'many', why: '“Days” is computed.' }
    const { paste, put, shown } = await blocks({
      'POST /api/trackers/1/tables/3/block/rehearsal': { ...REHEARSED, unfit: 1, missing: [], wrong: [wrong] },
    })
    await paste('Fence\tmany\nDitch\t')
    expect(put()).toEqual([])
    expect(shown.get('[data-test=block-wrong]').text()).toContain('“Days” is computed.')
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    const cells = [
      [{ text: 'Fence' }, { text: 'many' }],
      [{ text: 'Ditch' }, { text: '' }],
    ]
    expect(put()[0]!.body).toMatchObject({ records: [1, 2], fields: [41, 42], cells, leave_out: true, make: false })
    // What one saw there goes along, so that what somebody changed meanwhile is not overruled.
    expect(put()[0]!.body).toMatchObject({ was: [SEEN[0]!.concat({ number: '3' } as never), SEEN[1]!.concat({ number: '3' } as never)] })
    expect(shown.find('[data-test=rehearsal]').exists()).toBe(false)
  })

  it('goes in at once where nothing stands against it, and not at all while one stands in', async () => {
    const { paste, put } = await blocks()
    await paste('Fence')
    expect(put()[0]!.body).toMatchObject({ records: [1], fields: [41], cells: [[{ text: 'Fence' }]], leave_out: false, make: false })
    const standing = await blocks({}, { readonly: true })
    await standing.paste('Fence')
    expect(standing.put()).toEqual([])
    expect(standing.shown.emitted('trouble')!.flat().join(' ')).toContain('You are standing in')
  })

  it('is handed over as text and as a table', async () => {
    const { press, frame } = await blocks()
    await press('ArrowRight', { shiftKey: true })
    const kept: Record<string, string> = {}
    const event = new Event('copy', { bubbles: true, cancelable: true })
    Object.assign(event, { clipboardData: { setData: (kind: string, text: string) => (kept[kind] = text) } })
    frame.element.dispatchEvent(event)
    expect(event.defaultPrevented).toBe(true)
    expect(kept['text/plain']).toBe('Gate\t3')
    expect(kept['text/html']).toContain('<td>Gate</td><td>3</td>')
  })
})

describe('rows in an order by hand', () => {
  const placing = () => answering({ 'POST /api/trackers/3/views/7/order': { seq: 5, did: 'moved the fault “Wall” within “All”' } })
  const order = (asked: ReturnType<typeof placing>) => changes(asked).filter((one) => one.path.endsWith('/order'))

  it('go a place up and down, to the top and the bottom, by keys and from the menu', async () => {
    const asked = placing()
    const { shown, press } = grid()
    await shown.get('#cell-2-0').trigger('click')
    await press('ArrowUp', { altKey: true, shiftKey: true })
    await press('ArrowDown', { altKey: true, shiftKey: true })
    await press('End', { altKey: true, shiftKey: true })
    await shown.get('#cell-3-0').trigger('contextmenu')
    await settled()
    document.querySelector<HTMLElement>('[data-test=menu-top]')!.click()
    await settled()
    expect(order(asked).map((one) => one.body)).toEqual([
      { place: { records: [2], spot: { before: 1 }, edits: [] } },
      { place: { records: [2], spot: { after: 3 }, edits: [] } },
      { place: { records: [2], spot: { after: 3 }, edits: [] } },
      { place: { records: [3], spot: { before: 1 }, edits: [] } },
    ])
  })

  it('go to the n-th place, that one is asked for', async () => {
    const asked = placing()
    const { shown } = grid()
    await shown.get('#cell-1-0').trigger('contextmenu')
    await settled()
    document.querySelector<HTMLElement>('[data-test=menu-nth]')!.click()
    await settled()
    const line = document.querySelector<HTMLInputElement>('[data-test=place] input')!
    line.value = '2'
    line.dispatchEvent(new Event('input'))
    line.dispatchEvent(new Event('blur'))
    await settled()
    document.querySelector<HTMLElement>('[data-test=say-place]')!.click()
    await settled()
    expect(order(asked).map((one) => one.body)).toEqual([{ place: { records: [1], spot: { after: 2 }, edits: [] } }])
  })

  it('are selected whole by their margin, and go together', async () => {
    const asked = placing()
    const { shown, press } = grid()
    await shown.get('[data-margin="1"]').trigger('click')
    await shown.get('[data-margin="2"]').trigger('click', { shiftKey: true })
    expect(shown.findAll('.margin.selected').map((one) => one.text())).toEqual(['1', '2'])
    await press('ArrowDown', { altKey: true, shiftKey: true })
    expect(order(asked).map((one) => one.body)).toEqual([{ place: { records: [1, 2], spot: { after: 3 }, edits: [] } }])
  })

  it('are not moved where something else puts them in order, and it is said', async () => {
    const asked = placing()
    const { shown, press } = grid({ refusal: 'They stand soonest due first.' })
    await shown.get('#cell-2-0').trigger('click')
    await press('ArrowUp', { altKey: true, shiftKey: true })
    expect(shown.emitted('trouble')!.at(-1)).toEqual(['They stand soonest due first.'])
    expect(order(asked)).toEqual([])
  })

  it('are carried by the mouse: above one or beneath it', async () => {
    const asked = placing()
    const { shown } = grid()
    await shown.get('[data-margin="1"]').trigger('dragstart')
    const target = shown.get('#cell-3-0').element.parentElement!
    target.getBoundingClientRect = () => ({ top: 0, height: 33 }) as DOMRect
    target.dispatchEvent(new MouseEvent('dragover', { clientY: 30, bubbles: true, cancelable: true }))
    await settled()
    expect(target.dataset.lands).toBe('beneath')
    target.dispatchEvent(new MouseEvent('drop', { bubbles: true, cancelable: true }))
    await settled()
    expect(order(asked).map((one) => one.body)).toEqual([{ place: { records: [1], spot: { after: 3 }, edits: [] } }])
  })
})
