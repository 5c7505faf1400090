// The records of a shared page in each shape: groups, lanes, plates, days and cells.
import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { PageGroup, PageRow } from '@/api/types'
import { lanesOf, linesOf } from './groups'
import PageRecords from './PageRecords.vue'
import { HELPS, NOTE, PART, pageServer, ROW, TITLE, TOLD } from './testing'

const { server, put, asking } = pageServer()
const narrow = { is: false }
vi.mock('@vueuse/core', async (all) => ({ ...(await all<object>()), useMediaQuery: () => ({ value: narrow.is, __v_isRef: true }) }))
beforeEach(() => void (narrow.is = false))

const row = (id: number, name: string) => ({ ...ROW, id, change: false, cells: [{ text: name }, null, { text: 'yes', value: { choice: 7 } }] }) as unknown as PageRow // prettier-ignore
const group = (text: string, count: number, shown: number, within: PageGroup[] = []): PageGroup => ({
  text,
  count,
  counted: `${count} faults`,
  figures: ['3 h'],
  shown,
  within,
})
const GROUPS = [group('in hand', 3, 2), group('reported', 2, 0), group('made good', 1, 1)]
const ROWS = [row(1, 'Gate'), row(2, 'Stile'), row(3, 'Bridge')]

describe('records in their groups', () => {
  it('stand under the heads that hold some of them', () => {
    const said = linesOf({ rows: ROWS, groups: GROUPS }).map((line) => line.group?.text ?? line.row!.id)
    expect(said).toEqual(['in hand', 1, 2, 'made good', 3])
    expect(linesOf({ rows: ROWS, groups: [] })).toHaveLength(3)
  })

  it('stand under heads within heads, each as deep as it is', () => {
    const groups = [group('Eskermoor', 3, 0, [group('high', 1, 1), group('low', 2, 2)]), group('Harrow', 4, 0, [group('low', 4, 0)])]
    const said = linesOf({ rows: ROWS, groups }).map((line) => (line.group ? `${line.depth} ${line.group.text}` : line.row.id))
    expect(said).toEqual(['0 Eskermoor', '1 high', 1, '1 low', 2, 3])
  })

  it('stand in lanes, those without records too, and with the records of all their bands', () => {
    const groups = [group('in hand', 5, 0, [group('high', 1, 1), group('low', 4, 1)]), group('reported', 0, 0), group('done', 1, 1)]
    expect(lanesOf({ rows: ROWS, groups }).map((lane) => lane.rows.map((one) => one.id))).toEqual([[1, 2], [], [3]])
  })

  it('are shown as rows under their heads, with the figures of each and of all', async () => {
    server.answers['POST /parts/1/rows'] = { ...TOLD, total: 6, matching: 6, rows: ROWS, groups: GROUPS, figures: ['9 h'] }
    const shown = put(PageRecords, { part: { ...PART, figures: ['the sum of hours'] }, looks: 0 })
    await flushPromises()
    expect(shown.findAll('tbody tr').map((line) => line.text())).toEqual([
      expect.stringContaining('in hand'),
      expect.stringContaining('Gate'),
      expect.stringContaining('Stile'),
      expect.stringContaining('made good'),
      expect.stringContaining('Bridge'),
    ])
    expect(shown.get('tr.head').text()).toBe('in hand3 faultsthe sum of hours 3 h')
    expect(shown.get('.totals').text()).toBe('the sum of hours 9 h')
  })
})

it('lanes say how many more they hold, leave out what the lane says, and give more of each', async () => {
  server.answers['POST /parts/1/rows'] = { ...TOLD, total: 6, matching: 6, rows: ROWS, groups: GROUPS }
  const shown = put(PageRecords, { part: { ...PART, shape: { as: 'lanes', by: 3 } }, looks: 0 })
  await flushPromises()
  expect(asking('POST /parts/1/rows')[0]!.body).toMatchObject({ count: 12 })
  expect(shown.findAll('.lane').map((lane) => lane.attributes('aria-label'))).toEqual(['in hand, 3 faults', 'reported, 2 faults', 'made good, 1 faults']) // prettier-ignore
  expect(shown.get('.lane').text()).toContain('and 1 more')
  expect(shown.get('[data-record="1"]').text()).toBe('Gate')
  expect(shown.findAll('.rule').map((rule) => (rule.element as HTMLElement).style.width)).toEqual(['100%', '66.66666666666666%', '33.33333333333333%']) // prettier-ignore
  await shown.get('.after .link').trigger('click')
  await flushPromises()
  expect(asking('POST /parts/1/rows').at(-1)!.body).toMatchObject({ count: 24 })
  await shown.get('[data-record="3"] button').trigger('click')
  expect(shown.get('dialog h2').text()).toBe('Bridge')
})

it('plates show a picture of the page’s own address, or a plain face', async () => {
  const picture = { id: 'abc', name: 'gate.jpg', media: 'image/jpeg', size: 9 }
  const pictured = { ...row(1, 'Gate'), cells: [{ text: 'Gate' }, { text: 'gate.jpg', value: { files: [picture] } }] } as unknown as PageRow
  server.answers['POST /parts/1/rows'] = { ...TOLD, total: 2, matching: 2, rows: [pictured, row(2, 'Stile')] }
  const columns = [TITLE, { ...NOTE, question: undefined }]
  const shape = { as: 'cards', picture: 2, size: 'small', fit: 'cropped' }
  const shown = put(PageRecords, { part: { ...PART, columns, shape }, looks: 0 })
  await flushPromises()
  expect(shown.findAll('.plate img').map((one) => one.attributes('src'))).toEqual(['/api/public/pages/here/files/abc'])
  expect(shown.findAll('.plate svg path').length).toBeGreaterThan(0)
  expect(shown.get('.plate').text()).toBe('Gate')
})

describe('a calendar', () => {
  const shape = { as: 'calendar', dates: ['due'], today: '2026-11-24' }
  const mark = (record: number, start: string, end = start) => ({ record, date: 0, start, end })
  async function calendar(part: object = {}) {
    const marks = [mark(1, '2026-11-26'), mark(2, '2026-11-27', '2026-12-02')]
    server.answers['POST /parts/1/days'] = { marks, rows: ROWS.slice(0, 2), without: '1 fault', waiting: [ROWS[2]] }
    server.answers['POST /parts/1/rows'] = { ...TOLD, total: 3, matching: 3, rows: [] }
    const shown = put(PageRecords, { part: { ...PART, shape, ...part }, looks: 0 })
    await flushPromises()
    return shown
  }

  it('asks for the weeks of its month, draws spans along them, and tells what has no day', async () => {
    const shown = await calendar()
    expect(asking('POST /parts/1/days')[0]!.body).toEqual({ condition: { all: [] }, from: '2026-10-26', to: '2026-12-06' })
    expect(shown.findAll('.mark').map((one) => one.text())).toEqual(['Gate', 'Stile', 'Stile'])
    expect(shown.findAll('.mark.before, .mark.behind')).toHaveLength(2)
    expect(shown.get('.waiting').text()).toContain('1 fault without a day')
    expect(shown.find('select[aria-label="In which order"]').exists()).toBe(false)
    expect(shown.find('.after .link').exists()).toBe(false)
  })

  it('turns month by month and back to today, and opens what stands on a day', async () => {
    const shown = await calendar()
    await shown.get('[data-test=month-after]').trigger('click')
    await flushPromises()
    expect(shown.get('.turn').text()).toContain('December 2026')
    expect(asking('POST /parts/1/days').at(-1)!.body).toMatchObject({ from: '2026-11-30', to: '2027-01-03' })
    await shown.findAll('.turn .link').at(-1)!.trigger('click')
    await flushPromises()
    expect(shown.get('.turn').text()).toContain('November 2026')
    await shown.get('.mark').trigger('click')
    expect(shown.get('dialog h2').text()).toBe('Gate')
  })

  it('is a list of days where there is little room, and says by which date where there are several', async () => {
    narrow.is = true
    const shown = await calendar()
    expect(shown.findAll('.day-list').map((day) => day.attributes('data-day'))).toEqual(['2026-11-26', '2026-11-27', '2026-11-28', '2026-11-29', '2026-11-30']) // prettier-ignore
    narrow.is = false
    const both = await calendar({ shape: { ...shape, dates: ['due', 'begun'] } })
    expect(both.get('button.mark').attributes('aria-label')).toBe('due: Gate')
    expect(both.get('.legend').text()).toBe('duebegun')
  })
})

describe('a cross-tab', () => {
  const crossed = {
    rows: [
      { text: 'All', depth: 0 },
      { text: 'in hand', depth: 1, hue: 'plum' },
      { text: 'reported', depth: 1 },
    ],
    columns: [
      { text: 'All', depth: 0 },
      { text: 'October', depth: 1 },
    ],
    cells: [
      [
        { text: '5', also: [] },
        { text: '5', also: [] },
      ],
      [
        { text: '4', also: [] },
        { text: '4', also: ['80 %'], length: '1', within: [3, 1] },
      ],
      [{ text: '1', also: [] }, null],
    ],
    within: [{ text: 'high', hue: 'rowan' }, { text: 'low' }],
    foot: [],
  }

  it('has its totals last, lengths at one scale, and is narrowed with the rest', async () => {
    server.answers['POST /parts/1/crossed'] = crossed
    const shown = put(PageRecords, { part: { ...PART, shape: { as: 'cross-tab' } }, looks: 0 })
    await flushPromises()
    expect(shown.findAll('thead th').map((one) => one.text())).toEqual(['October', 'All'])
    expect(shown.findAll('tbody tr').map((line) => line.text())).toEqual(['in hand480 %4', 'reported1', 'All55'])
    expect((shown.get('.bar').element as HTMLElement).style.width).toBe('100%')
    expect(shown.findAll('.bar i').map((part) => (part.element as HTMLElement).style.flexGrow)).toEqual(['3', '1'])
    expect(shown.get('td[title]').attributes('title')).toBe('3 high, 1 low')
    expect(shown.get('.legend').text()).toBe('highlow')
    await shown.get('select').setValue('7')
    await flushPromises()
    expect(asking('POST /parts/1/crossed').at(-1)!.body).toMatchObject({ condition: { all: [{ test: { path: [HELPS.field] } }] } })
  })

  it('says why it can’t be told', async () => {
    server.answers['POST /parts/1/crossed'] = { status: 422, detail: 'Too many.', faults: [{ pointer: '/shape/down', message: 'There would be 900 values down.', kind: 'too_long' }] } // prettier-ignore
    const shown = put(PageRecords, { part: { ...PART, shape: { as: 'cross-tab' } }, looks: 0 })
    await flushPromises()
    expect(shown.get('[role=alert]').text()).toBe('There would be 900 values down.')
  })
})

it('gives more as long as the server does, and says then how to come to the rest', async () => {
  server.answers['POST /parts/1/rows'] = { ...TOLD, total: 5000, matching: 5000, rows: [row(1, 'Gate')] }
  const shown = put(PageRecords, { part: PART, looks: 0 })
  await flushPromises()
  for (let n = 0; n < 30 && shown.find('.after .link').exists(); n++) {
    await shown.get('.after .link').trigger('click')
    await flushPromises()
  }
  expect(asking('POST /parts/1/rows').at(-1)!.body).toMatchObject({ count: 1000 })
  expect(shown.get('.after').text()).toBe('4999 more are not shown: look for words to narrow them.')
})
