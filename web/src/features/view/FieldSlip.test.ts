import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Check, Condition, SlipRun, SlipValue } from '@/api/types'
import { answering, changes, field, put, refusing, settled } from '@/testing'
import FieldSlip from './FieldSlip.vue'
import { narrowed, onlyRuns, onlyValues, withoutRuns, withoutValues } from './slip'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const day = (how: 'atleast' | 'under' | 'atmost' | 'over', date: string): Check => ({ is: 'day', how, than: { date } })
const run = (from: string, to: string, count: number): SlipRun => ({
  from,
  to,
  count,
  since: day('atleast', from),
  before: day('under', from),
  until: day('atmost', to),
  behind: day('over', to),
})
const RUNS = [run('2026-11-02', '2026-11-08', 3), run('2026-11-09', '2026-11-15', 0), run('2026-11-16', '2026-11-22', 6)]
const option = (id: number, text: string, count: number): SlipValue => ({
  text,
  count,
  hue: 'gorse',
  only: { is: 'option', not: false, any: [id] },
  without: { is: 'option', not: true, any: [id] },
})
const test = (check: Check): Condition => ({ test: { path: [40], of: 'any', check } })

describe('what is chosen, as conditions', () => {
  it('of runs: from the first to the last; or before, behind, or nothing', () => {
    expect(onlyRuns(40, RUNS[0]!, RUNS[2]!)).toEqual({ all: [test(day('atleast', '2026-11-02')), test(day('atmost', '2026-11-22'))] })
    expect(withoutRuns(40, RUNS[0]!, RUNS[0]!)).toEqual({
      any: [test(day('under', '2026-11-02')), test(day('over', '2026-11-08')), test({ is: 'empty' })],
    })
  })

  it('of several options: one test of them all', () => {
    const two = [option(7, 'blocked', 3), option(8, 'awkward', 9)]
    expect(onlyValues(40, two)).toEqual(test({ is: 'option', not: false, any: [7, 8] }))
    expect(withoutValues(40, two)).toEqual(test({ is: 'option', not: true, any: [7, 8] }))
  })

  it('of yes and no: either, or neither', () => {
    const yes: SlipValue = { text: 'yes', count: 1, only: { is: 'yes' }, without: { is: 'no' } }
    const no: SlipValue = { text: 'no', count: 1, only: { is: 'no' }, without: { is: 'yes' } }
    expect(onlyValues(40, [yes])).toEqual(test({ is: 'yes' }))
    expect(onlyValues(40, [yes, no])).toEqual({ any: [test({ is: 'yes' }), test({ is: 'no' })] })
    expect(withoutValues(40, [yes, no])).toEqual({ all: [test({ is: 'no' }), test({ is: 'yes' })] })
  })

  it('stands beside what narrowed the view before', () => {
    const [a, b, c] = [test({ is: 'empty' }), test({ is: 'filled' }), test({ is: 'yes' })] as [Condition, Condition, Condition]
    expect(narrowed(undefined, a)).toEqual({ all: [a] })
    expect(narrowed({ all: [a] }, { all: [b, c] })).toEqual({ all: [a, b, c] })
    expect(narrowed({ any: [a, b] }, c)).toEqual({ all: [{ any: [a, b] }, c] })
  })
})

const AT = 'POST /api/trackers/1/tables/3/fields/40/slip'

describe('the slip of a field', () => {
  async function slip(answer: unknown, props: object = {}) {
    const asked = answering({ [AT]: answer })
    const shown = put(FieldSlip, { props: { tracker: 1, table: 3, field: field({ type: 'date' }, { help: 'When it has to be done' }), query: { fields: [] }, readonly: false, ...props } }) // prettier-ignore
    await settled()
    return { shown, asked }
  }
  const told = (drawing: object, clauses: object[] = []) => ({ says: '9 faults hold a day, from 2 Nov to 22 Nov.', drawing, clauses })

  it('asks over the view as it stands, and reads as core wrote it', async () => {
    const clause = { word: 'comes', phrases: [{ text: 'by itself:' }, { text: 'Reported on + 14', does: { act: 'formula' } }, { text: 'for FR-1: makes 3 Jan' }] } // prettier-ignore
    const { shown, asked } = await slip(told({ of: 'nothing' }, [clause]))
    expect(changes(asked)[0]!.body).toEqual({ query: { fields: [] }, search: '' })
    expect(shown.get('.says').text()).toContain('9 faults hold a day')
    expect(shown.text()).toContain('When it has to be done')
    expect(shown.get('dd').text()).toBe('by itself: Reported on + 14 for FR-1: makes 3 Jan')
    expect(shown.find('[data-test=slip-only]').exists()).toBe(false)
  })

  it('parts what can be pressed by commas, and has the first of it in the focus', async () => {
    const order = (descending: boolean, text: string) => ({ text, does: { act: 'order', descending } })
    const { shown } = await slip(
      told({ of: 'nothing' }, [{ word: 'stands', phrases: [order(false, 'earliest first'), order(true, 'latest first')] }]),
    )
    expect(shown.get('dd').text()).toBe('earliest first, latest first')
    expect(document.activeElement?.textContent).toBe('earliest first')
  })

  it('chooses a part of the drawing by arrows, which move it and with Shift its end', async () => {
    const { shown } = await slip(told({ of: 'runs', runs: RUNS, today: 1 }))
    const bars = shown.get('[data-test=slip-runs]')
    const only = () => shown.get('[data-test=slip-only]')
    expect(only().attributes('disabled')).toBeDefined()
    await bars.trigger('keydown', { key: 'ArrowRight' })
    // It begins at today.
    expect(shown.get('[role=status]').text()).toBe('0 from 2026-11-09 to 2026-11-15')
    await bars.trigger('keydown', { key: 'ArrowRight', shiftKey: true })
    expect(shown.get('[role=status]').text()).toBe('6 from 2026-11-09 to 2026-11-22')
    await bars.trigger('keydown', { key: 'ArrowLeft' })
    expect(shown.get('[role=status]').text()).toBe('3 from 2026-11-02 to 2026-11-15')
    await only().trigger('click')
    expect(shown.emitted('narrow')).toEqual([[onlyRuns(40, RUNS[0]!, RUNS[1]!)]])
    await shown.get('[data-test=slip-without]').trigger('click')
    expect(shown.emitted('narrow')!.at(-1)).toEqual([withoutRuns(40, RUNS[0]!, RUNS[1]!)])
  })

  it('chooses a part by drawing over it, whichever end is first', async () => {
    const { shown } = await slip(told({ of: 'runs', runs: RUNS }))
    const bars = shown.get<HTMLElement>('[data-test=slip-runs]')
    bars.element.getBoundingClientRect = () => ({ left: 0, width: 300 }) as DOMRect
    await bars.trigger('pointerdown', { clientX: 250, pointerId: 1 })
    await bars.trigger('pointermove', { clientX: 120, pointerId: 1 })
    await bars.trigger('pointerup', { pointerId: 1 })
    // Once let go, it stays.
    await bars.trigger('pointermove', { clientX: 10, pointerId: 1 })
    expect(shown.findAll('.run').map((one) => one.classes().includes('chosen'))).toEqual([false, true, true])
  })

  it('chooses values by pressing them, and lets them go again', async () => {
    const values = [option(7, 'blocked', 6), option(8, 'awkward', 3)]
    const { shown } = await slip(told({ of: 'values', values, more: 4 }))
    const buttons = shown.findAll('[data-test=slip-value]')
    expect(buttons.map((one) => one.text())).toEqual(['blocked6', 'awkward3'])
    expect(shown.text()).toContain('and 4 more')
    await buttons[0]!.trigger('click')
    await buttons[1]!.trigger('click')
    await buttons[0]!.trigger('click')
    expect(buttons.map((one) => one.attributes('aria-pressed'))).toEqual(['false', 'true'])
    await shown.get('[data-test=slip-only]').trigger('click')
    expect(shown.emitted('narrow')).toEqual([[onlyValues(40, [values[1]!])]])
  })

  it('looks for values by words, and keeps what was chosen before', async () => {
    const values = [option(7, 'blocked', 6), option(8, 'awkward', 3)]
    const { shown, asked } = await slip(told({ of: 'values', values, more: 4 }))
    await shown.findAll('[data-test=slip-value]')[0]!.trigger('click')
    await shown.get('[data-test=slip-search] input').setValue('awk')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({ query: { fields: [] }, search: 'awk' })
    expect(shown.find('[data-test=slip-search]').exists()).toBe(true)
    await shown.get('[data-test=slip-only]').trigger('click')
    expect(shown.emitted('narrow')).toEqual([[onlyValues(40, [values[0]!])]])
  })

  it('says to whoever stands in what there is, without what would change it', async () => {
    const phrases = [{ text: 'a new field behind it', does: { act: 'add', behind: true } }, { text: 'out of this view', does: { act: 'hide' } }] // prettier-ignore
    const { shown } = await slip(told({ of: 'nothing' }, [{ word: 'beside', phrases }]), { readonly: true })
    expect(shown.findAll('dd button').map((one) => one.text())).toEqual(['out of this view'])
    expect(shown.get('dd').text()).toContain('a new field behind it')
  })

  it('says what it can not tell', async () => {
    const { shown } = await slip(refusing(404, 'There is no such field here, or it is not open to you.'))
    expect(shown.get('[role=alert]').text()).toContain('not open to you')
  })
})
