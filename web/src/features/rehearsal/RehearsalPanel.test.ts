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

it('says how far it has come, and is stopped while it is done', async () => {
  const shown = panel({ busy: true, stops: true })
  expect(shown.find('[data-test=how-far]').exists()).toBe(false)
  expect(shown.find('[data-test=stop-it]').exists()).toBe(false)
  const says = async (done: number, of: number) => {
    await shown.setProps({ far: { done, of } } as never)
    return shown.get('[data-test=how-far]').text()
  }
  expect(await says(0, 0)).toBe('It waits for its turn.')
  expect(await says(1200, 10_000)).toBe('1,200 of 10,000 that follow are worked out.')
  await shown.get('[data-test=stop-it]').trigger('click')
  expect([shown.emitted('stop')?.length, shown.emitted('leave')]).toEqual([1, undefined])
  expect(await says(10_000, 10_000)).toBe('All of it is worked out, and is being kept.')
  await shown.setProps({ stops: false } as never)
  expect(shown.find('[data-test=stop-it]').exists()).toBe(false)
  await shown.get('[data-test=leave-it]').trigger('click')
  expect(shown.emitted('leave')).toHaveLength(1)
})
