import { beforeEach, describe, expect, it } from 'vitest'
import type { SlipRun } from '@/api/types'
import { put } from '@/testing'
import SlipYears from './SlipYears.vue'

beforeEach(() => (document.body.innerHTML = ''))
const run = (from: string, count: number) => ({ from, to: from, count }) as SlipRun
const YEARS = [
  { year: run('2025', 3), months: [run('March', 1), run('May', 2)] },
  { year: run('2026', 9), months: [run('January', 4), run('June', 5)] },
]

describe('years and months', () => {
  it('are chosen by their names, a year with all its months', async () => {
    const shown = put(SlipYears, { props: { years: YEARS } })
    expect(shown.find('[data-month]').exists()).toBe(false)
    await shown.get('[data-year="2026"]').trigger('click')
    expect(shown.emitted('update:modelValue')).toEqual([[[YEARS[1]!.year, YEARS[1]!.year]]])
    await shown.get('[data-fold="2025"]').trigger('click')
    await shown.get('[data-month="2025 May"]').trigger('click')
    expect(shown.emitted('update:modelValue')!.at(-1)).toEqual([[YEARS[0]!.months[1], YEARS[0]!.months[1]]])
  })

  it('reach with Shift from what was chosen, whichever is first', async () => {
    const [may, january] = [YEARS[0]!.months[1]!, YEARS[1]!.months[0]!]
    const shown = put(SlipYears, { props: { years: YEARS, modelValue: [may, may] } })
    for (const year of ['2025', '2026']) await shown.get(`[data-fold="${year}"]`).trigger('click')
    expect(shown.get('[data-month="2025 May"]').attributes('aria-pressed')).toBe('true')
    await shown.get('[data-month="2026 January"]').trigger('click', { shiftKey: true })
    await shown.get('[data-month="2025 March"]').trigger('click', { shiftKey: true })
    expect(shown.emitted('update:modelValue')).toEqual([[[may, january]], [[YEARS[0]!.months[0], january]]])
  })

  it('of one year are open at once', () => {
    expect(put(SlipYears, { props: { years: YEARS.slice(1) } }).findAll('[data-month]')).toHaveLength(2)
  })
})
