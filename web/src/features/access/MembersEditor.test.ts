import { afterEach, expect, it } from 'vitest'
import { opened, put } from '@/testing'
import MembersEditor from './MembersEditor.vue'

afterEach(() => (document.body.innerHTML = ''))

const people = [1, 2, 3].map((id) => ({ id, name: `Person ${id}` }))
const shownWith = (members: number[]) =>
  put(MembersEditor, { props: { role: { role: { id: 9, name: 'Warden', members } } as never } }, opened({ people } as never))

it('offers everybody of the team, and marks who has the role', () => {
  const shown = shownWith([2])
  expect(shown.findAll('label').map((one) => one.text())).toEqual(['Person 1', 'Person 2', 'Person 3'])
  expect(shown.findAll('input').map((one) => one.element.checked)).toEqual([false, true, false])
})

it('gives and takes the role of one, and leaves the others', async () => {
  const shown = shownWith([2])
  await shown.findAll('input')[2]!.setValue(true)
  await shown.findAll('input')[1]!.setValue(false)
  expect(shown.emitted('change')).toEqual([[[2, 3]], [[]]])
})
