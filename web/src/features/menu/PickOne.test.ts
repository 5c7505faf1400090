import { beforeEach, expect, it } from 'vitest'
import { put, settled } from '@/testing'
import { named } from './pick'
import PickOne from './PickOne.vue'

beforeEach(() => (document.body.innerHTML = ''))

interface Props {
  modelValue?: unknown
  items: { value: unknown; title: string; group?: string }[]
  hint?: string
  said?: boolean
  disabled?: boolean
}
const drawn = (props: Props, attrs: object = {}) => put(PickOne as never, { props, attrs } as never)

async function listed(shown: ReturnType<typeof drawn>) {
  await shown.get('.v-field').trigger('mousedown')
  await settled()
  return [...document.querySelectorAll('.v-list > *, .v-list .v-list-item')].map((one) => one.textContent?.trim()).filter(Boolean)
}

it('shows what is chosen by its name, also where it is nothing', () => {
  const items = [{ value: null, title: 'nobody' }, { value: 7, title: 'Tamsin' }] // prettier-ignore
  expect(drawn({ items, modelValue: null }).get('.v-select__selection').text()).toBe('nobody')
  expect(drawn({ items, modelValue: 7 }).get('.v-select__selection').text()).toBe('Tamsin')
})

it('shows its hint while nothing of the list is chosen', () => {
  const shown = drawn({ items: named([{ id: 1, name: 'Faults' }]), modelValue: '', hint: 'choose a table' })
  expect(shown.get('input').attributes('placeholder')).toBe('choose a table')
  expect(shown.find('.v-select__selection').exists()).toBe(false)
})

it('puts things under their headings, each heading once', async () => {
  const items = [
    { value: 1, title: 'left out' },
    { value: 2, title: 'text', group: 'A new field' },
    { value: 3, title: 'number', group: 'A new field' },
    { value: 4, title: 'a link', group: 'Linked' },
  ]
  const lines = await listed(drawn({ items, modelValue: 1 }))
  expect(lines.filter((line) => line === 'A new field')).toHaveLength(1)
  expect(lines).toContain('Linked')
})

it('tells of a choice once, and nothing where the same is chosen again', async () => {
  const shown = drawn({ items: named([{ id: 1, name: 'one' }, { id: 2, name: 'two' }]), modelValue: 1 }) // prettier-ignore
  const select = shown.getComponent({ name: 'VSelect' })
  select.vm.$emit('update:modelValue', 0)
  expect(shown.emitted('update:modelValue')).toBeUndefined()
  select.vm.$emit('update:modelValue', 1)
  expect(shown.emitted('update:modelValue')).toEqual([[2]])
})

it('is named for those who hear it, the list too', async () => {
  const shown = drawn({ items: named([{ id: 1, name: 'one' }]), modelValue: 1 }, { 'aria-label': 'Direction', 'data-test': 'way' })
  expect(shown.findAll('[aria-label=Direction]').length).toBeGreaterThan(0)
  expect(shown.find('[data-test=way]').exists()).toBe(true)
  await listed(shown)
  expect(document.querySelector('.pick-list')?.getAttribute('aria-label')).toBe('Direction')
})
