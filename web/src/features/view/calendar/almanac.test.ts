import { describe, expect, it } from 'vitest'
import type { AlmanacMark } from '@/api/types'
import { hidden, placed, weekOf, weeksFrom } from './almanac'
import { daysFrom, daysOn, momentAt, plusDays, plusMonths, weekdayOf } from './dates'

const mark = (record: number, start: string, end = start, date = 0): AlmanacMark => ({ record, date, start, end })

describe('days', () => {
  it('are counted over the ends of months and years, and in leap years', () => {
    expect(plusDays('2026-12-31', 1)).toBe('2027-01-01')
    expect(plusDays('2028-02-28', 1)).toBe('2028-02-29')
    expect(plusDays('2026-03-29', -29)).toBe('2026-02-28')
    expect(daysFrom('2026-10-24', '2026-10-26')).toBe(2)
    expect(plusMonths('2026-11', 3)).toBe('2027-02')
    expect(plusMonths('2026-01', -1)).toBe('2025-12')
    expect(weekdayOf('2026-11-28')).toBe(6)
  })

  it('stop at the ends of the calendar', () => {
    expect(plusDays('0001-01-01', -400)).toMatch(/^\S+$/)
    expect(plusDays('not a day', 1)).toBe('not a day')
  })

  it('keep the time of day over a change of the clocks', () => {
    expect(momentAt('2026-11-28T09:00:00', 'Europe/London')).toBe('2026-11-28T09:00:00.000Z')
    expect(momentAt('2026-07-28T09:00:00', 'Europe/London')).toBe('2026-07-28T08:00:00.000Z')
    // Clocks go forward on 29 March 2026 at 1:00 UTC, and back on 25 October.
    expect(daysOn('2026-03-27T09:30:00Z', 3, 'Europe/London')).toBe('2026-03-30T08:30:00.000Z')
    expect(daysOn('2026-10-26T09:30:15.250Z', -7, 'Europe/London')).toBe('2026-10-19T08:30:15.250Z')
    expect(daysOn('2026-03-27T23:30:00Z', 1, 'America/New_York')).toBe('2026-03-28T23:30:00.000Z')
    // There is no half past one on that morning: half past two.
    expect(momentAt('2026-03-29T01:30:00', 'Europe/London')).toBe('2026-03-29T01:30:00.000Z')
  })

  it('lie in weeks that begin as one is used to', () => {
    expect(weekOf('2026-11-28')).toBe('2026-11-23')
    expect(weekOf('2026-11-29')).toBe('2026-11-23')
    expect(weekOf('2026-11-29', 0)).toBe('2026-11-29')
    expect(weeksFrom('2026-11-28', 3)).toEqual(['2026-11-23', '2026-11-30', '2026-12-07'])
  })
})

describe('the line of a week', () => {
  it('has marks side by side, and one under the other where they would meet', () => {
    const all = placed('2026-11-23', [
      mark(1, '2026-11-23'),
      mark(2, '2026-11-23', '2026-11-25'),
      mark(3, '2026-11-26'),
      mark(4, '2026-11-24'),
    ])
    const at = (record: number) => all.find((one) => one.mark.record === record)!
    // What takes longer stands first.
    expect([at(2).level, at(2).from, at(2).to]).toEqual([0, 0, 2])
    expect(at(1).level).toBe(1)
    expect(at(3).level).toBe(0)
    expect(at(4).level).toBe(1)
    for (const one of all)
      for (const other of all) if (one !== other && one.level === other.level) expect(one.to < other.from || other.to < one.from).toBe(true)
  })

  it('cuts what runs over its ends, and leaves out what lies elsewhere', () => {
    const [one] = placed('2026-11-23', [mark(1, '2026-11-20', '2026-12-02'), mark(2, '2026-11-22'), mark(3, '2026-11-30')])
    expect(one).toMatchObject({ from: 0, to: 6, before: true, behind: true })
    expect(placed('2026-11-23', [mark(2, '2026-11-22')])).toEqual([])
  })

  it('says of each day how many have no room', () => {
    const all = placed(
      '2026-11-23',
      [1, 2, 3].map((record) => mark(record, '2026-11-24')),
    )
    expect(hidden('2026-11-23', all, new Map([['2026-11-24', 9]]), 2)).toEqual(new Map([['2026-11-24', 7]]))
    expect(hidden('2026-11-23', all, new Map([['2026-11-24', 3]]), 4).size).toBe(0)
  })
})
