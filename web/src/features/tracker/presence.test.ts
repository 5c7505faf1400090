import { afterEach, describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'
import { answering, changes, opened, put, settled, within } from '@/testing'
import BinPage from './BinPage.vue'
import PresentLine from './PresentLine.vue'
import { initialsOf, sayCell, usePresence } from './presence'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const PATH = '/api/trackers/1/presence'
/** Until what a screen shows was said. */
const said = async () => {
  await new Promise((go) => setTimeout(go, 360))
  await settled()
}
const one = (person: number, name: string, over: object = {}) => ({
  person,
  name,
  table: 3,
  record: null,
  field: null,
  writes: false,
  says: `${name} is here`,
  ...over,
})

describe('who else is here', () => {
  it('is said with the cell one is in, heard again when somebody moves, and taken back on leaving', async () => {
    const asked = answering({ [`PUT ${PATH}`]: [one(3, 'Idris Pell')] })
    const tracker = opened()
    const heard: (() => void)[] = []
    tracker.listenPresent = (call) => (heard.push(call), () => void heard.pop())
    const scope = effectScope()
    const others = scope.run(() =>
      within(tracker, () =>
        usePresence(
          () => 1,
          () => ({ table: 3, record: 7 }),
        ),
      ),
    )!
    sayCell({ record: 7, field: 41, writes: true })
    await said()
    expect(changes(asked).at(-1)!.body).toMatchObject({ table: 3, record: 7, field: 41, writes: true })
    expect(others.value.map((other) => other.name)).toEqual(['Idris Pell'])
    const count = changes(asked).length
    heard.forEach((call) => call())
    await said()
    expect(changes(asked)).toHaveLength(count + 1)
    // A cell of another record is none of this one.
    sayCell({ record: 8, field: 41, writes: false })
    await said()
    expect(changes(asked).at(-1)!.body).not.toHaveProperty('field')
    scope.stop()
    await settled()
    expect(Object.keys(changes(asked).at(-1)!.body as object)).toEqual(['screen'])
    expect(others.value).toEqual([])
  })

  it('is told once a person, where they are deepest in, of this table or record alone', async () => {
    const here = [
      one(3, 'Idris Pell'),
      one(3, 'Idris Pell', { record: 7, field: 41, says: 'Idris Pell writes in title', writes: true }),
      one(4, 'Marguerite Voss', { table: 2 }),
      one(5, 'Jonah Adeyemi-Clark', { record: 8, says: 'Jonah Adeyemi-Clark is here' }),
    ]
    answering({ [`PUT ${PATH}`]: here })
    const scope = effectScope()
    scope.run(() =>
      within(opened(), () =>
        usePresence(
          () => 1,
          () => ({ table: 3 }),
        ),
      ),
    )
    await said()
    const all = put(PresentLine, { props: { table: 3 } })
    expect(all.text().replace(/\s+/g, ' ')).toBe('Idris Pell writes in title, Jonah Adeyemi-Clark is here')
    expect(all.findAll('.face').map((face) => face.attributes('data-initials'))).toEqual(['IP', 'JA'])
    expect(put(PresentLine, { props: { table: 3, record: 7 } }).text()).toBe('Idris Pell writes in title')
    expect(
      put(PresentLine, { props: { table: 9 } })
        .find('[data-test=present]')
        .exists(),
    ).toBe(false)
    scope.stop()
  })

  it('goes by two letters of a name', () => {
    expect([initialsOf('Idris Pell'), initialsOf('Jonah Adeyemi-Clark'), initialsOf('Wren')]).toEqual(['IP', 'JA', 'W'])
  })
})

describe('the bin', () => {
  it('says when, by whom and what hangs on it, and brings one back', async () => {
    const record = { table: 3, one: 'fault', record: 7, name: 'Gate gone', at: '28 Nov, 10:00', who: 'Bex', hangs: '2 work orders' }
    const asked = answering({
      'GET /api/trackers/NaN/bin/records': { records: [record] },
      'POST /api/trackers/NaN/tables/3/bring-back': { seq: 4, did: 'brought the fault back' },
    })
    const page = put(BinPage)
    await settled()
    expect(page.get('[data-binned="Gate gone"]').text()).toContain('28 Nov, 10:00, Bex')
    expect(page.text()).toContain('2 work orders')
    await page.get('[aria-label="bring back Gate gone"]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({ records: [7] })
  })
})
