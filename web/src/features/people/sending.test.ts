import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { answering, put, refusing, settled } from '@/testing'
import SendingSheet from './SendingSheet.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const DONE = { seq: 9, did: 'changed when and how fast messages go out' }
const sheet = (sending = {}) => put(SendingSheet, { props: { sending } })
const box = (shown: ReturnType<typeof sheet>, test: string) => shown.get<HTMLInputElement>(`[data-test=${test}]`)
const keep = async (shown: ReturnType<typeof sheet>) => {
  await shown.get('[data-test=do-it]').trigger('click')
  await settled()
}

it('begins with what holds, and keeps only what the team says otherwise', async () => {
  const asked = answering({ 'PUT /api/team/sending': DONE })
  const shown = sheet()
  expect(['to-one', 'to-all'].map((test) => box(shown, test).element.value)).toEqual(['60', '20000'])
  await box(shown, 'team-quiet-from').setValue('21:00')
  await box(shown, 'team-quiet-until').setValue('07:00')
  await box(shown, 'to-one').setValue('5')
  await keep(shown)
  expect(asked.map((one) => one.body)).toEqual([{ quiet: { from: 1260, until: 420 }, to_one: 5, to_all: null }])
  expect(shown.emitted('done')).toEqual([[DONE]])
})

it('is set at any hour again', async () => {
  const asked = answering({ 'PUT /api/team/sending': DONE })
  const shown = sheet({ quiet: { from: 1260, until: 420 }, to_one: 5 })
  expect([box(shown, 'team-quiet-from').element.value, box(shown, 'to-one').element.value]).toEqual(['21:00', '5'])
  await shown.get('[data-test=any-hour]').trigger('click')
  await keep(shown)
  expect(asked[0]!.body).toEqual({ quiet: null, to_one: 5, to_all: null })
})

it('says what is wrong once, and leaves what was typed', async () => {
  const told = 'Give a count from 1 to 60.'
  answering({ 'PUT /api/team/sending': refusing(422, told, [{ pointer: '/to_one', message: told }]) })
  const shown = sheet()
  await box(shown, 'to-one').setValue('many')
  await keep(shown)
  expect(shown.findAll('[role=alert]').map((one) => one.text())).toEqual([told])
  expect([box(shown, 'to-one').element.value, shown.emitted('done')]).toEqual(['many', undefined])
})
