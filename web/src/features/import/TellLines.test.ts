import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Said } from '@/api/types'
import { answering, changes, put, settled } from '@/testing'
import TellLines from './TellLines.vue'

afterEach(() => {
  vi.unstubAllGlobals()
  document.body.innerHTML = ''
})

const text = { field: { kind: { type: 'text', limit: 500 } } }
const paths: Said = { column: 1, becomes: { table: { name: 'Texts', one: 'text', single: true } } }
const reply = (rejected: object[] = [], refused: object[] = []) => ({
  told: {
    plan: { into: { new: { name: 'Posts', one: 'post' } } },
    pieces: [
      { column: 0, name: 'Name', words: 'text', known: false },
      { column: 1, name: 'Text', words: 'text', asks: 'a', known: false },
    ],
    lines: [
      ['WP-1', 'Hob Gate'],
      ['WP-2', ''],
    ],
    records: 9,
    questions: [
      {
        letter: 'a',
        words: '“Hob Gate” comes again: has it facts of its own?',
        answers: [
          { words: 'no', said: { column: 1, becomes: text }, holds: true },
          { words: 'yes', said: paths, holds: false },
        ],
      },
    ],
    says: ['9 posts with 2 fields.'],
    names: [],
  },
  rehearsal: { title: '9 records are added', says: [], rejected },
  refused,
})
const TELL = 'POST /api/trackers/1/told'

async function telling(over: object = reply(), one = 'post') {
  const asked = answering({ [TELL]: over })
  const shown = put(TellLines, { props: { tracker: 1, one } })
  const rest = async () => {
    await new Promise((done) => setTimeout(done, 300))
    await settled()
  }
  await shown.get('[data-test=told-lines]').setValue('WP-1, Hob Gate')
  await rest()
  const bodies = () => changes(asked).map((one) => one.body as { said: Said[]; make: boolean; lines: string })
  return { shown, rest, bodies }
}

describe('lines that are told', () => {
  it('say beneath each piece what it was taken for, and what they come to', async () => {
    const { shown } = await telling()
    const pieces = shown.findAll('.piece').map((one) => [one.findAll('.text').map((t) => t.text()), one.get('.words').text()])
    expect(pieces).toEqual([
      [['WP-1', 'WP-2'], 'text'],
      [['Hob Gate', '–'], 'text see a'],
    ])
    expect(shown.get('[data-test=gloss]').text()).toContain('and 7 more')
    expect(shown.get('.says').text()).toBe('9 posts with 2 fields.')
    expect(shown.get('[data-test=rehearsal]').text()).toContain('9 records are added')
  })

  it('are read anew with what was answered and how a piece was called, each said once', async () => {
    const { shown, rest, bodies } = await telling()
    await shown.findAll('[data-question=a] button')[1]!.trigger('click')
    await shown.findAll<HTMLInputElement>('input.name')[1]!.setValue('Path')
    await rest()
    expect(bodies().at(-1)).toMatchObject({ make: false, said: [{ ...paths, name: 'Path' }] })
    await shown.findAll('[data-question=a] button')[0]!.trigger('click')
    await rest()
    expect(bodies().at(-1)!.said).toEqual([{ column: 1, name: 'Path', becomes: text }])
  })

  it('are made by the button and by keys, and never before one says what one of them is', async () => {
    const { shown, bodies } = await telling({ ...reply(), done: { seq: 2, made: 7 } })
    await shown.get('[data-test=told-lines]').trigger('keydown', { key: 'Enter', ctrlKey: true })
    await settled()
    expect(bodies().at(-1)!.make).toBe(true)
    expect(shown.emitted('made')).toEqual([[{ seq: 2, made: 7 }]])
    document.body.innerHTML = ''
    const unnamed = await telling(reply(), ' ')
    expect(unnamed.shown.get('[data-test=do-it]').attributes('disabled')).toBeDefined()
    expect(unnamed.shown.text()).toContain('Say first what one of them is.')
  })

  it('name what would be refused, and why nothing can be made', async () => {
    const rejected = [{ row: 2, column: 'Date', value: 'soon', why: '“soon” is no date.' }]
    const { shown } = await telling(reply(rejected))
    expect(shown.get('[data-test=told-refused]').text()).toBe('Line 2, Date: “soon” is no date.')
    document.body.innerHTML = ''
    const other = await telling(reply([], [{ pointer: '', message: 'A table is called “Posts” already.' }]))
    expect(other.shown.get('[data-test=rehearsal-trouble]').text()).toContain('A table is called')
    expect(other.shown.get('[data-test=do-it]').attributes('disabled')).toBeDefined()
  })
})
