import { describe, expect, it } from 'vitest'
import { isIn, ruleOf, steps } from './pointer'

describe('a place in what is sent', () => {
  it.each([
    ['/condition', '/condition'],
    ['/condition/all/0', '/condition'],
    ['/condition/all/0/any/12/test', '/condition'],
    ['/sorts/2', '/sorts'],
    ['/fields', '/fields'],
    ['/steps/0/mail/to', '/steps/0/mail/to'],
    ['/questions/3/shown/condition/any/1', '/questions/3/shown/condition'],
  ])('%s belongs to the rule at %s', (at, rule) => expect(ruleOf(at)).toBe(rule))

  it('lies in another by whole steps only', () => {
    expect(isIn('/steps/1', '/steps/1')).toBe(true)
    expect(isIn('/steps/1/mail/to', '/steps/1')).toBe(true)
    expect(isIn('/steps/10', '/steps/1')).toBe(false)
    expect(isIn('/steps', '/steps/1')).toBe(false)
  })

  it('is taken apart into its steps', () => {
    expect(steps('/groups/0')).toEqual(['groups', '0'])
    expect(steps('')).toEqual([])
  })
})
