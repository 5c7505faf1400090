import { describe, expect, it } from 'vitest'
import type { Step } from '@/api/types'
import { field, opened, table } from '@/testing'
import { hourOf, hourText } from '@/features/cell/hours'
import { keyOf, occasionOf } from './occasions'
import { begunStep, inList, kindOf, KINDS, listAt, moved, stepAt, stepPlace, tableAt, withList, withoutStep, withStep } from './steps'

const faults = table([field({ type: 'text', limit: 9 }, { id: 41 })])
const orders = table([field({ type: 'text', limit: 9 }, { id: 61 })], {
  id: 6,
  name: 'Work orders',
  one: 'work order',
  many: 'work orders',
})
const mail: Step = { mail: { to: { address: 'a@b.example' }, subject: 'x', body: '', digest: false } }
const each: Step = { each: { table: 6, condition: { all: [] }, same: [], first: false, steps: [mail, 'stop'], otherwise: [mail] } }
const of = { steps: [mail, each] }

describe('the steps of an automation', () => {
  it.each([
    ['/steps/0/mail/to', '/steps/0'],
    ['/steps/1/each/steps/0/mail/subject', '/steps/1/each/steps/0'],
    ['/steps/1/each/condition/all/0', '/steps/1'],
    ['/steps/1/each/otherwise/0', '/steps/1/each/otherwise/0'],
    ['/when', undefined],
  ])('has the step of %s at %s', (at, place) => expect(stepPlace(at)).toBe(place))

  it('are found, put, taken out and moved, however deep', () => {
    expect(stepAt(of, '/steps/1/each/steps/1')).toBe('stop')
    expect(kindOf(stepAt(of, '/steps/1')!)).toBe('each')
    expect(listAt({ steps: withStep(of, '/steps/1/each/steps/0', 'stop') }, '/steps/1/each/steps')).toEqual(['stop', 'stop'])
    expect(listAt({ steps: withoutStep(of, '/steps/1/each/otherwise/0') }, '/steps/1/each/otherwise')).toEqual([])
    expect(listAt({ steps: moved(of, '/steps/1/each/steps/1', -1) }, '/steps/1/each/steps')).toEqual(['stop', mail])
    expect(withList(of, '/steps', [])).toEqual([])
    expect(inList('/steps/1/each/steps/1')).toEqual({ list: '/steps/1/each/steps', place: 1 })
    expect(of.steps[1], 'nothing is changed in its place').toBe(each)
  })

  it('are about the records that were found, within what goes through them alone', () => {
    const tracker = opened({ tables: [faults, orders] } as never).tracker.value!
    expect(tableAt(tracker, faults, of, '/steps/1').id).toBe(3)
    expect(tableAt(tracker, faults, of, '/steps/1/each/steps/0').id).toBe(6)
    expect(tableAt(tracker, faults, of, '/steps/1/each/otherwise/0').id).toBe(3)
  })

  it('go to somebody of the record, where there is one', () => {
    expect(begunStep('mail', faults, [44])).toMatchObject({ mail: { to: { field: [44] } } })
    expect(begunStep('mail', faults)).toMatchObject({ mail: { to: { address: '' } } })
  })

  it('begin as what they are', () => {
    expect(KINDS.map(({ value }) => kindOf(begunStep(value, faults)))).toEqual(KINDS.map(({ value }) => value))
  })
})

describe('what sets it going', () => {
  it.each(['added', 'pressed', 'fits', 'chosen', 'changed', 'every', 'date', '120', 'any'])('is the same after %s was chosen', (key) => {
    expect(keyOf(occasionOf(key, faults))).toBe(key)
  })
  it('comes at an hour as it is typed', () => {
    expect([hourText(425), hourOf('07:05'), hourOf('')]).toEqual(['07:05', 425, undefined])
  })
})
