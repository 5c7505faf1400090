// Days and moments at the ends of the calendar, and where clocks jump.
import { expect, it } from 'vitest'
import { clocksOf, daysOn, momentAt, plusDays, plusMonths } from './dates'

it('stops where the calendar does', () => {
  expect(plusDays('9999-12-31', 1)).toBe('9999-12-31')
  expect(plusDays('0001-01-01', -1)).toBe('0001-01-01')
  expect(plusDays('0001-01-01', 31)).toBe('0001-02-01')
  expect(plusDays('2024-02-28', 1)).toBe('2024-02-29')
  expect(plusMonths('0001-12', 1)).toBe('0002-01')
})

it('knows the hours of the first years as of any other', () => {
  expect(momentAt('0001-01-01T09:00', 'UTC')).toBe('0001-01-01T09:00:00.000Z')
  expect(momentAt('0099-06-01T09:00', 'UTC')).toBe('0099-06-01T09:00:00.000Z')
  expect(new Date(clocksOf(Date.parse('0001-03-01T12:30:00Z'), 'UTC')).toISOString()).toBe('0001-03-01T12:30:00.000Z')
  expect(daysOn('0001-02-28T09:00:00.000Z', 1, 'UTC')).toBe('0001-03-01T09:00:00.000Z')
})

it('keeps the time of day over a change of the clocks', () => {
  expect(daysOn('2026-03-28T09:00:00.000Z', 1, 'Europe/London')).toBe('2026-03-29T08:00:00.000Z')
  expect(momentAt('2026-06-01T09:00', 'Europe/London')).toBe('2026-06-01T08:00:00.000Z')
})
