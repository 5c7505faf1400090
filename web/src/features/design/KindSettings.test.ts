import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Choice, FieldDef, Kind } from '@/api/types'
import { answering, choose, chosen, field, offered, opened, put, settled, table } from '@/testing'
import KindSettings from './KindSettings.vue'
import OptionsEditor from './OptionsEditor.vue'
import UsesList from './UsesList.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const sections = table([field({ type: 'text', limit: 9 }, { id: 21, name: 'Name' })], { id: 2, name: 'Sections', one: 'section' })
const faults = table([])
const option = (id: number, name: string, over: Partial<Choice> = {}): Choice =>
  ({ id, name, hue: 'heather', under: null, ...over }) as Choice
const def = (kind: Kind, over: Partial<FieldDef> = {}) => ({ id: 50, name: 'Ground', kind, ...over }) as FieldDef

function settings(kind: Kind, fields: FieldDef[] = [], props: object = {}) {
  const tracker = opened({ tables: [sections, faults] } as never)
  const shown = put(KindSettings, { props: { modelValue: kind, table: 3, fields, known: false, ...props } }, tracker)
  return { shown, asked: () => shown.emitted('update:modelValue')?.at(-1)?.[0] as Kind | undefined }
}

describe('the settings that a kind has of its own', () => {
  it.each([
    [{ type: 'text', limit: 80 }, 'input', '200', { type: 'text', limit: 200 }],
    [{ type: 'number', decimals: 0, unit: '' }, '[aria-label=Decimals]', '2', { type: 'number', decimals: 2, unit: '' }],
    [{ type: 'number', decimals: 0, unit: '' }, '.short', 'km', { type: 'number', decimals: 0, unit: 'km' }],
    [{ type: 'money', currency: 'GBP' }, '.short', 'eur', { type: 'money', currency: 'EUR' }],
    [{ type: 'percent', decimals: 0 }, '[aria-label=Decimals]', '1', { type: 'percent', decimals: 1 }],
    [{ type: 'rating', most: 5 }, '[aria-label=Most]', '10', { type: 'rating', most: 10 }],
  ] as [Kind, string, string, Kind][])('%o becomes what is typed', async (kind, css, typed, expected) => {
    const { shown, asked } = settings(kind)
    await shown.get<HTMLInputElement>(css).setValue(typed)
    expect(asked()).toEqual(expected)
  })

  it('a link names its table, how many, and what it is called there', async () => {
    const link = { type: 'link', to: 0, back: 0, one: true, holds: true } as unknown as Kind
    const { shown, asked } = settings(link, [], { other: { name: 'Faults', one: false } })
    expect(offered(shown, '[data-test=link-to]')).toEqual(['Sections', 'Faults'])
    await choose(shown, '[data-test=link-to]', 'Sections')
    expect(asked()).toMatchObject({ to: 2 })
    await shown.get<HTMLInputElement>('input[type=checkbox]').setValue(true)
    expect(asked()).toMatchObject({ one: false })
    expect(shown.get<HTMLInputElement>('[data-test=other-name]').element.value).toBe('Faults')
  })

  it('a link that is there already stays with its table', () => {
    const link = { type: 'link', to: 2, back: 9, one: true, holds: true } as unknown as Kind
    const { shown } = settings(link, [], { known: true, other: { name: 'Faults', one: false } })
    expect(shown.find('[data-test=other-name]').exists()).toBe(false)
    expect(shown.get<HTMLInputElement>('input[type=checkbox]').element.disabled).toBe(true)
  })

  it('a carried value is chosen along a link, and says where there is none', async () => {
    const carried = { type: 'carried', links: [], field: 0 } as unknown as Kind
    expect(settings(carried).shown.text()).toContain('This table has no link yet. Make one first.')
    const link = def({ type: 'link', to: 2, back: 9, one: true, holds: true } as never, { id: 60, name: 'Section' })
    const { shown, asked } = settings({ ...carried, links: [60] } as Kind, [link])
    expect(offered(shown, '[data-test=carried-field]')).toEqual(['Name'])
    await choose(shown, '[data-test=carried-field]', 'Name')
    expect(asked()).toMatchObject({ links: [60], field: 21 })
  })

  it('a numbering is put together from parts, and shows a number as it would be', async () => {
    const kind = {
      type: 'numbering',
      parts: [
        { part: 'fixed', text: 'FR-' },
        { part: 'counter', digits: 4, restarts: 'never' },
      ],
    } as Kind
    const { shown, asked } = settings(kind)
    expect(shown.text()).toContain('FR-0001')
    await choose(shown, '[aria-label="Part 1"]', 'the year')
    expect(asked()).toMatchObject({ parts: [{ part: 'year' }, { part: 'counter' }] })
  })

  it('a button runs only what begins by pressing, in its own table', async () => {
    const one = (id: number, over: object) => ({ automation: { id, name: `A${id}`, table: 3, when: 'pressed', on: true, ...over } })
    answering({ 'GET /api/trackers/1/automations': [one(1, {}), one(2, { table: 2 }), one(3, { when: 'added' }), one(4, { on: false })] })
    const { shown, asked } = settings({ type: 'button', label: 'Order', automation: null } as never)
    await settled()
    expect(offered(shown, '[data-test=button-automation]')).toEqual(['nothing yet', 'A1', 'A4 (off)'])
    await choose(shown, '[data-test=button-automation]', 'A1')
    expect(asked()).toMatchObject({ label: 'Order', automation: 1 })
  })
})

describe('the options of a choice', () => {
  function options(modelValue: Choice[], props: object = {}) {
    const shown = put(OptionsEditor, { props: { modelValue, others: [], ...props } })
    return { shown, asked: () => shown.emitted('update:modelValue')?.at(-1)?.[0] as Choice[] | undefined }
  }

  it('takes several at once from a list, once each, and gives neighbours other colours', async () => {
    const { shown, asked } = options([option(1, 'stile')])
    const more = shown.get<HTMLTextAreaElement>('[data-test=more-options]')
    await more.setValue('gate, Stile; wall\nfence')
    await more.trigger('keydown', { key: 'Enter' })
    const now = asked()!
    expect(now.map((one) => one.name)).toEqual(['stile', 'gate', 'wall', 'fence'])
    expect(new Set(now.map((one) => one.id)).size).toBe(4)
    for (const [n, one] of now.entries()) if (n) expect(one.hue).not.toBe(now[n - 1]!.hue)
    expect(more.element.value).toBe('')
  })

  it('is renamed, coloured, moved by keys and taken out, each by itself', async () => {
    const { shown, asked } = options([option(1, 'stile'), option(2, 'gate')])
    await shown.get<HTMLInputElement>('[aria-label="Option 2"]').setValue('kissing gate')
    expect(asked()!.map((one) => [one.id, one.name])).toEqual([[1, 'stile'], [2, 'kissing gate']]) // prettier-ignore
    await shown.get('[aria-label^="Move gate"]').trigger('keydown', { key: 'ArrowUp' })
    expect(asked()!.map((one) => one.name)).toEqual(['gate', 'stile'])
    await shown.get('[aria-label="Colour of stile: heather"]').trigger('click')
    await shown.get('.hues [aria-label=gorse]').trigger('click')
    expect(asked()![0]).toMatchObject({ name: 'stile', hue: 'gorse' })
    await shown.get('[aria-label="Take out stile"]').trigger('click')
    expect(asked()!.map((one) => one.name)).toEqual(['gate'])
  })

  it('of a dependent choice, each stands under an option of the other, a new one under the first', async () => {
    const grounds = [option(7, 'grass'), option(8, 'stone')]
    const { shown, asked } = options([option(1, 'mown', { under: 7 })], {
      grounds,
      on: 50,
      others: [def({ type: 'choice', options: grounds } as never)],
    })
    expect(chosen(shown, '[data-test=depends-on]')).toBe('Ground')
    expect(chosen(shown, '[aria-label="mown stands under"]')).toBe('under grass')
    await choose(shown, '[aria-label="mown stands under"]', 'under stone')
    expect(asked()![0]).toMatchObject({ under: 8 })
    await shown.get<HTMLTextAreaElement>('[data-test=more-options]').setValue('cobbled')
    await shown.get('[data-test=more-options]').trigger('blur')
    expect(asked()!.at(-1)).toMatchObject({ name: 'cobbled', under: 7 })
    await choose(shown, '[data-test=depends-on]', 'nothing')
    expect(shown.emitted('update:on')).toEqual([[null]])
  })
})

it('what uses a field is told with what holds it first', () => {
  const use = (name: string, holds: boolean) => ({ what: 'view', number: 1, table: 3, name, how: 'shows it', holds }) as never
  const shown = put(UsesList, { props: { uses: [use('Open faults', false), use('Days open', true)] } })
  expect(shown.findAll('li').map((one) => one.text())).toEqual([
    'The view Days open shows it, and holds it',
    'The view Open faults shows it',
  ])
})
