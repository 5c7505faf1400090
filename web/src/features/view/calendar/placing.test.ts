import { describe, expect, it } from 'vitest'
import type { AlmanacShape, Field, Row, Value } from '@/api/types'
import { field } from '@/testing'
import { begins, changesOf, isHeldByOne, minutesNow, type Carried } from './placing'

const day = (id: number) => field({ type: 'date' } as never, { id, name: `Day ${id}` })
const moment = (id: number) => field({ type: 'date_time' } as never, { id, name: `Moment ${id}` })
const range = field({ type: 'range' } as never, { id: 30, name: 'When' })
const who = field({ type: 'person' } as never, { id: 40, name: 'Leader' })
const hours = field({ type: 'number', decimals: 1, unit: 'h' } as never, { id: 50, name: 'Hours' })
const lasting = field({ type: 'duration' } as never, { id: 51, name: 'Takes' })
const FIELDS: Field[] = [day(10), day(11), moment(20), moment(21), range, who, hours, lasting]
const row = { id: 7 } as Row

function changed(
  shape: Partial<AlmanacShape>,
  now: Partial<Carried>,
  spot: Parameters<typeof changesOf>[1],
  cells: Record<number, Value> = {},
) {
  const ground = {
    shape: { dates: [], ...shape } as AlmanacShape,
    zone: 'Europe/London',
    fieldOf: (id: number | null | undefined) => FIELDS.find((one) => one.id === id),
    cell: (_: Row, id: number | null | undefined) => cells[id ?? 0],
  }
  const edits = changesOf({ row, date: 0, mark: undefined, end: undefined, ...now }, spot, ground)
  return edits.map((edit) => [edit.field, (edit.input as { value: Value }).value])
}
const mark = (start: string, end = start) => ({ record: 7, date: 0, start, end })

describe('putting a record on a day', () => {
  it('gives a day to what had none, and a morning to what holds moments', () => {
    expect(changed({ dates: [{ start: 10 }] }, {}, { day: '2026-11-26' })).toEqual([[10, { date: '2026-11-26' }]])
    expect(changed({ dates: [{ start: 20 }] }, {}, { day: '2026-07-01' })).toEqual([[20, { instant: '2026-07-01T08:00:00.000Z' }]])
  })

  it('keeps the length of a span, and moves one of its ends alone', () => {
    const shape = { dates: [{ start: 10, end: 11 }] }
    const span = { mark: mark('2026-11-26', '2026-11-28') }
    expect(changed(shape, span, { day: '2026-12-01' })).toEqual([
      [10, { date: '2026-12-01' }],
      [11, { date: '2026-12-03' }],
    ])
    expect(changed(shape, { ...span, end: 'end' }, { day: '2026-12-01' })).toEqual([[11, { date: '2026-12-01' }]])
    expect(changed(shape, { ...span, end: 'start' }, { day: '2026-11-20' })).toEqual([[10, { date: '2026-11-20' }]])
    expect(changed({ dates: [{ start: 30 }] }, span, { day: '2026-11-27' })).toEqual([[30, { range: ['2026-11-27', '2026-11-29'] }]])
  })

  it('keeps the time of day where no hour is said, and takes the one that is', () => {
    const at = { instant: '2026-11-26T14:30:00Z' }
    const there = { mark: mark('2026-11-26'), from: 870, to: 960 }
    expect(changed({ dates: [{ start: 20 }] }, there, { day: '2026-11-28' }, { 20: at })).toEqual([
      [20, { instant: '2026-11-28T14:30:00.000Z' }],
    ])
    expect(changed({ dates: [{ start: 20 }] }, there, { day: '2026-11-28', minutes: 555 }, { 20: at })).toEqual([
      [20, { instant: '2026-11-28T09:15:00.000Z' }],
    ])
    // What is not shown is not known, but for where it is drawn.
    expect(changed({ dates: [{ start: 20 }] }, there, { day: '2026-11-28' })).toEqual([[20, { instant: '2026-11-28T14:30:00.000Z' }]])
  })

  it('lets both ends go by as much, where both are moments', () => {
    const there = { mark: mark('2026-11-26'), from: 540, to: 660 }
    expect(changed({ dates: [{ start: 20, end: 21 }] }, there, { day: '2026-11-27', minutes: 600 })).toEqual([
      [20, { instant: '2026-11-27T10:00:00.000Z' }],
      [21, { instant: '2026-11-27T12:00:00.000Z' }],
    ])
  })

  it('makes it last as long as it is drawn, in hours or as a duration; never less than nothing', () => {
    const drawn = { mark: mark('2026-11-26'), from: 540, to: 600, end: 'end' as const }
    const to = (minutes: number) => ({ day: '2026-11-26', minutes })
    expect(changed({ dates: [{ start: 20 }], lasts: 50 }, drawn, to(645))).toEqual([[50, { number: '1.75' }]])
    expect(changed({ dates: [{ start: 20 }], lasts: 51 }, drawn, to(645))).toEqual([[51, { number: '6300' }]])
    expect(changed({ dates: [{ start: 20 }], lasts: 50 }, drawn, to(500))).toEqual([])
    expect(changed({ dates: [{ start: 20 }] }, drawn, to(645))).toEqual([])
  })

  it('gives it to somebody else on whose line it is put', () => {
    const there = { mark: mark('2026-11-26'), from: 540, to: 600, who: { person: 2 } }
    const spot = { day: '2026-11-26', minutes: 540 }
    const shape = { dates: [{ start: 20 }], who: 40 }
    expect(changed(shape, there, { ...spot, who: { person: 3 } })[1]).toEqual([40, { person: 3 }])
    expect(changed(shape, there, { ...spot, who: { person: 2 } })).toHaveLength(1)
    expect(changed(shape, { ...there, who: 'empty' }, { ...spot, who: 'empty' })).toHaveLength(1)
  })
})

describe('what a calendar begins', () => {
  it.each([
    [day(10), {}, { date: '2026-11-26' }],
    [range, {}, { range: ['2026-11-26', '2026-11-26'] }],
    [moment(20), {}, { instant: '2026-11-26T09:00:00.000Z' }],
    [moment(20), { minutes: 795 }, { instant: '2026-11-26T13:15:00.000Z' }],
  ])('holds the day, and the hour where one was pressed', (of, more, value) =>
    expect(begins(of, { day: '2026-11-26', ...more }, 'Europe/London')).toEqual(value),
  )

  it('knows of whom each has one', () => {
    expect([who, hours, undefined].map(isHeldByOne)).toEqual([true, false, false])
    expect(isHeldByOne(field({ type: 'link', to: 1, back: 1, one: false, holds: true } as never))).toBe(false)
  })

  it('knows what clocks show where the tracker is', () => {
    expect(minutesNow(new Date('2026-07-01T12:30:00Z'), 'Europe/London')).toBe(13 * 60 + 30)
  })
})
