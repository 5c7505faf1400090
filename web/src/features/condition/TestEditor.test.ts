import { afterEach, describe, expect, it } from 'vitest'
import type { Check, Field, Kind, Test } from '@/api/types'
import { choose, chosen, offered, field, opened, put, settled, table } from '@/testing'
import TestEditor from './TestEditor.vue'
import { isSameSort, turnedInto } from './vocabulary'

afterEach(() => (document.body.innerHTML = ''))

const kinds: Record<string, Kind> = {
  text: { type: 'text', limit: 80 },
  number: { type: 'number', decimals: 0, unit: '' },
  date: { type: 'date' },
  choice: {
    type: 'choice',
    options: [
      { id: 70, name: 'fallen tree', hue: 'fern' },
      { id: 71, name: 'drainage', hue: 'sky' },
    ],
  },
  person: { type: 'person' },
}

async function editing(check: Check, kind: keyof typeof kinds) {
  const own: Field = field(kinds[kind]!)
  const home = table([own])
  const model: Test = { path: [own.id], of: 'any', check }
  const tracker = opened({ tables: [home], people: [{ id: 2, name: 'Tamsin Oake', initials: 'TO' }] } as never)
  const shown = put(TestEditor, { props: { table: home, modelValue: model } }, tracker)
  await settled()
  /** The check that the last change asked for. */
  const asked = () => (shown.emitted('update:modelValue')?.at(-1)?.[0] as Test | undefined)?.check
  return { shown, asked }
}

describe('a test of a condition', () => {
  it('offers what core says of the kind, in its words', async () => {
    const { shown } = await editing({ is: 'text', how: 'is', text: 'gate' }, 'text')
    expect(offered(shown, '[data-test=way]')).toEqual(['contains', 'is', 'is empty'])
    expect(chosen(shown, '[data-test=way]')).toBe('is')
  })

  it('keeps what was typed when another way of the same sort is chosen, and begins anew otherwise', async () => {
    const { shown, asked } = await editing({ is: 'text', how: 'is', text: 'gate' }, 'text')
    await choose(shown, '[data-test=way]', 'contains')
    expect(asked()).toEqual({ is: 'text', how: 'contains', text: 'gate' })
    await choose(shown, '[data-test=way]', 'is empty')
    expect(asked()).toEqual({ is: 'empty' })
  })

  it('takes a number, and nought for nothing', async () => {
    const { shown, asked } = await editing({ is: 'number', how: 'over', than: '3' }, 'number')
    await shown.get('[aria-label="Compared with"]').setValue('12.5')
    expect(asked()).toEqual({ is: 'number', how: 'over', than: '12.5' })
    await shown.get('[aria-label="Compared with"]').setValue('')
    expect(asked()).toEqual({ is: 'number', how: 'over', than: '0' })
  })

  it('takes the least and the most', async () => {
    const { shown, asked } = await editing({ is: 'between', least: '1', most: '2' }, 'number')
    await shown.get('[aria-label=Most]').setValue('9')
    expect(asked()).toEqual({ is: 'between', least: '1', most: '9' })
  })

  it('asks for so many days where the period has a number', async () => {
    const { shown, asked } = await editing({ is: 'within', period: { next_days: 7 } }, 'date')
    expect(chosen(shown, '[aria-label=Period]')).toBe('the next … days')
    await shown.get('[aria-label=Days]').setValue('21')
    expect(asked()).toEqual({ is: 'within', period: { next_days: 21 } })
    await shown.get('[aria-label=Days]').setValue('-4')
    expect(asked()).toEqual({ is: 'within', period: { next_days: 1 } })
    await choose(shown, '[aria-label=Period]', 'this week')
    expect(asked()).toEqual({ is: 'within', period: 'this_week' })
  })

  it('takes a fixed day as it is typed, and leaves what is none', async () => {
    const { shown, asked } = await editing({ is: 'day', how: 'under', than: { date: '2026-11-18' } }, 'date')
    const line = shown.get('[data-test=date]')
    await line.setValue('tomorrow, perhaps')
    await line.trigger('change')
    expect(asked()).toBeUndefined()
    expect(shown.text()).toContain('This is not a day')
    await line.setValue('3 Apr 2026')
    await line.trigger('change')
    expect(asked()).toEqual({ is: 'day', how: 'under', than: { date: '2026-04-03' } })
  })

  it('counts days from today', async () => {
    const { shown, asked } = await editing({ is: 'day', how: 'under', than: { today: 0 } }, 'date')
    await shown.get('[aria-label="Days from today, negative before it"]').setValue('-3')
    expect(asked()).toEqual({ is: 'day', how: 'under', than: { today: -3 } })
  })

  it('takes options in and out', async () => {
    const { shown, asked } = await editing({ is: 'option', not: false, any: [70] }, 'choice')
    const [tree, drain] = shown.findAll<HTMLInputElement>('[type=checkbox]')
    expect([tree!.element.checked, drain!.element.checked]).toEqual([true, false])
    await drain!.setValue(true)
    expect(asked()).toEqual({ is: 'option', not: false, any: [70, 71] })
    await tree!.setValue(false)
    expect(asked()).toEqual({ is: 'option', not: false, any: [] })
  })

  it('knows me beside everybody of the team', async () => {
    const { shown, asked } = await editing({ is: 'person', not: false, any: [] }, 'person')
    expect(shown.get('[aria-label=People]').text()).toContain('Tamsin Oake')
    await shown.findAll('[type=checkbox]')[0]!.setValue(true)
    expect(asked()).toEqual({ is: 'person', not: false, any: ['me'] })
  })
})

describe('sorts of checks', () => {
  it('are told apart by what is tested, how, and whether it is none of', () => {
    expect(isSameSort({ is: 'number', how: 'over', than: '1' }, { is: 'number', how: 'over', than: '9' })).toBe(true)
    expect(isSameSort({ is: 'number', how: 'over', than: '1' }, { is: 'number', how: 'under', than: '1' })).toBe(false)
    expect(isSameSort({ is: 'option', not: true, any: [1] }, { is: 'option', not: false, any: [1] })).toBe(false)
    expect(isSameSort({ is: 'yes' }, { is: 'no' })).toBe(false)
  })
  it('turn into each other with what they compare', () => {
    expect(turnedInto({ is: 'option', not: false, any: [7] }, { is: 'option', not: true, any: [] })).toEqual({
      is: 'option',
      not: true,
      any: [7],
    })
    expect(turnedInto({ is: 'empty' }, { is: 'older', days: 30 })).toEqual({ is: 'older', days: 30 })
  })
})
