import { afterEach, describe, expect, it, vi } from 'vitest'
import type { View } from '@/api/types'
import { answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import ViewMenu from './ViewMenu.vue'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const query = { fields: [{ field: 40, width: 100 }] }
const view = (over: Partial<View> = {}) =>
  ({ id: 100, name: 'To be put right', about: '', locked: false, owner: null, query, withheld: false, ...over }) as View
const home = (...views: View[]) => table([field({ type: 'yes_no' })], { views } as never)

async function menu({
  builds = true,
  one = view() as View | null,
  changed = false,
  answers = {} as Record<string, unknown>,
  shapes = [] as object[],
} = {}) {
  const asked = answering(answers)
  const views = one ? [one, view({ id: 101, name: 'Others' })] : []
  const props = { tracker: 1, table: home(...views), view: one ?? undefined, query, changed, shapes: shapes as never }
  const shown = put(ViewMenu, { props }, opened({ builds } as never))
  await shown.get('[data-test=view-menu]').trigger('click')
  await settled()
  const entries = () => [...document.querySelectorAll('.menu button')].map((b) => b.textContent)
  const press = async (words: string) => {
    ;[...document.querySelectorAll<HTMLElement>('.menu button, .naming button')].find((b) => b.textContent?.includes(words))!.click()
    await settled()
  }
  return { shown, asked, entries, press }
}

describe('what can be done with a view', () => {
  it.each([
    ['a builder, with the team’s', true, view(), ['Rename this view', 'Duplicate this view', 'Lock this view', 'Take this view away']],
    ['a builder, with one that is locked', true, view({ locked: true }), ['Duplicate this view', 'Unlock this view']],
    ['somebody else, with the team’s', false, view(), ['Duplicate this view']],
    [
      'somebody else, with their own',
      false,
      view({ owner: 7 }),
      ['Rename this view', 'Duplicate this view', 'Lock this view', 'Take this view away'],
    ],
    ['anybody, where there is none yet', true, null, ['Duplicate this view']],
  ])('by %s', async (_, builds, one, expected) => {
    const { entries } = await menu({ builds, one })
    expect(entries()).toEqual(expected)
  })

  it('is called after its table where nothing is saved', async () => {
    const { shown } = await menu({ one: null })
    expect(shown.get('h1').text()).toContain('All faults')
  })

  it('keeps another name with what was saved, not with what was changed since', async () => {
    const { press, asked } = await menu({ changed: true, answers: { 'PUT /api/trackers/1/parts/view/100': { seq: 2 } } })
    await press('Rename this view')
    const name = document.querySelector<HTMLInputElement>('[data-test=view-name] input')!
    name.value = 'Worst first'
    name.dispatchEvent(new Event('input'))
    await settled()
    await press('Rename view')
    expect(changes(asked)[0]!.body).toEqual({ view: { table: 3, name: 'Worst first', about: '', locked: false, personal: false, query } })
  })

  it('duplicates into a view of one’s own, and goes there', async () => {
    const { press, shown, asked } = await menu({ answers: { 'POST /api/trackers/1/parts': { seq: 2, made: 300 } } })
    await press('Duplicate this view')
    await press('Keep view')
    expect(changes(asked)[0]!.body).toMatchObject({ view: { name: 'To be put right, mine', personal: true } })
    expect(shown.emitted('saved')).toHaveLength(1)
  })

  it('is locked as it was saved, whatever one has changed since', async () => {
    const { press, asked } = await menu({ changed: true, answers: { 'PUT /api/trackers/1/parts/view/100': { seq: 2 } } })
    await press('Lock this view')
    expect(changes(asked)[0]!.body).toMatchObject({ view: { name: 'To be put right', locked: true, query } })
  })

  it('says what each view shows, and begins one in a shape', async () => {
    const lines = [{ view: 100, sentence: '42 of 318 faults where status is not made good.', matching: 42 }]
    const shapes = [
      { name: 'lanes', says: '', by: [47], begins: { as: 'lanes', by: 47 }, missing: '' },
      { name: 'none', says: '', by: [], begins: null, missing: 'There is no such field.' },
    ]
    const answers = { 'GET /api/trackers/1/tables/3/views': lines, 'POST /api/trackers/1/parts': { seq: 2, made: 300 } }
    const { asked } = await menu({ answers, shapes })
    expect(document.querySelector('.menu small')?.textContent).toBe(lines[0]!.sentence)
    expect(document.querySelectorAll('[data-begin]')).toHaveLength(1)
    document.querySelector<HTMLElement>('[data-begin=lanes]')!.click()
    await settled()
    ;[...document.querySelectorAll<HTMLElement>('.naming button')].find((b) => b.textContent?.includes('Begin view'))!.click()
    await settled()
    const made = changes(asked).at(-1)!.body as { view: { name: string; query: { shape: object } } }
    expect(made.view).toMatchObject({ name: 'Faults as lanes', query: { condition: { all: [] }, shape: { as: 'lanes', by: 47 } } })
  })

  it('says why a view can’t be taken away', async () => {
    const { press, shown } = await menu({ answers: { 'DELETE /api/trackers/1/parts/view/100': refusing(403, 'Only builders can.') } })
    await press('Take this view away')
    expect(shown.emitted('trouble')).toEqual([['Only builders can.']])
  })
})
