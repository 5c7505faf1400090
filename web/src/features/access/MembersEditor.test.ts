import { afterEach, expect, it } from 'vitest'
import { opened, put } from '@/testing'
import MembersEditor from './MembersEditor.vue'

afterEach(() => (document.body.innerHTML = ''))

const people = [1, 2, 3].map((id) => ({ id, name: `Person ${id}` }))
const shownWith = (members: number[], over: object = {}) =>
  put(
    MembersEditor,
    { props: { role: { role: { id: 9, name: 'Warden', members, groups: [7] } } as never } },
    opened({ people, ...over } as never),
  )

it('offers everybody of the team, and marks who has the role', () => {
  const shown = shownWith([2])
  expect(shown.findAll('label').map((one) => one.text())).toEqual(['Person 1', 'Person 2', 'Person 3'])
  expect(shown.findAll('input').map((one) => one.element.checked)).toEqual([false, true, false])
})

it('gives and takes the role of one, and leaves the others', async () => {
  const shown = shownWith([2])
  await shown.findAll('input')[2]!.setValue(true)
  await shown.findAll('input')[1]!.setValue(false)
  expect(shown.emitted('change')).toEqual([[{ members: [2, 3] }], [{ members: [] }]])
})

it('offers the groups of the team, and whoever has left only to be taken out', async () => {
  const left = { id: 4, name: 'Person 4', left: true }
  const groups = [
    { id: 7, name: 'Wardens' },
    { id: 8, name: 'Office' },
  ]
  const shown = shownWith([], { groups, people: [...people, left] })
  expect(shown.text()).not.toContain('Person 4')
  expect(shownWith([4], { groups, people: [...people, left] }).text()).toContain('has left')
  await shown.get('[data-group=Office]').setValue(true)
  await shown.get('[data-group=Wardens]').setValue(false)
  expect(shown.emitted('change')).toEqual([[{ groups: [7, 8] }], [{ groups: [] }]])
})
