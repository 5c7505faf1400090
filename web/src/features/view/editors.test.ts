import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { GroupBy, Shape, ShapeOffer, Tally } from '@/api/types'
import { choose, chosen, field, offered, put, settled, table } from '@/testing'
import GroupsEditor from './GroupsEditor.vue'
import ShapeEditor from './ShapeEditor.vue'
import TallyEditor from './TallyEditor.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const TITLE = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'Title' })
const HOURS = field({ type: 'number', decimals: 1, unit: 'h' } as never, { id: 49, name: 'Hours' })
const STATUS = field({ type: 'choice', options: [] } as never, { id: 47, name: 'Status' })
const DUE = field({ type: 'date' } as never, { id: 48, name: 'Due' })
const home = table([TITLE, HOURS, STATUS, DUE])

it('a figure begins with what one is likeliest to want of a field, and changes with it', async () => {
  const tallies: Tally[] = [{ field: 49, figure: 'most' }]
  const shown = put(TallyEditor, { props: { table: home, tallies } })
  await choose(shown, '[data-test=add-tally]', 'Hours')
  expect(shown.emitted('change')!.at(-1)).toEqual([[...tallies, { field: 49, figure: 'sum' }]])
  expect(chosen(shown, '[aria-label=Figure]')).toBe('the most')
  await shown.get('[aria-label="Take it out"]').trigger('click')
  expect(shown.emitted('change')!.at(-1)).toEqual([[]])
})

it('groups of days begin by month, and those of few values can show the empty ones', async () => {
  const groups: GroupBy[] = [{ field: 47, by: 'value', descending: false, empty: false }]
  const shown = put(GroupsEditor, { props: { table: home, groups, most: 3 } })
  await choose(shown, '[data-test=add-order]', 'Due')
  expect(shown.emitted('change')!.at(-1)).toEqual([[...groups, { field: 48, by: 'month', descending: false, empty: false }]])
  await shown.get('input[type=checkbox]').setValue(true)
  expect(shown.emitted('change')!.at(-1)).toEqual([[{ ...groups[0], empty: true }]])
  // The field of the lanes is no band across them.
  const across = put(GroupsEditor, { props: { table: home, groups: [], most: 1, lanes: 47 } })
  expect(offered(across, '[data-test=add-order]')).toEqual(['Title', 'Hours', 'Due'])
})

const offers = (over: Partial<ShapeOffer> = {}): ShapeOffer[] => [
  { name: 'rows', says: 'To compare.', by: [], begins: { as: 'rows', height: 'one' }, missing: '' },
  { name: 'lanes', says: 'To move on.', by: [47], begins: { as: 'lanes', by: 47, away: [], limits: [] }, missing: '', ...over },
  { name: 'calendar', says: 'When.', by: [48, 50], begins: { as: 'calendar', dates: [{ start: 48 }] }, missing: '' },
]

it('a shape is chosen as it begins, and what a table lacks for one is said and offered to be made', async () => {
  const shown = put(ShapeEditor, { props: { table: home, shape: { as: 'rows' } as Shape, offers: offers() } })
  await shown.get('[data-shape=lanes]').trigger('click')
  expect(shown.emitted('change')!.at(-1)).toEqual([{ as: 'lanes', by: 47, away: [], limits: [] }])
  const lacking = offers({ begins: null, by: [], missing: 'No fault has such a field.', makes: { type: 'choice', options: [] } as never })
  const bare = put(ShapeEditor, { props: { table: home, shape: { as: 'rows' } as Shape, offers: lacking } })
  expect(bare.get('[data-shape=lanes]').attributes('disabled')).toBeDefined()
  expect(bare.text()).toContain('No fault has such a field.')
  await bare.get('[data-test=make-for-lanes]').trigger('click')
  expect(bare.emitted('make')).toHaveLength(1)
})

it('a calendar goes by several dates, each to the same day or to another, and a week has a cap that is a number', async () => {
  const shape: Shape = { as: 'calendar', dates: [{ start: 48 }] }
  const shown = put(ShapeEditor, { props: { table: home, shape, offers: offers(), figure: 'h' } })
  await shown.get('[data-test=cap]').setValue('54,5')
  await settled()
  expect(shown.emitted('change')!.at(-1)).toEqual([{ ...shape, cap: '54.5' }])
  const before = shown.emitted('change')!.length
  await shown.get('[data-test=cap]').setValue('much')
  expect(shown.emitted('change')).toHaveLength(before)
})
