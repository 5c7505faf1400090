import { beforeEach, expect, it } from 'vitest'
import { field, put, table } from '@/testing'
import FieldsEditor from './FieldsEditor.vue'

beforeEach(() => (document.body.innerHTML = ''))

const text = { type: 'text', limit: 9 } as const
const home = table([
  field(text, { id: 41, name: 'What is wrong' }),
  field(text, { id: 42, name: 'Section' }),
  field(text, { id: 43, name: 'Reporter' }),
  field({ type: 'created_at' }, { id: 44, name: 'Created at' }),
])
const shows = (...ids: number[]) => ids.map((id) => ({ field: id, width: 100 }))

function editing(fields = shows(42, 41)) {
  const shown = put(FieldsEditor, { props: { slips: true, table: home, fields } })
  const names = (css: string) => shown.findAll(css).map((one) => one.text().replace(/[↑↓…]/g, '').trim())
  return { shown, names, asked: () => (shown.emitted('change')?.at(-1)?.[0] as { field: number }[] | undefined)?.map((one) => one.field) }
}

it('lists what is shown in its order, and beneath it what is not', () => {
  const { names } = editing()
  expect(names('.field')).toEqual(['Section', 'What is wrong'])
  expect(names('.fields > label')).toEqual(['Reporter', 'Created at'])
})

it('shows a field at the end, the one that names a record wider', async () => {
  const { shown, asked } = editing(shows(42))
  await shown.findAll('.fields > label input')[0]!.setValue(true)
  expect(asked()).toEqual([42, 41])
  expect(shown.emitted('change')!.at(-1)![0]).toContainEqual({ field: 41, width: 280 })
})

it('hides a field, but never the last', async () => {
  const two = editing()
  await two.shown.findAll('.field input')[0]!.setValue(false)
  expect(two.asked()).toEqual([41])
  const one = editing(shows(41))
  await one.shown.find('.field input').setValue(false)
  expect(one.asked()).toBeUndefined()
})

it('moves a field by one, and not past the ends', async () => {
  const { shown, asked } = editing(shows(42, 41, 43))
  await shown.get('[aria-label="What is wrong further left"]').trigger('click')
  expect(asked()).toEqual([41, 42, 43])
  await shown.get('[aria-label="What is wrong further right"]').trigger('click')
  expect(asked()).toEqual([42, 43, 41])
  expect(shown.get('[aria-label="Section further left"]').attributes('disabled')).toBeDefined()
  expect(shown.get('[aria-label="Reporter further right"]').attributes('disabled')).toBeDefined()
})

it('leaves out a field that is gone, whatever the view still says', () => {
  expect(editing(shows(99, 42)).names('.field')).toEqual(['Section'])
})

it('opens what is in a field, where a phone shows no headings', async () => {
  const { shown } = editing()
  await shown.get('[data-slip="What is wrong"]').trigger('click')
  expect(shown.emitted('slip')).toEqual([[expect.objectContaining({ id: 41 })]])
})
