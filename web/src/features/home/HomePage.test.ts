import { beforeEach, expect, it, vi } from 'vitest'
import type { TrackerLine } from '@/api/types'
import { answering, put, refusing, settled } from '@/testing'
import { useSession } from '@/features/session/session'
import HomePage from './HomePage.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const line = (id: number, name: string, over: Partial<TrackerLine> = {}): TrackerLine =>
  ({ id, name, description: '', area: '', icon: '', hue: null, holds: '318 faults', news: '', ...over }) as TrackerLine

async function home(answer: unknown) {
  answering({ 'GET /api/trackers': answer })
  const shown = put(HomePage)
  await settled()
  return shown
}

it('tells by area what each tracker holds, or what came since one last looked', async () => {
  const shown = await home([
    line(1, 'Path upkeep', { area: 'Paths', news: '3 faults came in' }),
    line(2, 'Store', { holds: '' }),
    line(3, 'Rounds', { area: 'Paths' }),
  ])
  expect(shown.findAll('.area').map((one) => [one.get('h2').text(), one.findAll('a').map((a) => a.text())])).toEqual([
    ['Paths', ['Path upkeep', 'Rounds']],
    ['In no area yet', ['Store']],
  ])
  expect(shown.text()).toContain('Since you last looked: 3 faults came in.')
  expect(shown.text()).toContain('318 faults.')
  expect(shown.text()).toContain('Nothing in it yet.')
})

it('finds by name, description and area, once there are many', async () => {
  expect((await home([line(1, 'One')])).find('[data-test=find-tracker]').exists()).toBe(false)
  const shown = await home([line(1, 'One'), line(2, 'Two', { description: 'Bridges of the upland' }), line(3, 'Three', { area: 'Bridges' }), line(4, 'Four')]) // prettier-ignore
  const find = shown.get<HTMLInputElement>('[data-test=find-tracker]')
  await find.setValue(' BRIDGES ')
  expect(shown.findAll('.line a').map((a) => a.text())).toEqual(['Two', 'Three'])
  await find.setValue('nowhere')
  expect(shown.text()).toContain('No tracker is called like that.')
})

it('says what to do where nothing is open to one, and what went wrong where it is not known', async () => {
  expect((await home([])).text()).toContain('ask the person who runs one to give you a role in it')
  const shown = await home(refusing(503, 'What holds the data does not answer at the moment.'))
  expect(shown.get('[role=alert]').text()).toContain('does not answer')
  expect(shown.text()).not.toContain('No tracker is open to you')
})

it('tells the team’s owners of every tracker that they are not in, and others nothing of it', async () => {
  const others = [
    { id: 9, name: 'Birds of the fell', size: '12 records in 1 table', stewards: ['Wren Castellane'], last: '' },
    { id: 10, name: 'Walls', size: '0 records in 0 tables', stewards: [], last: '3 Nov 2026, 09:00' },
  ]
  const me = (owns: boolean) => ({ person: { id: 1, name: 'Nadia', initials: 'N' }, owns, stands_in: null })
  const asHome = async (owns: boolean) => {
    answering({ 'GET /api/trackers': [], 'GET /api/trackers/others': others, 'GET /api/session': me(owns) })
    await useSession().again()
    const shown = put(HomePage)
    await settled()
    return shown
  }
  const words = (await asHome(true)).get('[data-test=others]').text()
  expect(words).toContain('Trackers of the team that you do not work in: 2')
  expect(words).toContain('run by Wren Castellane')
  expect(words).toContain('run by nobody any more, last looked at 3 Nov 2026, 09:00')
  expect((await asHome(false)).find('[data-test=others]').exists()).toBe(false)
})
