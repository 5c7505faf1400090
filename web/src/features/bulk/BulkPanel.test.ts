import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, choose, field, put, refusing, settled, table } from '@/testing'
import BulkPanel from './BulkPanel.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const AT = '/api/trackers/1/tables/3/bulk'
const told = (over: object = {}) => ({ says: ['2 faults change.'], count: 2, changed: 2, examples: [], refused: [], refusals: 0, ...over })
const kinds = [
  field({ type: 'date' }, { id: 5, name: 'Reported on' }),
  field({ type: 'text', limit: 99 }, { id: 6, name: 'Note' }),
  field({ type: 'person' }, { id: 7, name: 'Warden', writes: false }),
]

async function panel(answers: Record<string, unknown>) {
  const asked = answering(answers)
  const page = put(BulkPanel, { props: { tracker: 1, table: table(kinds), records: [7, 8], query: { fields: [] }, matching: 40, field: 5 } }) // prettier-ignore
  await settled()
  return { asked, page }
}
const pause = async () => {
  await new Promise((go) => setTimeout(go, 320))
  await settled()
}

describe('many records at once', () => {
  it('asks nothing until it is said what becomes of them, and then says it before it is done', async () => {
    const { asked, page } = await panel({ [`POST ${AT}/rehearsal`]: told(), [`POST ${AT}`]: { seq: 4, did: 'changed 2 faults' } })
    expect(changes(asked)).toEqual([])
    expect(page.get('[data-test=do-it]').attributes('disabled')).toBeDefined()
    await choose(page, '[data-test=bulk-way]', 'moves by days')
    await page.get('[data-test=bulk-days]').setValue('14')
    await pause()
    expect(changes(asked).at(-1)?.body).toEqual({
      records: [7, 8],
      query: { fields: [] },
      without: [],
      alter: [{ field: 5, to: { days: 14 } }],
      awaited: expect.any(String),
    })
    expect(page.get('[data-test=bulk-says]').text()).toBe('2 faults change.')
    await page.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ path: AT, body: { alter: [{ field: 5, to: { days: 14 } }] } })
    expect(page.emitted('done')).toHaveLength(1)
  })

  it('means all that the view shows where that is said', async () => {
    const { asked, page } = await panel({ [`POST ${AT}/rehearsal`]: told() })
    await page.get('[data-test=bulk-all]').trigger('click')
    await choose(page, '[data-test=bulk-way]', 'is emptied')
    await pause()
    expect(changes(asked).at(-1)?.body).toMatchObject({ records: [], alter: [{ field: 5, to: 'empty' }] })
    expect(page.text()).toContain('40')
  })

  it('names those that can’t be changed, does nothing with them, and leaves them out', async () => {
    const refused = [{ record: 8, name: 'Gate off', why: 'That is beyond the days that a date can be.' }]
    const { asked, page } = await panel({ [`POST ${AT}/rehearsal`]: told({ says: [], changed: 0, refused, refusals: 1 }) })
    await choose(page, '[data-test=bulk-way]', 'is emptied')
    await pause()
    expect(page.get('[data-test=bulk-refused]').text()).toContain('Gate off That is beyond the days that a date can be.')
    expect(page.get('[data-test=do-it]').attributes('disabled')).toBeDefined()
    await page.get('[data-test=bulk-leave-out]').trigger('click')
    await pause()
    expect(changes(asked).at(-1)?.body).toMatchObject({ without: [8] })
  })

  it('says what the server refuses, and offers only fields that one may write', async () => {
    const { page } = await panel({ [`POST ${AT}/rehearsal`]: refusing(422, 'This view names a field that is gone.') })
    await choose(page, '[data-test=bulk-way]', 'is emptied')
    await pause()
    expect(page.get('[role=alert]').text()).toContain('This view names a field that is gone.')
    await page.get('[data-test=bulk-another]').trigger('click')
    expect(page.findAll('[data-line]')).toHaveLength(2)
  })
})
