import { describe, expect, it } from 'vitest'
import type { Field, Kind } from '@/api/types'
import { allOf, alterationOf, altered, begun, waysOf } from './altering'

const field = (kind: object, over: object = {}) => ({ id: 5, name: 'F', required: false, kind: kind as Kind, ...over }) as Field
const ways = (kind: object, over = {}) => waysOf(field(kind, over)).map((one) => one.value)

describe('what can be done to a field', () => {
  it('follows from its kind', () => {
    expect(ways({ type: 'text', limit: 9 })).toEqual(['set', 'replace', 'empty', 'from', 'along'])
    expect(ways({ type: 'date' })).toEqual(['set', 'now', 'days', 'empty', 'from', 'along'])
    expect(ways({ type: 'money', currency: 'GBP' })).toEqual(['set', 'raise', 'empty', 'from', 'along'])
    expect(ways({ type: 'choices', options: [] })).toEqual(['set', 'add', 'take', 'empty', 'from', 'along'])
    expect(ways({ type: 'checklist' })).toContain('item')
    expect(ways({ type: 'link', one: true })).not.toContain('add')
    expect(ways({ type: 'link', one: false })).toContain('add')
    expect(waysOf(undefined)).toEqual([])
  })

  it('fills again what was copied, from where it was copied', () => {
    expect(ways({ type: 'money', currency: 'GBP' }, { copies: 'Unit price of Materials' })).toContain('again')
    expect(altered({ ...begun(5), way: 'again' })).toEqual({ field: 5, to: { set: 'again' } })
  })

  it('is worked out by a formula where an automation does it, in what such a value can stand', () => {
    const automated = (kind: object) => waysOf(field(kind), false, true).map((one) => one.value)
    expect(automated({ type: 'number' })).toContain('formula')
    expect(automated({ type: 'choice', options: [] })).toContain('formula')
    expect(automated({ type: 'people' })).not.toContain('formula')
    expect(ways({ type: 'number' })).not.toContain('formula')
    const line = alterationOf({ field: 5, to: { formula: 'Length * 2' } })
    expect([line.way, altered(line), altered({ ...line, formula: ' ' })]).toEqual([
      'formula',
      { field: 5, to: { formula: 'Length * 2' } },
      undefined,
    ])
  })

  it('is, of a record that is added, what needs nothing that stands there', () => {
    expect(waysOf(field({ type: 'date' }), true).map((one) => one.value)).toEqual(['set', 'now', 'along'])
  })

  it.each([
    'empty' as const,
    'now' as const,
    { set: 'again' as const },
    { set: { value: { text: 'a' } } },
    { replace: { find: 'a', with: 'b' } },
    { days: -3 },
    { raise: '0.05' },
    { from: 7 },
    { along: [] },
    { along: [4, 9] },
    { add_options: [3] },
    { add_people: [2] },
    { add_links: [8] },
    { take_options: [3] },
    { take_people: [2] },
    { take_links: [8] },
    { add_item: 'Look again' },
    { add_task: { text: 'Look again', person: 2, days: 7 } },
    { add_task: { text: 'Look again', along: [42, 30] } },
  ])('is read back as it was sent: %o', (to) => {
    expect(altered(alterationOf({ field: 5, to }))).toEqual({ field: 5, to })
  })

  it('never empties what is required', () => {
    expect(ways({ type: 'text', limit: 9 }, { required: true })).not.toContain('empty')
  })
})

describe('what is sent', () => {
  const one = (over: object) => altered({ ...begun(5), ...over })
  it.each([
    [{ way: 'set', value: { text: 'x' } }, { set: { value: { text: 'x' } } }],
    [{ way: 'set', value: null }, undefined],
    [{ way: 'empty' }, 'empty'],
    [{ way: 'replace', find: 'a', with: '' }, { replace: { find: 'a', with: '' } }],
    [{ way: 'replace', find: '' }, undefined],
    [{ way: 'days', days: '-14' }, { days: -14 }],
    [{ way: 'days', days: '1.5' }, undefined],
    [{ way: 'days', days: 'soon' }, undefined],
    [{ way: 'raise', share: '5' }, { raise: '0.05' }],
    [{ way: 'raise', share: '2,7' }, { raise: '0.027' }],
    [{ way: 'raise', share: '0' }, undefined],
    [{ way: 'from', from: 7 }, { from: 7 }],
    [{ way: 'from' }, undefined],
    [{ way: 'add', value: { choices: [1] } }, { add_options: [1] }],
    [{ way: 'add', value: { people: [2] } }, { add_people: [2] }],
    [{ way: 'add', value: { links: [3] } }, { add_links: [3] }],
    [{ way: 'take', value: { choices: [1] } }, { take_options: [1] }],
    [{ way: 'take', value: { people: [2] } }, { take_people: [2] }],
    [{ way: 'take', value: { links: [3] } }, { take_links: [3] }],
    [{ way: 'take', value: null }, undefined],
    [{ way: 'item', item: ' Look again ' }, { add_item: 'Look again' }],
    [{ way: 'item', item: 'Look again', who: 'person 2' }, { add_task: { text: 'Look again', person: 2 } }],
    [{ way: 'item', item: 'Look again', within: '14' }, { add_task: { text: 'Look again', days: 14 } }],
    [{ way: 'item', item: ' ' }, undefined],
  ])('of %j', (over, to) => expect(one(over)).toEqual(to === undefined ? undefined : { field: 5, to }))

  it('is nothing until each line that was begun says enough', () => {
    expect(allOf([begun()])).toBeUndefined()
    expect(allOf([{ ...begun(5), way: 'empty' }, begun()])).toEqual([{ field: 5, to: 'empty' }])
    expect(allOf([{ ...begun(5), way: 'empty' }, begun(6)])).toBeUndefined()
  })
})
