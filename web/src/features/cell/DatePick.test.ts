import { afterEach, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { put } from '@/testing'
import CalendarMonth from './CalendarMonth.vue'
import DatePick from './DatePick.vue'
import MomentPick from './MomentPick.vue'

afterEach(() => (document.body.innerHTML = ''))

const date = (props: Partial<{ modelValue: string; min: string }> = {}) => {
  const shown = put(DatePick, { props: { modelValue: '', label: 'Due', ...props } })
  const type = (text: string) => shown.get('[data-test=date]').setValue(text)
  const given = () => shown.emitted('update:modelValue')?.flat() ?? []
  const fault = () => (shown.find('[role=alert]').exists() ? shown.get('[role=alert]').text() : '')
  return { shown, type, given, fault }
}

describe('a day to be given', () => {
  it('is taken as it is typed, and written out', async () => {
    const { type, given, shown, fault } = date()
    await type('2026-12-01')
    expect([given(), fault()]).toEqual([['2026-12-01'], ''])
    expect(shown.get<HTMLInputElement>('[data-test=date]').element.value).toContain('2026')
  })

  it('says how a day is written where none was typed, and gives nothing meanwhile', async () => {
    const { type, given, shown, fault } = date({ modelValue: '2026-12-01' })
    await type('soon')
    expect(given()).toEqual([])
    expect(fault()).toContain('This is not a day. Write it like')
    expect(shown.get('[data-test=date]').attributes('aria-invalid')).toBe('true')
    await type('2026-12-02')
    expect([given(), fault()]).toEqual([['2026-12-02'], ''])
  })

  it('is not before the first that there may be', async () => {
    const { type, given, fault } = date({ min: '2026-12-01' })
    await type('2026-11-30')
    expect(given()).toEqual([])
    expect(fault()).toMatch(/^Not before .*2026\.$/)
  })

  it('is emptied by typing nothing, and given once', async () => {
    const { type, given } = date({ modelValue: '2026-12-01' })
    await type('')
    expect(given()).toEqual([''])
  })

  it('opens its calendar by Alt and the arrow down, and takes what is picked there', async () => {
    const { shown, given } = date({ modelValue: '2026-12-01' })
    await shown.get('[data-test=date]').trigger('keydown', { key: 'ArrowDown', altKey: true, code: 'ArrowDown' })
    await expect.poll(() => shown.findComponent(CalendarMonth).exists()).toBe(true)
    shown.getComponent(CalendarMonth).vm.$emit('pick', '2026-12-24')
    expect(given()).toEqual(['2026-12-24'])
  })
})

describe('a moment to be given', () => {
  const moment = (modelValue: string | null) => {
    const shown = put(MomentPick, { props: { modelValue, label: 'From' } })
    return { shown, given: () => shown.emitted('update:modelValue')?.flat() ?? [] }
  }

  it('begins at midnight of the day that is chosen, and asks for no time before there is a day', async () => {
    const { shown, given } = moment(null)
    expect(shown.find('[type=time]').exists()).toBe(false)
    shown.getComponent(DatePick).vm.$emit('update:modelValue', '2026-12-01')
    await nextTick()
    expect(given()).toEqual(['2026-12-01T00:00'])
  })

  it('keeps its time when the day changes, its day when the time does, and is nothing without a day', async () => {
    const { shown, given } = moment('2026-12-01T09:30')
    shown.getComponent(DatePick).vm.$emit('update:modelValue', '2026-12-02')
    await shown.get('[type=time]').setValue('17:05')
    shown.getComponent(DatePick).vm.$emit('update:modelValue', '')
    expect(given()).toEqual(['2026-12-02T09:30', '2026-12-02T17:05', null])
  })
})
