import { describe, expect, it } from 'vitest'
import { stillThere } from './script'

const questions = [
  { field: 1, hidden: false },
  { field: 2, hidden: true },
  { field: 3, hidden: false },
]

describe('how many are still there', () => {
  it('falls by those who left at the lines before', () => {
    const visits = { opened: 212, sent: 171, left: [{ field: 1, number: 12 }, { field: 3, number: 29 }] } // prettier-ignore
    expect(stillThere(questions, visits)).toEqual([
      { here: 212, left: 12 },
      { here: 200, left: 0 },
      { here: 200, left: 29 },
    ])
  })

  it('never falls below nobody, whatever was counted before a question was moved', () => {
    const visits = { opened: 30, sent: 0, left: [{ field: 1, number: 40 }, { field: 3, number: 5 }] } // prettier-ignore
    expect(stillThere(questions, visits)!.map((line) => line.here)).toEqual([30, 0, 0])
  })

  it('says nothing of a few', () => {
    expect(stillThere(questions, { opened: 29, sent: 20, left: [] })).toBeUndefined()
    expect(stillThere(questions, null)).toBeUndefined()
  })
})
