import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Cell, Field, Kind } from '@/api/types'
import { answering, field, opened, put, refusing, settled, table } from '@/testing'
import CellEditor from './CellEditor.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const options = [
  { id: 70, name: 'grass', hue: 'fern' },
  { id: 71, name: 'short grass', hue: 'sky', under: 70 },
  { id: 72, name: 'flagstones', hue: 'clay', under: 73 },
]
const districts = table([field({ type: 'text', limit: 80 }, { id: 10, name: 'Name' })], {
  id: 1,
  name: 'Districts',
  one: 'district',
  standing: 10,
})

async function editing(kind: Kind, props: object = {}, over: Partial<Field> = {}) {
  const shown = put(
    CellEditor,
    { props: { field: field(kind, over), cell: null, at: { tracker: 1, table: 3, record: 5 }, ...props } as never },
    opened({ tables: [districts], people: [{ id: 2, name: 'Tamsin Oake' }] } as never),
  )
  await settled()
  const line = () => document.querySelector<HTMLInputElement>('[data-test=cell-editor] input, [data-test=cell-editor] textarea')!
  const type = async (text: string) => {
    line().value = text
    line().dispatchEvent(new Event('input'))
    await settled()
  }
  const press = async (key: string, init: KeyboardEventInit = {}) => {
    ;(document.activeElement ?? line()).dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...init }))
    await settled()
  }
  const picks = () => [...document.querySelectorAll('[role=option]')].map((o) => o.textContent?.trim())
  return { shown, line, type, press, picks, committed: () => shown.emitted('commit')?.at(-1) }
}

const text: Kind = { type: 'text', limit: 80 }
const cell = (value: unknown, shown = ''): Cell => ({ value, text: shown }) as unknown as Cell

describe('one line', () => {
  it.each([
    ['Enter', {}, 'down'],
    ['Tab', {}, 'right'],
    ['Tab', { shiftKey: true }, 'left'],
  ])('goes on by %s %j %s', async (key, init, move) => {
    const { type, press, committed } = await editing(text)
    await type('A gate')
    await press(key, init)
    expect(committed()).toEqual([{ text: 'A gate' }, move])
  })

  it('is left as it was by Escape, and by Enter where nothing was changed', async () => {
    for (const key of ['Escape', 'Enter']) {
      const { shown, press, line } = await editing(text, { cell: cell({ text: 'A gate' }, 'A gate') })
      expect(line().value).toBe('A gate')
      await press(key)
      expect([shown.emitted('cancel')?.length, shown.emitted('commit')]).toEqual([1, undefined])
      shown.unmount()
    }
  })

  it('is replaced by the letter that began it', async () => {
    const { line, press, committed } = await editing(text, { cell: cell({ text: 'A gate' }, 'A gate'), start: 'x' })
    expect(line().value).toBe('x')
    await press('Enter')
    expect(committed()).toEqual([{ text: 'x' }, 'down'])
  })

  it('shows what is wrong beneath it, and keeps what was typed', async () => {
    const { shown, line } = await editing({ type: 'number', decimals: 0, unit: '' }, { start: 'many', fault: '“many” is not a number.' })
    expect(line().value).toBe('many')
    expect(line().getAttribute('aria-invalid')).toBe('true')
    expect(document.body.textContent).toContain('“many” is not a number.')
    expect(shown.emitted('commit')).toBeUndefined()
  })
})

describe('a day', () => {
  it('is typed for the server to read, or picked from the month that it lies in', async () => {
    const { type, press, committed, shown } = await editing({ type: 'date' }, { cell: cell({ date: '2026-11-18' }, '18 Nov 2026') })
    await vi.waitFor(() => expect(document.querySelector('[data-test=calendar]')).toBeTruthy(), 15_000)
    await type('tomorrow')
    await press('Enter')
    expect(committed()).toEqual([{ text: 'tomorrow' }, 'down'])
    shown.unmount()
  })

  it('has no calendar over what is wrong', async () => {
    await editing({ type: 'date' }, { start: 'some day', fault: '“some day” is not a date.' })
    expect(document.querySelector('[data-test=calendar]')).toBeNull()
  })
})

describe('a choice', () => {
  it('offers its options, and picks by keys', async () => {
    const { picks, press, committed } = await editing({ type: 'choice', options } as Kind)
    expect(picks()).toEqual(['grass', 'short grass', 'flagstones'])
    await press('ArrowDown')
    await press('Enter')
    expect(committed()![0]).toEqual({ value: { choice: 71 } })
  })

  it('offers only what stands under the choice it depends on', async () => {
    const { picks } = await editing({ type: 'choice', options, on: 24 } as Kind, { on: 70 })
    expect(picks()).toEqual(['short grass'])
  })

  it('offers all where that choice is not on the screen', async () => {
    const { picks } = await editing({ type: 'choice', options, on: 24 } as Kind, { on: undefined })
    expect(picks()).toHaveLength(3)
  })
})

describe('a link', () => {
  const link: Kind = { type: 'link', to: 1, back: 13, one: true, holds: true }
  const OFFERED = 'GET /api/trackers/1/tables/3/fields/40/offered'

  it('asks which records may stand here, and offers to make what is not there', async () => {
    const asked = answering({ [OFFERED]: { names: [{ id: 1, name: 'Eskermoor' }], makes: true, near: [], asks: [] } })
    const { picks, type } = await editing(link)
    await vi.waitFor(() => expect(picks()).toContain('Eskermoor'))
    await type('Nether Fell')
    await vi.waitFor(() => expect(document.body.textContent).toContain('Make the district'))
    expect(asked.every((one) => one.path.endsWith('/offered'))).toBe(true)
  })

  it('offers nothing where the server does not answer', async () => {
    answering({ [OFFERED]: refusing(503, 'Busy.') })
    const { picks } = await editing(link)
    expect(picks()).toEqual([])
  })
})

describe('people and yes or no', () => {
  it('are picked', async () => {
    const person = await editing({ type: 'person' })
    await person.press('Enter')
    expect(person.committed()![0]).toEqual({ value: { person: 2 } })
    person.shown.unmount()
    const yes = await editing({ type: 'yes_no' })
    expect(yes.picks()).toEqual(['yes', 'no'])
    await yes.press('ArrowDown')
    await yes.press('Enter')
    expect(yes.committed()![0]).toEqual({ value: { logical: false } })
  })
})

describe('what sets something going', () => {
  const FOLLOWS = 'POST /api/trackers/1/tables/3/records/5/following'
  const says = () => document.querySelector('[data-test=follows]')?.textContent?.trim() ?? ''
  const rested = () => new Promise((then) => setTimeout(then, 180))
  const grounds: Kind = { type: 'choice', options } as Kind
  const touching = (coarse: boolean) => vi.stubGlobal('matchMedia', () => Object.assign(new EventTarget(), { matches: coarse }))

  it('says what would follow from the option one is at, and nothing of the one that stands there', async () => {
    touching(false)
    const asked = answering({ [FOLLOWS]: ['1 mail goes to Tamsin Oake.'] })
    const { press, committed } = await editing(grounds, { cell: cell({ choice: 70 }, 'grass') }, { sets_going: true })
    await rested()
    expect([says(), asked.length]).toEqual(['', 0])
    await press('ArrowDown')
    await rested()
    expect([says(), asked.map((one) => one.body)]).toEqual([
      '1 mail goes to Tamsin Oake.',
      [{ edit: [{ field: 40, input: { value: { choice: 71 } }, was: null }] }],
    ])
    await press('ArrowUp')
    await rested()
    expect(says()).toBe('')
    await press('ArrowDown')
    await press('Enter')
    expect(committed()![0]).toEqual({ value: { choice: 71 } })
  })

  it('says it of the option under the pointer, and of what is typed into a line', async () => {
    touching(false)
    answering({ [FOLLOWS]: ['1 mail goes to Tamsin Oake.'] })
    const list = await editing(grounds, {}, { sets_going: true })
    const option = document.querySelectorAll('[role=option]')[2]!
    option.dispatchEvent(new Event('mouseenter'))
    await rested()
    expect(says()).toBe('1 mail goes to Tamsin Oake.')
    option.dispatchEvent(new Event('mouseleave'))
    await settled()
    expect(says()).toBe('')
    list.shown.unmount()
    const line = await editing(text, {}, { sets_going: true })
    await line.type('A gate')
    await rested()
    expect(says()).toBe('1 mail goes to Tamsin Oake.')
    await line.press('Enter')
    expect(line.committed()).toEqual([{ text: 'A gate' }, 'down'])
  })

  it('is asked for nowhere else', async () => {
    touching(false)
    const asked = answering({ [FOLLOWS]: ['1 mail goes to Tamsin Oake.'] })
    const { type } = await editing(text)
    await type('A gate')
    await rested()
    const draft = await editing(text, { at: { tracker: 1, table: 3 } }, { sets_going: true })
    await draft.type('A gate')
    await rested()
    expect([says(), asked.length]).toEqual(['', 0])
  })

  it('waits for a second press where a finger picks, and is left by the other end', async () => {
    touching(true)
    answering({ [FOLLOWS]: ['1 mail goes to Tamsin Oake.'] })
    const { shown, committed } = await editing(grounds, {}, { sets_going: true })
    const option = () => document.querySelectorAll('[role=option]')[0]!
    const tap = async (at: Element) => {
      at.dispatchEvent(new MouseEvent('mousedown', { bubbles: true, cancelable: true }))
      ;(at as HTMLElement).click()
      await rested()
    }
    await tap(option())
    expect([says().includes('1 mail goes to Tamsin Oake.'), committed()]).toEqual([true, undefined])
    await tap(document.querySelector('[data-test=follows-leave]')!)
    expect([says(), committed(), shown.emitted('cancel')]).toEqual(['', undefined, undefined])
    await tap(option())
    await tap(document.querySelector('[data-test=follows-do]')!)
    expect(committed()).toEqual([{ value: { choice: 70 } }, 'stay'])
  })

  it('is picked at once by a finger where nothing follows', async () => {
    touching(true)
    answering({ [FOLLOWS]: [] })
    const { press, committed } = await editing(grounds, {}, { sets_going: true })
    await press('Enter')
    await rested()
    expect(committed()![0]).toEqual({ value: { choice: 70 } })
  })

  it('of what was emptied by a key it says it first', async () => {
    answering({ [FOLLOWS]: ['1 mail goes to Tamsin Oake.'] })
    const { shown, committed, press } = await editing(grounds, { hold: { value: 'empty' } }, { sets_going: true })
    await rested()
    expect(says()).toContain('1 mail goes to Tamsin Oake.')
    await press('Escape')
    expect(shown.emitted('cancel')).toHaveLength(1)
    expect(committed()).toBeUndefined()
  })
})
