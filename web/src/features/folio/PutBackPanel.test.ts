import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { TrailEntry } from '@/api/types'
import { answering, changes, put, settled } from '@/testing'
import FolioTrail from './FolioTrail.vue'
import PutBackPanel from './PutBackPanel.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const AT = { tracker: 1, table: 3, record: 7 }
const RECORD = '/api/trackers/1/tables/3/records/7'
const told = (fields: object[], says = '2 fields go back.') => ({ [`POST ${RECORD}/as-it-was`]: { says, fields } })
const one = (field: number, name: string, over: object = {}) => ({ field, name, now: 'now', then: '', ...over })
const done = { [`POST ${RECORD}/put-back`]: { seq: 9, did: 'changed Status' } }

async function panel(answers: Record<string, unknown>) {
  const asked = answering(answers)
  const page = put(PutBackPanel, { props: { at: AT, after: 4, fields: [], title: 'As it was on 4 Aug' } })
  await settled()
  return { asked, page }
}

describe('putting a record back', () => {
  it('shows what would change, and puts back what is not left', async () => {
    const { asked, page } = await panel({ ...told([one(1, 'Status'), one(2, 'Note')]), ...done })
    expect(page.get('[data-test=back-says]').text()).toBe('2 fields go back.')
    expect(page.text()).toContain('empty')
    await page.get('[data-back="2"]').trigger('change')
    await page.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ path: `${RECORD}/put-back`, body: { after: 4, fields: [1] } })
    expect(page.emitted('done')).toHaveLength(1)
  })

  it('says what can’t go back, and leaves it out', async () => {
    const fields = [one(1, 'Section', { refused: 'This section is in the bin.' }), one(2, 'Note')]
    const { asked, page } = await panel({ ...told(fields, 'One field goes back; one can’t.'), ...done })
    expect(page.text()).toContain('This section is in the bin.')
    await page.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ body: { fields: [2] } })
  })

  it('offers nothing where nothing was otherwise', async () => {
    const { page } = await panel(told([], 'Nothing goes back.'))
    expect(page.get('[data-test=back-says]').text()).toBe('It is now as it was then.')
    expect(page.get('[data-test=do-it]').attributes('disabled')).toBeDefined()
  })
})

describe('the trail', () => {
  const entry = (seq: number, over: object = {}) =>
    ({
      seq,
      at: `2026-08-0${seq}T08:00:00Z`,
      at_text: `${seq} Aug`,
      who: 'Bex',
      what: 'changed',
      edits: [{ field: 5, name: 'Status', before: 'a', after: 'b', until: '' }],
      ...over,
    }) as unknown as TrailEntry
  const trail = (change: boolean) => {
    const asked = answering({ ...told([one(5, 'Status')]), [`GET ${RECORD}/talk`]: { comments: [], read: null, follows: false } })
    return { asked, page: put(FolioTrail, { props: { at: AT, trail: [entry(4), entry(3)], runs: [], awaits: [], change } }) }
  }

  it('offers to put one field back to before a change, and all of it to after one', async () => {
    const { asked, page } = trail(true)
    await settled()
    await page.get('[data-put-back="5"]').trigger('click')
    await settled()
    expect(asked.find((call) => call.path.endsWith('as-it-was'))?.body).toEqual({ after: 3, fields: [5] })
    expect(page.text()).toContain('Status as it was before 4 Aug')
    expect(page.findAll('[data-as-it-was]').map((button) => button.attributes('data-as-it-was'))).toEqual(['3'])
    await page.get('[data-as-it-was="3"]').trigger('click')
    await settled()
    expect(asked.findLast((call) => call.path.endsWith('as-it-was'))?.body).toEqual({ after: 3, fields: [] })
  })

  it('offers it to nobody who may not change the record', async () => {
    const { page } = trail(false)
    await settled()
    expect(page.findAll('[data-put-back], [data-as-it-was]')).toEqual([])
  })
})
