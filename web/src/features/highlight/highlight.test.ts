import { describe, expect, it } from 'vitest'
import type { HighlightsRehearsal, Look, Row } from '@/api/types'
import { answering, changes, field, opened, put, settled, table } from '@/testing'
import CellText from '@/features/cell/CellText.vue'
import { dropped, lookSaidAt, withTouch, type Drafted } from './drafting'
import HighlightSheet from './HighlightSheet.vue'
import HighlightsPage from './HighlightsPage.vue'
import LookEditor from './LookEditor.vue'
import { lookClass, lookOf, lookStyle, markHue } from './looks'
import { SIGNS, signsLike } from './signs'

const WHAT = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'What is wrong', within: 'what is wrong' } as never)
const DUE = field({ type: 'date' } as never, { id: 49, name: 'Due', within: 'due' } as never)
const home = () => table([WHAT, DUE])
const LATE: Drafted = {
  condition: { all: [{ test: { path: [49], of: 'any', check: { is: 'filled' } } }] },
  touches: [
    { fields: [49], look: { ink: { of: 'rowan' }, bold: true } },
    { fields: [], look: { edge: 'fern', sign: { name: 'peak', hue: 'rowan' } } },
  ],
}
const row = (looks?: Row['looks']): Row =>
  ({ id: 7, version: 1, cells: [{ value: { text: 'Gate' }, text: 'Gate' }, null], change: true, remove: true, looks }) as Row

describe('a look', () => {
  it('is drawn by classes and colours, the same everywhere', () => {
    const look: Look = { ink: { of: 'rowan' }, bold: true, size: 'larger', edge: 'fern' }
    const classes = Object.entries(lookClass(look)).filter(([, on]) => on)
    expect(classes.map(([name]) => name)).toEqual(['look-ink', 'look-edge', 'look-bold', 'look-larger'])
    expect(lookStyle(look)).toEqual({ '--look-fill': undefined, '--look-ink': 'var(--rowan)', '--look-edge': 'var(--fern)' })
    expect(lookClass({ ink: 'quiet' })['look-quiet']).toBe(true)
    expect(lookClass(undefined)).toEqual({})
  })

  it('is that of the field asked for; where records are small, their edge or the letters of their name', () => {
    const looked = row({ by: [1], says: 'due is late', cells: [{ field: 41, look: { ink: { of: 'sky' } } }] })
    expect(lookOf(looked, 41)).toEqual({ ink: { of: 'sky' } })
    expect(lookOf(looked, 49)).toBeUndefined()
    expect(markHue(looked, 41)).toBe('var(--sky)')
    expect(markHue(row({ by: [1], says: '', whole: { edge: 'fern' } }), 41)).toBe('var(--fern)')
    expect(markHue(row(), 41)).toBeUndefined()
  })

  it('puts its sign and its word before a value, and in place of one that is empty', () => {
    const look: Look = { sign: { name: 'peak', hue: 'rowan' }, word: 'how many?' }
    const shown = put(CellText, { props: { field: WHAT, cell: null, look } })
    expect(shown.text()).toBe('how many?')
    expect(shown.get('svg').attributes('aria-label')).toBe('peak')
  })
})

describe('signs', () => {
  it('are found by parts of their names, and none is kept under what the server would not take', () => {
    expect(signsLike('arr up')).toEqual(['arrow up'])
    expect(signsLike('nothing like it')).toEqual([])
    expect(Object.keys(SIGNS).filter((name) => !/^[a-z ]{1,40}$/.test(name))).toEqual([])
  })
})

describe('a highlight that is being written', () => {
  it('is changed at the places that its sentence names', () => {
    expect(lookSaidAt(LATE, '/touches/0/look/ink')).toEqual({ ink: { of: 'rowan' } })
    expect(lookSaidAt(LATE, '/touches/1/look/sign')).toEqual({ sign: { name: 'peak', hue: 'rowan' } })
    expect(lookSaidAt(LATE, '/touches/0/fields')).toBeUndefined()
    expect(dropped(LATE, '/touches/0/look/bold').touches[0]!.look).toEqual({ ink: { of: 'rowan' } })
    expect(dropped(LATE, '/touches/1/fields').touches).toHaveLength(1)
    expect(dropped(LATE, '/condition/all/0').condition).toEqual({ all: [] })
    expect(withTouch(LATE, 1, { fields: [41] }).touches[1]!.fields).toEqual([41])
    expect(dropped(LATE, '/touches/9/fields')).toEqual(LATE)
  })

  it('has each effect by its name, taken back by a second press', async () => {
    const shown = put(LookEditor, { props: { look: { bold: true } as Look } })
    await shown.get('[data-look=bold]').trigger('click')
    await shown.get('[data-edge=fern]').trigger('click')
    await shown.get('[data-ink=rowan]').trigger('click')
    await shown.get('[data-look=quiet]').trigger('click')
    await shown.get('[data-sign=peak]').trigger('click')
    expect(shown.emitted('change')!.map(([look]) => look)).toEqual([
      { bold: false },
      { bold: true, edge: 'fern' },
      { bold: true, ink: { of: 'rowan' } },
      { bold: true, ink: 'quiet' },
      { bold: true, sign: { name: 'peak', hue: null } },
    ])
    expect(shown.get('[data-look=bold]').attributes('aria-pressed')).toBe('true')
    await shown.get('[aria-label="Search among the signs"]').setValue('zzz')
    expect(shown.text()).toContain('No sign is called that.')
  })

  const told = (faults: object[] = []): HighlightsRehearsal['draft'] =>
    ({
      words: { sentence: [{ text: 'due', tone: 'edit', at: '/touches/0/fields' }], when: 'due is filled in', matching: 12 },
      in_sight: 3,
      sample: { as_it_is: row(), then: row({ by: [2], says: '', cells: [{ field: 41, look: { bold: true } }] }) },
      matches: true,
      faults,
    }) as never
  const sheet = (faults: object[] = []) =>
    put(HighlightSheet, {
      props: { table: home(), number: 2, draft: LATE, told: told(faults), fields: [41, 49], isNew: true, busy: false, trouble: '' },
    })

  it('shows a true record as it is and then, how many match, and what is wrong before it can be kept', () => {
    const fine = sheet()
    expect(fine.text()).toContain('12 match now, 3 of them in sight')
    expect(fine.findAll('.look-bold').map((one) => one.text())).toEqual(['Gate'])
    expect(fine.get('[data-test=keep-highlight]').attributes('disabled')).toBeUndefined()
    const wrong = sheet([{ pointer: '/touches/0/look', message: 'Colour alone is not seen by everybody.' }])
    expect(wrong.get('[role=alert]').text()).toBe('Colour alone is not seen by everybody.')
    expect(wrong.get('[data-test=keep-highlight]').attributes('disabled')).toBeDefined()
  })
})

describe('how records look', () => {
  const line = (id: number, number: number) => ({
    highlight: { id, table: 3, place: number - 1, condition: LATE.condition, touches: LATE.touches },
    number,
    words: { sentence: [{ text: `rule ${number}`, tone: 'plain' }], when: 'always', matching: 4 },
  })
  async function page() {
    const asked = answering({
      'GET /api/trackers/1/tables/3/highlights': [line(401, 1), line(402, 2)],
      'POST /api/trackers/1/tables/3/highlights/rehearsal': {
        sentence: [{ text: '2 highlights. They touch 4 of 9 faults now.', tone: 'plain' }],
        row_count: 9,
        rows: [row({ by: [2], says: 'due is filled in' })],
        draft: null,
      },
      'POST /api/trackers/1/highlights/402/move': { seq: 5, did: 'put a highlight elsewhere' },
      'POST /api/trackers/1/parts': { seq: 6, made: 403, did: 'made a highlight' },
    })
    const shown = put(HighlightsPage, {}, opened({ tables: [home()] } as never))
    await shown.vm.$router.push('/highlights/1/3')
    await settled()
    return { shown, asked }
  }

  it('finds a sentence by its number in the margin, and puts it elsewhere by keys', async () => {
    const { shown, asked } = await page()
    expect(shown.text()).toContain('They touch 4 of 9 faults now.')
    await shown.get('[aria-label="by highlight 2"]').trigger('click')
    expect(shown.findAll('[data-test=highlight]')[1]!.classes()).toContain('pointed')
    await shown.get('#highlight-402').trigger('keydown', { key: 'ArrowUp', altKey: true })
    await settled()
    expect(changes(asked).find((one) => one.path.endsWith('/move'))?.body).toEqual({ to: 0 })
  })

  it('rehearses what is begun without condition or effect, and cannot keep it so', async () => {
    const { shown, asked } = await page()
    await shown.get('[data-test=add-highlight]').trigger('click')
    await settled()
    const last = asked.filter((one) => one.path.endsWith('/rehearsal')).at(-1)?.body as { draft: { highlight: object } }
    expect(last.draft.highlight).toEqual({ table: 3, condition: { all: [] }, touches: [] })
    expect(shown.get('[data-test=keep-highlight]').attributes('disabled')).toBeDefined()
  })
})
