import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import type { AlmanacShape, Field, Query } from '@/api/types'
import { answering, changes, field, opened, put, settled, table } from '@/testing'
import type { Shown } from '../window'
import AlmanacBoard from './AlmanacBoard.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.useFakeTimers({ now: Date.parse('2026-11-26T10:00:00Z'), toFake: ['Date'] })
})
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

const WHAT = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'What', within: 'what' })
const BEGINS = field({ type: 'date_time' } as never, { id: 20, name: 'Begins', within: 'begins' })
const LEADER = field({ type: 'person' } as never, { id: 40, name: 'Leader', within: 'leader' })
const HOURS = field({ type: 'number', decimals: 1, unit: 'h' } as never, { id: 50, name: 'Hours', within: 'hours' })
const FIELDS: Field[] = [WHAT, BEGINS, LEADER, HOURS]

const at = (record: number, from: number, to: number, over: object = {}) => ({ record, date: 0, from, to, length: 'timed', ...over })
const thread = (person: number | undefined, name: string, strokes: object[], over: object = {}) => ({
  who: person === undefined ? 'empty' : { person },
  name,
  says: '2 jobs, 4 h',
  strokes,
  twice: [],
  free: [],
  ...over,
})
const TWICE = [{ from: 600, to: 660, says: 'two at once 10:00 to 11:00' }]
const FREE = [{ from: 780, to: 1020, says: '4 h free' }]

async function drawn(scale: 'week' | 'day', threads: object[]) {
  const home = table(FIELDS)
  const row = (id: number) => ({
    id,
    version: 1,
    change: true,
    remove: true,
    cells: [{ value: { text: `Job ${id}` }, text: `Job ${id}` }, null, null, null],
  })
  const days = {
    seq: 1,
    days: [{ day: '2026-11-26', count: 2 }],
    weeks: [{ start: '2026-11-23', number: 48, count: 2, counted: '2 jobs', tallies: [{ text: '4 h' }], over: '' }],
    marks: [],
    rows: [row(7), row(8)],
    without: 1,
    without_counted: '1 job',
    waiting: [row(9)],
    hours: ['23', '24', '25', '26', '27', '28', '29'].map((n) => ({
      day: `2026-11-${n}`,
      threads: n === '26' ? threads : [],
      free: n === '27' ? [{ names: ['Oake', 'Pell'], says: 'all day' }] : [],
    })),
    carriers: [{ who: { person: 2 }, name: 'Oake', days: [0, 0, 0, 240, 0, 0, 0], says: '4 h' }],
    today: '2026-11-26',
  }
  const asked = answering({
    'POST /api/trackers/1/tables/3/days': days,
    'PATCH /api/trackers/1/tables/3/records/7': { seq: 2, did: 'changed it' },
  })
  const shape: AlmanacShape = { dates: [{ start: 20 }], who: 40, lasts: 50 }
  const query = { fields: [], shape: { as: 'calendar', ...shape } } as unknown as Query
  const window = { answer: ref({ of: [3] }) } as unknown as Shown
  const props = { tracker: 1, table: home, fields: FIELDS, window, query, shape, readonly: false }
  const shown = put(AlmanacBoard, { props }, opened({ tables: [home], zone: 'Europe/London' } as never))
  await settled()
  await shown.get(`[data-scale=${scale}]`).trigger('click')
  await settled()
  const put_ = () =>
    changes(asked)
      .filter((one) => one.method === 'PATCH')
      .map((one) =>
        (one.body as { edits: { field: number; input: { value: unknown } }[] }).edits.map((edit) => [edit.field, edit.input.value]),
      )
  const key = async (key: string, more: object = {}) => {
    await shown.get('[data-record="7"] [data-mark]').trigger('keydown', { key, altKey: true, ...more })
    await settled()
  }
  return { shown, put: put_, key }
}

describe('a week by its hours', () => {
  const threads = [
    thread(2, 'Oake', [at(7, 570, 690), at(8, 600, 660), { ...at(4, 0, 0), date: undefined, name: 'Wall days', length: 'day' }], {
      twice: TWICE,
    }),
    thread(undefined, '', [at(9, 0, 0, { length: 'untimed' })]),
  ]

  it('has a row for each who is out, says who is bound twice, who is free and who carries it', async () => {
    const { shown } = await drawn('week', threads)
    expect(shown.findAll('.week-hours section')).toHaveLength(7)
    const today = shown.get('section.now').text().replace(/\s+/g, ' ')
    for (const says of ['Oake', 'Job 7', 'Wall days', 'Oake has two at once 10:00 to 11:00', 'nobody yet', 'at no hour:'])
      expect(today).toContain(says)
    expect(shown.get('section[aria-label^="Friday"]').text()).toContain('Oake, Pell all day')
    expect(shown.get('[data-test=carriers]').text()).toContain('4 h')
    expect(shown.get('h2').text()).toContain('week 48, 23 November')
    // What lies beneath is looked at, and not opened or moved.
    expect(shown.get('.beneath').attributes('draggable')).toBe('false')
    expect(shown.get('[data-record="7"] [data-mark]').attributes('aria-label')).toContain('Job 7, 9:30 to 11:30')
  })

  it('is moved by keys along its hours, longer, and to the day beside', async () => {
    const { put, key, shown } = await drawn('week', threads)
    await key('ArrowRight')
    await key('ArrowRight', { shiftKey: true })
    await key('ArrowDown')
    expect(put()).toEqual([
      [[20, { instant: '2026-11-26T09:45:00.000Z' }]],
      [[50, { number: '2.25' }]],
      [[20, { instant: '2026-11-27T09:30:00.000Z' }]],
    ])
    await shown.get('[data-record="7"] [data-mark]').trigger('keydown', { key: 'Enter' })
    expect(shown.emitted('open')).toEqual([[7]])
  })
})

describe('a day by its hours', () => {
  const threads = [thread(2, 'Oake', [at(7, 570, 690)], { free: FREE }), thread(3, 'Pell', [])]

  it('has a thread for each, and puts something where one is free', async () => {
    const { shown } = await drawn('day', threads)
    expect(shown.findAll('.thread').map((one) => one.attributes('data-thread'))).toEqual(['Oake', 'Pell'])
    await shown.get('[data-free="13:00"]').trigger('click')
    expect(shown.emitted('begin')).toEqual([[{ 20: { value: { instant: '2026-11-26T13:00:00.000Z' } }, 40: { value: { person: 2 } } }]])
  })

  it('gives a record to somebody else by keys and by carrying, and says so while it is carried', async () => {
    const { shown, put, key } = await drawn('day', threads)
    await key('ArrowRight')
    expect(put()).toEqual([
      [
        [20, { instant: '2026-11-26T09:30:00.000Z' }],
        [40, { person: 3 }],
      ],
    ])
    await shown.get('[data-record="7"]').trigger('dragstart', { clientY: 0 })
    await shown.get('[data-thread="Pell"]').trigger('dragover', { clientY: 116 })
    expect(shown.get('.land').text()).toBe('Begins becomes 26 November, 10:00; leader becomes Pell.')
    await shown.get('[data-thread="Pell"]').trigger('drop', { clientY: 116 })
    await settled()
    expect(put()[1]).toEqual([
      [20, { instant: '2026-11-26T10:00:00.000Z' }],
      [40, { person: 3 }],
    ])
  })
})
