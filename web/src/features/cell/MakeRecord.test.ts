import { afterEach, expect, it, vi } from 'vitest'
import { answering, changes, field, put, refusing, settled, table } from '@/testing'
import MakeRecord from './MakeRecord.vue'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const name = field({ type: 'text', limit: 80 }, { id: 41, name: 'Name' })
const length = field({ type: 'number', decimals: 1, unit: 'km' }, { id: 42, name: 'Length' })
const sections = table([name, length], { id: 2, one: 'section', many: 'sections' })
const ADD = 'POST /api/trackers/1/tables/2/records'

function making(answers: Record<string, unknown>, near: object[] = [], asks = [42]) {
  const asked = answering(answers)
  const shown = put(MakeRecord, { props: { tracker: 1, table: sections, name: 'Barn Lane', near: near as never, asks } })
  return { shown, asked }
}

it('offers what is called nearly so first, to be taken instead', async () => {
  const near = { id: 25, name: 'Barn Lane to Ford', beside: 'PS-025' }
  const { shown, asked } = making({}, [near])
  await shown.get('.near').trigger('click')
  expect([shown.emitted('take'), changes(asked)]).toEqual([[[near]], []])
})

it('is made only once everything that has to be is filled in, with the name that was typed', async () => {
  const { shown, asked } = making({ [ADD]: { seq: 3, did: 'added the section', added: [64] } })
  expect(shown.get('[data-test=make-it]').attributes('disabled')).toBeDefined()
  await shown.get('label input').setValue(' ')
  expect(shown.get('[data-test=make-it]').attributes('disabled')).toBeDefined()
  await shown.get('label input').setValue('1.2')
  await shown.get('form').trigger('submit')
  await settled()
  expect(changes(asked)[0]!.body).toEqual({ records: [{ '41': { text: 'Barn Lane' }, '42': { text: '1.2' } }], begun: false })
  expect(shown.emitted('made')).toEqual([[{ id: 64, name: 'Barn Lane' }]])
})

it('that is refused says why, keeps what was typed, and is not there', async () => {
  const { shown } = making({ [ADD]: refusing(422, '“Length” is a number: write it like 1.2.') })
  await shown.get('label input').setValue('long')
  await shown.get('form').trigger('submit')
  await settled()
  expect(shown.get('[role=alert]').text()).toBe('“Length” is a number: write it like 1.2.')
  expect([shown.get<HTMLInputElement>('label input').element.value, shown.emitted('made')]).toEqual(['long', undefined])
})
