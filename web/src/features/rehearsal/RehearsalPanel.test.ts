import { afterEach, expect, it } from 'vitest'
import { put } from '@/testing'
import RehearsalPanel from './RehearsalPanel.vue'

const panel = (props: object = {}) =>
  put(RehearsalPanel, { props: { title: 'Faults become links', act: 'Link them', ...props }, slots: { default: '12 match' } })

afterEach(() => (document.body.innerHTML = ''))

it('says that nothing was changed, what would be, and does it on one press', async () => {
  const shown = panel()
  expect(shown.text()).toContain('nothing has been changed yet')
  expect(shown.get('[aria-live=polite]').text()).toBe('12 match')
  await shown.get('[data-test=do-it]').trigger('click')
  await shown.get('[data-test=leave-it]').trigger('click')
  expect([shown.emitted('act')?.length, shown.emitted('leave')?.length]).toEqual([1, 1])
})

it.each([{ busy: true }, { blocked: true }])('can’t be done while %j, but left', async (props) => {
  const shown = panel(props)
  await shown.get('[data-test=do-it]').trigger('click')
  await shown.get('[data-test=leave-it]').trigger('click')
  expect([shown.emitted('act'), shown.emitted('leave')?.length]).toEqual([undefined, 1])
})

it('tells what is in the way where a screen reader hears it', () => {
  expect(panel({ trouble: 'Choose a table.' }).get('[role=alert]').text()).toBe('Choose a table.')
})
