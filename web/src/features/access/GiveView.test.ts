import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, choose, offered, opened, put, refusing, settled, table } from '@/testing'
import GiveView from './GiveView.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const people = [
  { id: 1, name: 'Nadia', initials: 'N' },
  { id: 7, name: 'Pavel', initials: 'P' },
  { id: 8, name: 'Wren', initials: 'W', left: true },
]
const view = { id: 102, name: 'Blocked', owner: null, query: { fields: [] }, withheld: false }
const REHEARSAL = 'POST /api/trackers/1/views/102/given/rehearsal'
const would = {
  says: ['1 person sees more.'],
  carries: [],
  people: [{ person: 7, name: 'Pavel', shut_out: false, tables: [{ table: 3, words: 'sees 0 → 14' }] }],
}

async function giving(answers: Record<string, unknown>, given: object[] = []) {
  const asked = answering(answers)
  const shown = put(GiveView, { props: { table: table([]), view: { ...view, given } as never } }, opened({ tables: [], people } as never))
  await settled()
  return { shown, asked }
}

describe('a view that is given by itself', () => {
  it('says what it would do for whom before it holds', async () => {
    const { shown, asked } = await giving({ [REHEARSAL]: would, 'PUT /api/trackers/1/views/102/given': { seq: 4, did: '' } })
    expect(shown.get('[data-test=give]').attributes('disabled')).toBeDefined()
    expect(offered(shown, '[data-test=give-to]')).toEqual(['somebody …', 'Nadia', 'Pavel'])
    await choose(shown, '[data-test=give-to]', 'Pavel')
    await settled()
    expect(shown.get('[data-test=would]').text()).toContain('Pavel sees 0 → 14')
    await choose(shown, '[aria-label="What Pavel may do"]', 'changes what it shows')
    await settled()
    await shown.get('form').trigger('submit')
    await settled()
    const wanted = (right: string) => ({ given: [{ person: 7, right }] })
    expect(changes(asked).map((one) => [one.method, one.body])).toEqual([
      ['POST', wanted('look')],
      ['POST', wanted('change')],
      ['PUT', wanted('change')],
    ])
    expect(shown.emitted('done')).toHaveLength(1)
  })

  it('is taken back, and says why it can’t be', async () => {
    const { shown, asked } = await giving({ [REHEARSAL]: refusing(403, 'Only the tracker’s steward can change who may do what.') }, [
      { person: 7, right: 'look' },
    ])
    expect(shown.get('[data-test=given]').text()).toContain('Pavel')
    await shown.get('[data-test=given] .link').trigger('click')
    await settled()
    expect(changes(asked).at(-1)?.body).toEqual({ given: [] })
    expect(shown.get('[role=alert]').text()).toContain('Only the tracker’s steward')
  })
})
