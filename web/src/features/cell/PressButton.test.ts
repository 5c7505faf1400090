import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { answering, changes, field, put, refusing } from '@/testing'
import PressButton from './PressButton.vue'

const FOLLOWS = 'POST /api/trackers/1/tables/3/records/7/following'
const PRESS = 'POST /api/trackers/1/tables/3/records/7/press/40'
const button = field({ type: 'button', label: 'Tell the crew', automation: 121 } as never, { name: 'Crew', help: 'Once a day is enough.' })
const shownWith = (answers: Record<string, unknown>, may = true) => {
  const asked = answering(answers)
  const shown = put(PressButton, { props: { field: button, at: { tracker: 1, table: 3, record: 7 }, may } })
  const press = async () => {
    await shown.get('button').trigger('click')
    await vi.advanceTimersByTimeAsync(50)
  }
  return { shown, asked, press, said: () => shown.get('[role=status]').text() }
}
beforeEach(() => void vi.useFakeTimers())
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
  document.body.innerHTML = ''
})

it('is called by its label, and explained by its help', () => {
  const { shown } = shownWith({})
  expect([shown.get('button').text(), shown.get('button').attributes('title')]).toEqual(['Tell the crew', 'Once a day is enough.'])
})

it('says that it was set going, and is quiet again after a while', async () => {
  const { press, said, asked, shown } = shownWith({ [PRESS]: { seq: 4 } })
  await press()
  expect([said(), changes(asked).filter((one) => one.path.includes('/press/')).length, shown.emitted('pressed')?.length]).toEqual([
    'Set going',
    1,
    1,
  ])
  await vi.advanceTimersByTimeAsync(4_000)
  expect(said()).toBe('')
})

it('keeps on the screen why it was refused, until it is pressed again', async () => {
  const { press, said, shown } = shownWith({ [PRESS]: refusing(422, '“Tell the crew” rests: its automation is off.') })
  await press()
  await vi.advanceTimersByTimeAsync(60_000)
  expect(said()).toBe('“Tell the crew” rests: its automation is off.')
  expect([shown.emitted('pressed'), shown.get('button').attributes('disabled')]).toEqual([undefined, undefined])
})

it('says first what would follow, and is pressed once that was agreed to', async () => {
  const { press, asked, said, shown } = shownWith({ [FOLLOWS]: ['2 texts go to the crew.'], [PRESS]: { seq: 4 } })
  const slip = () => document.querySelector<HTMLElement>('[data-test=follows]')
  const pressed = () => asked.filter((one) => one.path.includes('/press/')).length
  const at = async (name: string) => {
    slip()!.querySelector<HTMLElement>(`[data-test=${name}]`)!.click()
    await vi.advanceTimersByTimeAsync(50)
  }
  await press()
  expect(asked.map((one) => one.body)).toEqual([{ press: 40 }])
  expect([slip()!.textContent, pressed(), document.activeElement?.textContent?.trim()]).toEqual([
    expect.stringContaining('2 texts go to the crew.'),
    0,
    'Tell the crew',
  ])
  await at('follows-leave')
  expect([slip(), pressed(), document.activeElement]).toEqual([null, 0, shown.get('.press').element])
  await press()
  await at('follows-do')
  expect([slip(), pressed(), said()]).toEqual([null, 1, 'Set going'])
})

it('cannot be pressed by whoever may not change the record', async () => {
  const { press, asked, shown } = shownWith({ [PRESS]: { seq: 4 } }, false)
  await press()
  expect([shown.get('button').attributes('disabled'), changes(asked)]).toEqual(['', []])
})
