import { describe, expect, it } from 'vitest'
import { dayOf, dayText, noonOf, orderOf, readDay, typedLike } from './days'

const today = new Date(2026, 10, 26, 23, 30)
const read = (text: string, locale = 'en-GB') => readDay(text, today, locale)

describe('a day as it is typed', () => {
  it.each([
    ['2026-11-18', '2026-11-18'],
    ['18 Nov 2026', '2026-11-18'],
    ['18 november', '2026-11-18'],
    ['Nov 18, 2026', '2026-11-18'],
    ['3.4.2026', '2026-04-03'],
    ['3/4', '2026-04-03'],
    ['03-04-26', '2026-04-03'],
    ['2026/4/3', '2026-04-03'],
    ['today', '2026-11-26'],
    ['Tomorrow', '2026-11-27'],
    ['yesterday', '2026-11-25'],
  ])('%s is %s', (text, day) => expect(read(text)).toBe(day))

  it('follows the order of whoever types', () => {
    expect(read('3/4/2026', 'en-US')).toBe('2026-03-04')
    expect(read('3/4/2026', 'de')).toBe('2026-04-03')
    expect(read('18 dezember 2026', 'de')).toBe('2026-12-18')
    expect([orderOf('en-US'), orderOf('en-GB'), orderOf('sv')]).toEqual([
      ['month', 'day', 'year'],
      ['day', 'month', 'year'],
      ['year', 'month', 'day'],
    ])
    expect(typedLike('en-GB')).toBe('18/11/2026')
  })

  it.each(['', '31/2/2026', '18', 'Nov', '1/2/3/4', 'soon', '12 xyz 2026', '0/0/2026', '2026-13-01'])('%s is none', (text) =>
    expect(read(text)).toBeUndefined(),
  )
})

describe('a day as it is read', () => {
  it('is the same day wherever the clocks are', () => {
    for (const day of ['2026-03-29', '2026-10-25', '2024-02-29']) expect(dayOf(noonOf(day)!)).toBe(day)
    expect(dayText('2026-11-18', 'en-GB')).toBe('18 Nov 2026')
    expect(dayText('18 Nov', 'en-GB')).toBe('')
  })

  it('is written as core writes it by the same customs', () => {
    const written = ['en-GB', 'en-US', 'de-DE', 'de-CH', 'fr-FR', 'nl-NL', 'sv-SE'].map((tag) => dayText('2026-09-08', tag))
    expect(written).toEqual(['8 Sep 2026', 'Sep 8, 2026', '08.09.2026', '08.09.2026', '08/09/2026', '08-09-2026', '2026-09-08'])
  })
})
