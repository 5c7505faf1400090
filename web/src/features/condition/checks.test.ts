import { describe, expect, it } from 'vitest'
import type { Condition } from '@/api/types'
import { pruned, without } from './checks'

const filled = (field: number): Condition => ({ test: { path: [field], of: 'any', check: { is: 'filled' } } })
const blank: Condition = { test: { path: [9], of: 'any', check: { is: 'option', not: false, any: [] } } }

describe('conditions as they are edited', () => {
  it('leave out tests that say nothing yet, and groups of which nothing is left', () => {
    expect(pruned({ all: [filled(1), blank, { any: [blank] }] })).toEqual({ all: [filled(1)] })
  })

  it('lose exactly the part whose phrase was dropped', () => {
    const condition: Condition = { all: [filled(1), { any: [filled(2), filled(3)] }] }
    expect(without(condition, '/all/1/any/0')).toEqual({ all: [filled(1), { any: [filled(3)] }] })
    expect(without(condition, '/all/0')).toEqual({ all: [{ any: [filled(2), filled(3)] }] })
    expect(without(filled(1), '/test')).toEqual({ all: [] })
  })
})
