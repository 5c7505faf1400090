import { afterEach, expect, it } from 'vitest'
import type { FieldDef } from '@/api/types'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { choose, chosen, field, opened, put, table } from '@/testing'
import LinkOffers from './LinkOffers.vue'

afterEach(() => (document.body.innerHTML = ''))

const district = field({ type: 'text', limit: 80 }, { id: 61, name: 'Area' })
const sections = table([district], { id: 2, name: 'Sections', one: 'section', many: 'sections' })
const own = [{ id: 44, name: 'District', kind: { type: 'text', limit: 80 } }] as FieldDef[]

function offers(over: object = {}, one = true, to = 2) {
  const modelValue = { id: 42, name: 'Section', kind: { type: 'link', to, back: 60, one, holds: true }, ...over } as FieldDef
  const shown = put(LinkOffers, { props: { modelValue, others: own } }, opened({ tables: [sections] } as never))
  const now = () => (shown.emitted('update:modelValue')?.at(-1)?.[0] as FieldDef | undefined)?.offers
  return { shown, now }
}

it('of a link to one record there are no lines; of one to several there can be', async () => {
  expect(offers().shown.find('[data-test=as-lines]').exists()).toBe(false)
  const { shown, now } = offers({}, false)
  await shown.get('[data-test=as-lines]').setValue(true)
  expect(now()).toEqual({ condition: { all: [] }, same: [], lines: true })
})

it('only those are offered that hold what this record holds, until it is no matter', async () => {
  const { shown, now } = offers()
  expect(shown.find('[aria-label="Own field"]').exists()).toBe(false)
  await choose(shown, '[aria-label="Their field"]', 'Area')
  expect(now()).toMatchObject({ same: [{ theirs: 61, ours: 44 }] })
  const matched = offers({ offers: { condition: { all: [] }, same: [{ theirs: 61, ours: 44 }], lines: false } })
  expect(chosen(matched.shown, '[aria-label="Own field"]')).toBe('District')
  await choose(matched.shown, '[aria-label="Their field"]', '(no matter)')
  expect(matched.now()).toMatchObject({ same: [] })
})

it('a condition goes beside what was said before, and what was said stands open', () => {
  const { shown, now } = offers({ offers: { condition: { all: [] }, same: [{ theirs: 61, ours: 44 }], lines: true } })
  expect(shown.get('details').attributes('open')).toBeDefined()
  expect(offers().shown.get('details').attributes('open')).toBeUndefined()
  const test = { test: { path: [61], of: 'any', check: { is: 'filled' } } }
  shown.getComponent(ConditionEditor).vm.$emit('update:modelValue', test)
  expect(now()).toEqual({ condition: test, same: [{ theirs: 61, ours: 44 }], lines: true })
})

it('says nothing of a table that is not open', () => {
  expect(offers({}, true, 9).shown.find('section').exists()).toBe(false)
})

it('each side says what it shows of the records it links, or that they are called as everywhere', async () => {
  const { shown, now } = offers({ offers: { condition: { all: [] }, same: [], lines: true } })
  expect(chosen(shown, '[data-test=link-shows]')).toBe('what it is called by')
  await choose(shown, '[data-test=link-shows]', 'Area')
  expect(now()).toEqual({ condition: { all: [] }, same: [], lines: true, named: 61 })
  await choose(shown, '[data-test=link-shows]', 'what it is called by')
  expect(now()!.named).toBeNull()
})
