import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import { SCALES, useTurning } from './turning'

beforeEach(() => void vi.useFakeTimers({ now: Date.parse('2026-11-26T10:00:00Z'), toFake: ['Date'] }))
afterEach(() => void vi.useRealTimers())

const turning = (first = 1) => useTurning({ today: ref('2026-11-26'), weekFirst: ref(first) })

describe('the days in sight', () => {
  it.each([
    ['day', '2026-11-26', '2026-11-26', 'Thursday'],
    ['week', '2026-11-23', '2026-11-29', '23 November to 29 November 2026'],
    ['month', '2026-11-16', '2026-12-27', '16 November to 27 December 2026'],
    ['year', '2026-01-01', '2026-12-31', '2026'],
  ] as const)('of a %s', (scale, from, to, says) => {
    const now = turning()
    now.scale.value = scale
    expect([now.from.value, now.to.value]).toEqual([from, to])
    expect(now.title.value).toContain(says)
  })

  it.each([
    ['day', '2026-11-27'],
    ['week', '2026-12-03'],
    ['month', '2026-12-24'],
    ['year', '2027-11-01'],
  ] as const)('are turned by a %s', (scale, here) => {
    const now = turning()
    now.scale.value = scale
    now.turn(1)
    expect(now.here.value).toBe(here)
    now.toToday()
    expect(now.here.value).toBe('2026-11-26')
  })

  it('begin where one’s weeks do, and lead to a day', () => {
    const now = turning(0)
    now.scale.value = 'week'
    expect(now.days.value).toHaveLength(7)
    expect(now.from.value).toBe('2026-11-22')
    now.toDay('2027-02-03')
    expect([now.scale.value, now.opened.value, now.here.value]).toEqual(['month', '2027-02-03', '2027-02-03'])
    now.turn(1)
    expect(now.opened.value).toBeUndefined()
    now.toDay('2027-02-03', 'day')
    expect([now.scale.value, now.opened.value, now.days.value]).toEqual(['day', undefined, ['2027-02-03']])
    expect(SCALES).toHaveLength(4)
  })
})
