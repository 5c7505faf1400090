import { beforeEach, expect, it } from 'vitest'
import type { CrossShape } from '@/api/types'
import { field, opened, put, settled, table } from '@/testing'
import GroupsEditor from '../GroupsEditor.vue'
import CrossShapeEditor from './CrossShapeEditor.vue'

beforeEach(() => (document.body.innerHTML = ''))

const choice = { type: 'choice', options: [{ id: 1, name: 'dry', hue: 'slate' }] } as never
const KIND = field(choice, { id: 45, name: 'Kind', within: 'kind' })
const DAY = field({ type: 'date' }, { id: 48, name: 'Reported on', within: 'reported on' })
const HOURS = field({ type: 'number', decimals: 1, unit: 'h' } as never, { id: 54, name: 'Hours needed', within: 'hours needed' })
const home = table([KIND, DAY, HOURS])
const shape: CrossShape = { down: [{ field: 45 }], across: [{ field: 48, by: 'month' }], within: null, empty: true }

async function editing(over: Partial<CrossShape> = {}, figure?: string) {
  const shown = put(
    CrossShapeEditor,
    { props: { shape: { ...shape, ...over }, table: home, by: [45, 48, 54], figure } },
    opened({ tables: [home] } as never),
  )
  await settled()
  const asked = () => shown.emitted('change')?.at(-1)?.[0] as CrossShape | undefined
  const sides = shown.findAllComponents(GroupsEditor)
  return { shown, asked, down: sides[0]!, across: sides[1]! }
}

it('puts fields down and across, and never none down', async () => {
  const { down, across, asked } = await editing()
  across.vm.$emit('change', [])
  expect(asked()?.across).toEqual([])
  down.vm.$emit('change', [])
  expect(asked()?.down).toEqual([{ field: 45 }])
  down.vm.$emit('change', [{ field: 54, step: '5' }])
  expect(asked()?.down).toEqual([{ field: 54, step: '5' }])
})

it('shows what no record has, or not, and lays ground under what holds more', async () => {
  const { shown, asked } = await editing()
  const [empty, heat] = shown.findAll('input[type=checkbox]')
  await empty!.setValue(false)
  expect(asked()?.empty).toBe(false)
  await heat!.setValue(true)
  expect(asked()?.heat).toBe(true)
})

it('puts numbers together in steps, and takes no step that is nothing', async () => {
  const { down, asked } = await editing({ down: [{ field: 54, step: null }] })
  const step = down.find('[data-test=step]')
  await step.setValue('2,5')
  await step.trigger('change')
  expect(asked()?.down[0]).toMatchObject({ field: 54, step: '2.5' })
  await step.setValue('-1')
  await step.trigger('change')
  expect(asked()?.down[0]).toMatchObject({ field: 54, step: null })
})

it('says empty ones for itself: its sides do not', async () => {
  const { down } = await editing()
  expect(down.text()).not.toContain('empty')
})
