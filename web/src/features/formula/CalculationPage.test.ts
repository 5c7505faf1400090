import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, field, opened, put, settled, table } from '@/testing'
import CalculationPage from './CalculationPage.vue'
import FormulaEditor from './FormulaEditor.vue'

const route = vi.hoisted(() => ({ params: { tracker: '1', table: '3', field: 'new' }, query: {} as Record<string, string> }))
vi.mock('vue-router', async (original) => ({ ...(await original<typeof import('vue-router')>()), useRoute: () => route }))
beforeEach(() => {
  document.body.innerHTML = ''
  route.params.field = 'new'
  route.query = {}
})
afterEach(() => vi.unstubAllGlobals())

const number = { type: 'number' as const, decimals: 0, unit: '' }
const day = { type: 'date' as const }
const own = field({ type: 'calculation', shows: number } as never, {
  id: 48,
  name: 'Days open',
  shows: number,
  formula: 'TODAY() - Reported',
})
const home = table([field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' }), own])
const TRY = 'POST /api/trackers/1/tables/3/formulas'
const KEEP = 'POST /api/trackers/1/tables/3/calculations'

const gives = (over: object = {}) => ({
  result: { of: 'number', list: false },
  gives: 'a number',
  shows: number,
  ways: [
    { name: 'number', kind: number },
    { name: 'percent', kind: { type: 'percent', decimals: 0 } },
  ],
  faults: [],
  text: '12',
  trace: null,
  withheld: false,
  ...over,
})

async function page(answers: Record<string, unknown>, builds = true) {
  const names = [
    { id: 7, name: 'Gate' },
    { id: 8, name: 'Wall' },
  ]
  const asked = answering({ 'GET /api/functions': [], 'GET /api/trackers/1/tables/3/names': names, ...answers })
  const shown = put(CalculationPage, {}, opened({ tables: [home], builds } as never))
  await rest()
  const tried = () => asked.filter((one) => one.path.endsWith('/formulas')).map((one) => one.body as Record<string, unknown>)
  const type = async (formula: string) => {
    shown.getComponent(FormulaEditor).vm.$emit('update:modelValue', formula)
    await rest()
  }
  const kept = () => changes(asked).filter((one) => !one.path.endsWith('/formulas'))
  return { shown, tried, type, kept }
}
/** Until nobody has typed for a while. */
async function rest() {
  await new Promise((done) => setTimeout(done, 200))
  await settled()
}
const keepButton = (shown: Awaited<ReturnType<typeof page>>['shown']) => shown.get('[data-test=keep]')

describe('a calculation that is there', () => {
  beforeEach(() => (route.params.field = '48'))

  it('is tried on a record as it stands, and can’t be kept unchanged', async () => {
    const { shown, tried } = await page({ [TRY]: gives() })
    expect(tried()).toContainEqual({ formula: 'TODAY() - Reported', record: 7, shows: number })
    expect(shown.get('[data-test=result]').text()).toBe('12')
    expect(keepButton(shown).attributes('disabled')).toBeDefined()
  })

  it('walks over the records, round from the last to the first', async () => {
    const { shown, tried } = await page({ [TRY]: gives() })
    await shown.get('[data-test=next-sample]').trigger('click')
    await rest()
    expect([tried().at(-1)!.record, shown.get('.sample').text()]).toEqual([8, expect.stringContaining('On “Wall”')])
    await shown.get('[data-test=next-sample]').trigger('click')
    await rest()
    expect(tried().at(-1)!.record).toBe(7)
  })

  it('shows nothing of what draws on something that is not open to whoever writes it', async () => {
    const { shown } = await page({ [TRY]: gives({ withheld: true, text: null }) })
    expect(shown.get('[data-test=result]').text()).toBe('It draws on something that is not open to you, so nothing is shown.')
  })

  it('is kept as it was changed', async () => {
    const { shown, type, kept } = await page({
      [TRY]: gives(),
      'PUT /api/trackers/1/tables/3/calculations/48': { seq: 5, did: 'changed the field' },
    })
    await type('1 + 1')
    await keepButton(shown).trigger('click')
    await settled()
    expect(kept()[0]!.body).toMatchObject({ name: 'Days open', formula: '1 + 1', shows: number })
  })
})

describe('a new calculation', () => {
  it('says what is wrong and what to write instead, and can’t be kept meanwhile', async () => {
    const fault = { message: 'there is no field “Titel”', span: { from: 0, to: 5 }, instead: 'Title' }
    const { shown, type } = await page({ [TRY]: gives({ faults: [fault], text: null }) })
    await shown.get('[data-test=name]').setValue('Short')
    await type('Titel')
    expect(shown.get('[data-test=formula-fault]').text()).toBe('there is no field “Titel” Put Title')
    expect([shown.get('[data-test=result]').text(), keepButton(shown).attributes('disabled')]).toEqual(['…', ''])
  })

  it('is shown as fits what it gives, and in the ways that core says', async () => {
    const asDay = gives({
      result: { of: 'date', list: false },
      gives: 'a day',
      shows: day,
      ways: [{ name: 'date', kind: day }],
      text: '3 Dec 2026',
    })
    const { shown, type, kept } = await page({ [TRY]: asDay, [KEEP]: { seq: 5, did: 'added the field', made: 60 } })
    await shown.get('[data-test=name]').setValue('Next look')
    await type('TODAY()')
    expect(shown.get('.shown').text()).toContain('date')
    await keepButton(shown).trigger('click')
    await settled()
    expect(kept()[0]!.body).toEqual({ name: 'Next look', help: '', formula: 'TODAY()', shows: day, before: null })
  })

  it('has the name that was typed before it was called a calculation', async () => {
    route.query = { name: 'Days left', before: '41' }
    const { shown } = await page({ [TRY]: gives() })
    expect(shown.get<HTMLInputElement>('[data-test=name]').element.value).toBe('Days left')
  })

  it('is not open to whoever does not build', async () => {
    const { shown, tried } = await page({ [TRY]: gives() }, false)
    expect(shown.text()).toContain('This calculation is not open to you')
    expect(shown.findComponent(FormulaEditor).exists()).toBe(false)
    expect(tried().every((one) => one.formula === '')).toBe(true)
  })
})
