import { beforeEach, describe, expect, it, vi } from 'vitest'
import { computed, ref } from 'vue'
import { answering, opened, put, refusing, settled } from '@/testing'
import TalkFor from './TalkFor.vue'
import type { Talk } from './talking'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const role = (id: number, name: string, base: string) => ({ role: { id, name, base }, says: [] })
const ROLES = [role(1, 'Steward', 'steward'), role(2, 'Office', 'own'), role(3, 'Warden', 'own')]
const tables = [{ id: 3, name: 'Faults', one: 'fault', many: 'faults' }] as never

/** The sentence, as one who may change it or not is told it. */
function sentence({ steward = true, standing = false, roles = [] as number[], says = 'Told to whoever sees the fault.' } = {}) {
  const tellTo = vi.fn((_roles: number[]) => Promise.resolve())
  const talk = { toldTo: computed(() => ({ roles, says })), standing: ref(standing), tellTo } as unknown as Talk
  return { page: put(TalkFor, { props: { talk, tracker: 1, table: 3 } }, opened({ steward, tables })), tellTo }
}
const menu = () => document.querySelector<HTMLElement>('[data-test=talk-roles]')!
const boxes = () => [...menu().querySelectorAll('label')]

describe('to whom what is said is told', () => {
  it('is a sentence that a steward changes, role by role; stewards are told anyhow', async () => {
    answering({ 'GET /api/trackers/1/roles': ROLES })
    const { page, tellTo } = sentence({ roles: [3], says: 'Told to Warden and stewards alone.' })
    await page.get('[data-test=talk-for] button').trigger('click')
    await settled()
    expect(boxes().map((one) => [one.textContent!.trim(), one.querySelector('input')!.checked])).toEqual([
      ['Office', false],
      ['Warden', true],
    ])
    boxes()[0]!.querySelector('input')!.click()
    expect(tellTo).toHaveBeenLastCalledWith([3, 2])
    boxes()[1]!.querySelector('input')!.click()
    expect(tellTo).toHaveBeenLastCalledWith([])
  })

  it('is not said to others where everybody is told, and not theirs to change where some are', () => {
    expect(sentence({ steward: false }).page.find('[data-test=talk-for]').exists()).toBe(false)
    const { page } = sentence({ steward: false, roles: [2], says: 'Told to Office and stewards alone.' })
    expect(page.get('[data-test=talk-for]').text()).toBe('Told to Office and stewards alone.')
    expect(page.find('button').exists()).toBe(false)
    const standing = sentence({ standing: true, roles: [2], says: 'Told to Office and stewards alone.' })
    expect(standing.page.find('button').exists()).toBe(false)
  })

  it('says why it can’t be so', async () => {
    answering({ 'GET /api/trackers/1/roles': refusing(404, 'There is no such tracker.') })
    await sentence().page.get('[data-test=talk-for] button').trigger('click')
    await settled()
    expect(menu().querySelector('[role=alert]')!.textContent).toBe('There is no such tracker.')
  })
})
