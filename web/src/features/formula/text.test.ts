import { describe, expect, it } from 'vitest'
import type { Field, Table, Tracker } from '@/api/types'
import { callAt, follow, nameAt, scopesAt, written } from './text'

const field = (id: number, name: string, to?: number) =>
  ({ id, name, shows: to ? { type: 'link', to, back: 1, one: false, holds: true } : { type: 'text', limit: 9 } }) as unknown as Field
const table = (id: number, name: string, fields: Field[]) => ({ id, name, fields }) as unknown as Table
const sections = table(2, 'Sections', [field(21, 'Name'), field(22, 'Open faults', 3)])
const faults = table(3, 'Faults', [field(31, 'Status'), field(32, 'Section', 2)])
const tracker = { tables: [sections, faults] } as unknown as Tracker

describe('the call around the cursor', () => {
  const at = (marked: string) => callAt(marked.replace('|', ''), marked.indexOf('|'))
  it('is the innermost one, with its argument', () => {
    expect(at('ROUND(SUM(|), 2)')).toEqual({ name: 'SUM', argument: 0 })
    expect(at('ROUND(SUM(1, 2), |)')).toEqual({ name: 'ROUND', argument: 1 })
    expect(at('if (1; "a(,"; |')).toEqual({ name: 'IF', argument: 2 })
    expect(at('ROUND(1) + |')).toBeUndefined()
    expect(at('ROUND((1 + |')).toEqual({ name: 'ROUND', argument: 0 })
  })
})

describe('the name that is being typed', () => {
  it('has several words, and dots along links', () => {
    expect(nameAt('2 * Open fa', 11)).toEqual({ from: 4, path: [], typed: 'Open fa' })
    expect(nameAt('SUM(Open faults.St', 18)).toEqual({ from: 16, path: ['Open faults'], typed: 'St' })
    expect(nameAt('COUNT(Open faults where St', 26).typed).toBe('St')
  })
  it('is of the table that the links before it lead to', () => {
    expect(follow(tracker, sections, ['Open faults', 'Section'])?.name).toBe('Sections')
    expect(follow(tracker, sections, ['Name'])).toBeUndefined()
  })
  it('means the list first behind where', () => {
    const text = 'COUNT(Open faults where '
    expect(scopesAt(tracker, sections, text, text.length).map((t) => t.name)).toEqual(['Faults', 'Sections'])
    expect(scopesAt(tracker, sections, '1 + ', 4)).toEqual([sections])
  })
  it('is quoted where it holds signs', () => {
    expect(written('Unit price')).toBe('Unit price')
    expect(written('Cost (net)')).toBe("'Cost (net)'")
  })
})
