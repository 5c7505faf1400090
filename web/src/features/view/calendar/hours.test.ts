import { describe, expect, it } from 'vitest'
import type { DayHours, HourStroke } from '@/api/types'
import { clock, hoursOf, isOut, laid, snap, span, within } from './hours'

const stroke = (from: number, to: number, over: Partial<HourStroke> = {}): HourStroke =>
  ({ record: from, date: 0, from, to, length: from === to ? 'moment' : 'timed', ...over }) as HourStroke
const day = (...strokes: HourStroke[]): DayHours => ({
  day: '2026-11-26',
  free: [],
  threads: [{ who: 'empty', name: '', says: '', strokes, twice: [], free: [] }],
})

describe('lines of hours', () => {
  it('reach over the hours of work, and as far as something does', () => {
    const working = { from: 8, to: 17 }
    expect(span([day()], working)).toEqual({ from: 480, to: 1020 })
    expect(span([day(stroke(450, 500), stroke(1100, 1130))], working)).toEqual({ from: 420, to: 1140 + 60 })
    // What holds all day, or no hour, says nothing of hours.
    expect(span([day(stroke(0, 1440, { length: 'day' }), stroke(0, 0, { length: 'untimed' }))], working)).toEqual({ from: 480, to: 1020 })
    expect(span([day(stroke(1380, 1440))], working).to).toBe(1440)
  })

  it('put strokes that would meet one under the other', () => {
    const strokes = [stroke(480, 540), stroke(500, 560), stroke(540, 600), stroke(600, 600)]
    const { all, levels } = laid(strokes, () => 0)
    expect([all.map((one) => one.level), levels]).toEqual([[0, 1, 0, 0], 2])
    // A name needs room, however short what it names is.
    expect(laid([stroke(480, 490), stroke(500, 510)], () => 60).levels).toBe(2)
    expect(laid([], () => 0).levels).toBe(1)
  })

  it('say and snap hours', () => {
    expect([clock(0), clock(555), clock(1020)]).toEqual(['0:00', '9:15', '17:00'])
    expect(hoursOf({ from: 480, to: 600 })).toEqual([480, 540, 600])
    expect([snap(487), snap(488)]).toEqual([480, 495])
    expect([within(0, { from: 480, to: 600 }), within(9999, { from: 480, to: 600 })]).toEqual([480, 585])
    expect([isOut(day().threads[0]!), isOut(day(stroke(1, 2)).threads[0]!)]).toEqual([false, true])
  })
})
