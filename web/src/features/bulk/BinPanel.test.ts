import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, field, put, refusing, settled, table } from '@/testing'
import BinPanel from './BinPanel.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const AT = '/api/trackers/1/tables/3'
const home = table([field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' })], { id: 3, one: 'fault', many: 'faults' } as never)
const told = (over: object = {}) => ({ says: ['2 faults go into the bin, for 30 days.'], count: 2, changed: 2, examples: [], refused: [], refusals: 0, ...over }) // prettier-ignore

async function panel(answers: Record<string, unknown>) {
  const asked = answering(answers)
  const page = put(BinPanel, { props: { tracker: 1, table: home, records: [7, 8] } })
  await settled()
  return { asked, page }
}
const blocked = (page: Awaited<ReturnType<typeof panel>>['page']) => page.get('[data-test=do-it]').attributes('disabled') !== undefined

describe('records on their way into the bin', () => {
  it('are left out where they can’t be put there, and the rest goes', async () => {
    const refused = [{ record: 8, name: 'Gate off', why: 'You may not remove it.' }]
    let round = 0
    const answer = () => (round++ ? told({ says: ['A fault goes into the bin, for 30 days.'], count: 1, changed: 1 }) : told({ says: [], changed: 0, refused, refusals: 1 })) // prettier-ignore
    const { asked, page } = await panel({
      [`POST ${AT}/bin/rehearsal`]: answer,
      [`DELETE ${AT}/records`]: { seq: 3, did: 'put a fault into the bin' },
    })
    expect(blocked(page)).toBe(true)
    expect(page.get('[data-test=bulk-refused]').text()).toContain('1 fault can’t be put there; none is while they are among them.')
    expect(page.get('[data-test=bulk-refused] li').text()).toBe('Gate off You may not remove it.')
    await page.get('[data-test=bulk-leave-out]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)?.body).toEqual({ records: [7] })
    expect(page.get('h2').text()).toBe('1 fault into the bin')
    expect(blocked(page)).toBe(false)
    await page.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ method: 'DELETE', body: { records: [7] } })
    expect(page.emitted('done')).toHaveLength(1)
  })

  it('stay where nothing can be said of it', async () => {
    const { page } = await panel({ [`POST ${AT}/bin/rehearsal`]: refusing(404, 'There is no such table here, or it is not open to you.') })
    expect(blocked(page)).toBe(true)
    expect(page.get('[role=alert]').text()).toContain('no such table')
    await page.get('[data-test=leave-it]').trigger('click')
    expect(page.emitted('leave')).toHaveLength(1)
  })
})
