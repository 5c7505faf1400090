import { beforeEach, describe, expect, it } from 'vitest'
import type { FunctionHelp, Kind, ShownWay } from '@/api/types'
import { put } from '@/testing'
import FunctionList from './FunctionList.vue'
import ShownAs from './ShownAs.vue'

beforeEach(() => (document.body.innerHTML = ''))

describe('every function', () => {
  const help = (name: string, group: string, what: string): FunctionHelp =>
    ({ name, group, help: what, signature: `${name}(…)`, example: `${name}(1)`, gives: '1' }) as FunctionHelp
  const all = [
    help('ROUND', 'Numbers', 'to so many decimals'),
    help('TODAY', 'Days', 'the day that it is'),
    help('DAYS', 'Days', 'between two days'),
  ]
  const list = () => put(FunctionList, { props: { functions: all } })

  it('stands under its group, each group once', () => {
    expect(list().findAll('h4').map((one) => one.text())).toEqual(['Numbers', 'Days']) // prettier-ignore
  })

  it('is found by its name and by what it does', async () => {
    const shown = list()
    await shown.get('input').setValue('DECIMALS')
    expect(shown.findAll('b').map((one) => one.text())).toEqual(['ROUND(…)'])
    await shown.get('input').setValue('nonsense')
    expect(shown.text()).toContain('No function does that by name.')
  })

  it('is put in with its bracket open', async () => {
    const shown = list()
    await shown.findAll('button')[2]!.trigger('click')
    expect(shown.emitted('put')).toEqual([['DAYS(']])
  })
})

describe('how a result is shown', () => {
  const number: Kind = { type: 'number', decimals: 0, unit: '' }
  const money: Kind = { type: 'money', currency: 'GBP' }
  const day: Kind = { type: 'date' }
  const NUMBERS = [
    { name: 'number', kind: number },
    { name: 'money', kind: money },
  ]
  const drawn = (modelValue: Kind, ways = NUMBERS as ShownWay[]) => put(ShownAs, { props: { ways, modelValue } })
  const now = (shown: ReturnType<typeof drawn>) => shown.emitted('update:modelValue')?.at(-1)?.[0]

  it('offers what fits the result, and asks what the chosen one needs', async () => {
    const shown = drawn(number)
    expect(shown.findAll('label').map((one) => one.text())).toEqual(['number', 'money'])
    await shown.get('[aria-label=Decimals]').setValue('12')
    expect(now(shown)).toEqual({ ...number, decimals: 10 })
    await shown.get('[aria-label=Unit]').setValue('km')
    expect(now(shown)).toMatchObject({ unit: 'km' })
    await shown.findAll('input[type=radio]')[1]!.trigger('change')
    expect(now(shown)).toEqual(money)
    expect(
      drawn(day, [{ name: 'date', kind: day }])
        .find('[aria-label=Decimals]')
        .exists(),
    ).toBe(false)
  })

  it('writes a currency in capitals', async () => {
    const shown = drawn({ type: 'money', currency: 'GBP' })
    await shown.get<HTMLInputElement>('[aria-label=Currency]').setValue('nok')
    await shown.get('[aria-label=Currency]').trigger('change')
    expect(now(shown)).toEqual({ type: 'money', currency: 'NOK' })
  })
})
