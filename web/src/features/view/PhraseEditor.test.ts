import { afterEach, describe, expect, it } from 'vitest'
import type { Query } from '@/api/types'
import { choose, chosen, field, offered, opened, put, table } from '@/testing'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import PhraseEditor from './PhraseEditor.vue'

afterEach(() => (document.body.innerHTML = ''))

const title = field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' })
const hours = field({ type: 'number', decimals: 0, unit: 'h' }, { id: 42, name: 'Hours' })
const pictures = field({ type: 'files' } as never, { id: 43, name: 'Pictures' })
const home = table([title, hours, pictures])

function editor(at: string, query: Partial<Query> = {}, begins?: number) {
  const props = { at, table: home, query: { fields: [], ...query } as Query, begins }
  const shown = put(PhraseEditor, { props }, opened({ tables: [home] } as never))
  return { shown, changes: () => shown.emitted('change')?.flat() ?? [] }
}
const byTitle = { field: 41, descending: false }
const byHours = { field: 42, descending: true }

describe('how a view is sorted', () => {
  it('offers what can be sorted and is not yet, and adds it behind', async () => {
    const { shown, changes } = editor('/sorts/0', { sorts: [byTitle] })
    expect(offered(shown, '[data-test=add-order]')).toEqual(['Hours'])
    await choose(shown, '[data-test=add-order]', 'Hours')
    expect(changes()).toEqual([{ sorts: [byTitle, { field: 42, descending: false }] }])
  })

  it('says the direction in the words of its field, and turns it round', async () => {
    const { shown, changes } = editor('/sorts/0', { sorts: [byTitle] })
    expect(chosen(shown, '[aria-label=Direction]')).toBe('from A to Z')
    await choose(shown, '[aria-label=Direction]', 'from Z to A')
    expect(changes()).toEqual([{ sorts: [{ field: 41, descending: true }] }])
  })

  it('takes out one and leaves the others as they are', async () => {
    const { shown, changes } = editor('/sorts/0', { sorts: [byTitle, byHours] })
    await shown.get('[aria-label="Take it out"]').trigger('click')
    expect(changes()).toEqual([{ sorts: [byHours] }])
  })
})

it('a view is grouped by up to three fields, and not by its sorts', async () => {
  const { shown, changes } = editor('/groups/0', { sorts: [byTitle], groups: [] })
  await choose(shown, '[data-test=add-order]', 'Title')
  expect(changes()).toEqual([{ groups: [{ ...byTitle, by: 'value', empty: false }] }])
  const more = (query: Partial<Query>) => editor('/groups/0', query).shown.find('[data-test=add-order]').exists()
  expect(more({ groups: [byHours, byTitle] })).toBe(true)
  expect(more({ groups: [byHours, byTitle, byHours] })).toBe(false)
  // Across lanes lies one band.
  expect(more({ groups: [byHours], shape: { as: 'lanes', by: 41 } })).toBe(false)
})

describe('the condition of a view', () => {
  const test = { test: { path: [41], of: 'any' as const, check: { is: 'text' as const, how: 'contains' as const, text: 'gate' } } }

  it('takes effect while it is written, without tests that say nothing yet', async () => {
    const { shown, changes } = editor('/condition', { condition: { all: [test] } })
    const unsaid = { test: { ...test.test, check: { ...test.test.check, text: '' } } }
    shown.getComponent(ConditionEditor).vm.$emit('update:modelValue', { all: [test, unsaid] })
    await shown.vm.$nextTick()
    expect(changes()).toEqual([{ condition: { all: [test] } }])
  })

  it('is begun on the field whose heading asked for it, beside what is there', () => {
    const { shown } = editor('/condition', { condition: test }, 41)
    const condition = shown.getComponent(ConditionEditor).props('modelValue') as { all: { test: { path: number[] } }[] }
    expect(condition.all.map((one) => one.test.path)).toEqual([[41], [41]])
  })

  it('is done with one press', async () => {
    const { shown } = editor('/condition')
    await shown.get('[data-test=condition-done]').trigger('click')
    expect(shown.emitted('close')).toHaveLength(1)
  })
})

it.each(['/shape', '/shape/who', '/shape/beneath'])('the shape is changed at %s, whatever of it that says', (at) => {
  const { shown } = editor(at, { shape: { as: 'rows' } })
  expect(shown.find('.shapes').exists()).toBe(true)
})
