import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, choose, field, offered, opened, put, refusing, settled, table } from '@/testing'
import AccessWhy from './AccessWhy.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const WHY = 'POST /api/trackers/1/access/why'
const faults = table([field({ type: 'yes_no' }, { id: 40, name: 'Closed' })])
const people = [
  { id: 1, name: 'Nadia', initials: 'N' },
  { id: 2, name: 'Tamsin', initials: 'T' },
  { id: 3, name: 'Jonah', initials: 'J', left: true },
]
const about = { table: 3, record: 5, name: 'Gate off its hinge' }
const no = {
  holds: false,
  says: 'Tamsin can’t see “Gate off its hinge”.',
  parts: [
    {
      holds: false,
      says: 'To see it',
      roles: [
        {
          number: 111,
          name: 'Warden',
          holds: false,
          says: 'sees faults where district’s warden is me',
          steps: [{ holds: false, says: 'district’s warden is me', met: 'district is Harrow Tarn, whose warden is Idris' }],
        },
      ],
    },
  ],
  mends: ['Warden would give it where district’s warden is me.'],
}

async function asking(answers: Record<string, unknown>, props: object = { about }) {
  const asked = answering(answers)
  const shown = put(AccessWhy, { props }, opened({ tables: [faults], people } as never))
  await settled()
  return { shown, asked }
}

describe('why somebody sees a record', () => {
  it('is asked once it is said who, and told role by role with what was met and what would let them', async () => {
    const { shown, asked } = await asking({ [WHY]: no })
    expect(changes(asked)).toEqual([])
    expect(offered(shown, '[data-test=why-person]')).toEqual(['somebody', 'Nadia', 'Tamsin'])
    await choose(shown, '[data-test=why-person]', 'Tamsin')
    await settled()
    expect(changes(asked).at(-1)?.body).toEqual({ person: 2, right: 'look', table: 3, record: 5 })
    const answer = shown.get('[data-test=why-answer]').text()
    expect(answer).toContain('Tamsin can’t see')
    expect(answer).toContain('whose warden is Idris')
    expect(answer).toContain('Warden would give it')
    expect(shown.findAll('.fails')).toHaveLength(1)
  })

  it('is asked again of another right, and of a field', async () => {
    const { shown, asked } = await asking({ [WHY]: no }, { about, person: 2 })
    await choose(shown, '[data-test=why-right]', 'change')
    await settled()
    await choose(shown, '[data-test=why-field]', '“Closed” of it')
    await settled()
    expect(changes(asked).map((one) => one.body)).toEqual([
      { person: 2, right: 'look', table: 3, record: 5 },
      { person: 2, right: 'change', table: 3, record: 5 },
      { person: 2, right: 'change', table: 3, record: 5, field: 40 },
    ])
  })

  it('is asked of whoever comes to a page, and of whoever has the link of a form', async () => {
    const asked = answering({ [WHY]: no })
    const pages = [{ id: 9, title: 'Open faults', open: true, comers: [{ guest: 2, name: 'clerk@parish.example' }] }]
    const forms = [{ id: 120, title: 'Report a fault' }]
    const all = opened({ tables: [faults], people, pages, forms } as never)
    const shown = put(AccessWhy, { props: { about } }, all)
    await settled()
    expect(offered(shown, '[data-test=why-person]')).toEqual(['somebody', 'Nadia', 'Tamsin', 'clerk@parish.example', 'whoever has the link of “Report a fault”']) // prettier-ignore
    await choose(shown, '[data-test=why-person]', 'clerk@parish.example')
    await settled()
    await choose(shown, '[data-test=why-person]', 'whoever has the link of “Report a fault”')
    await settled()
    expect(changes(asked).map((one) => one.body)).toEqual([
      { visitor: { page: 9, guest: 2 }, right: 'look', table: 3, record: 5 },
      { form: 120, right: 'look', table: 3, record: 5 },
    ])
    // At the page itself, those who come to it.
    const there = put(AccessWhy, { props: { page: 9, about } }, all)
    await settled()
    expect(offered(there, '[data-test=why-person]')).toEqual(['clerk@parish.example'])
    expect(changes(asked).at(-1)?.body).toMatchObject({ visitor: { page: 9, guest: 2 } })
  })

  it('is about a record that one finds by its name, where none is given', async () => {
    const names = { 'GET /api/trackers/1/tables/3/names': [{ id: 5, name: 'Gate off its hinge', beside: '' }] }
    const { shown, asked } = await asking({ ...names, [WHY]: no }, { person: 2 })
    expect(shown.find('[data-test=why-answer]').exists()).toBe(false)
    shown.findComponent({ name: 'VAutocomplete' }).vm.$emit('update:modelValue', 5)
    await settled()
    expect(changes(asked).at(-1)?.body).toMatchObject({ record: 5 })
    expect(shown.text()).toContain('Tamsin can’t see')
  })

  it('says what went wrong', async () => {
    const { shown } = await asking({ [WHY]: refusing(404, 'There is no such record.') }, { about, person: 2 })
    expect(shown.get('[role=alert]').text()).toBe('There is no such record.')
  })
})
