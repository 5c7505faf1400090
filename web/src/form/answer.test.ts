import { describe, expect, it } from 'vitest'
import type { AnswerKind, QuestionView } from '@/api/types'
import { begun, blank, filesOf, inLine, input, inputs, linesOf, withoutFiles, type Answer } from './answer'

const options = [
  { id: 1, name: 'stone', hue: 'flint' },
  { id: 2, name: 'peat', hue: 'peat' },
]
const kinds = {
  text: { type: 'text', limit: 100 },
  choice: { type: 'choice', options },
  choices: { type: 'choices', options },
  yes: { type: 'yes' },
  rating: { type: 'rating', most: 5 },
  link: { type: 'link', many: true },
  range: { type: 'range' },
  place: { type: 'place' },
  files: { type: 'files' },
} as unknown as Record<string, AnswerKind>
const given = (over: Partial<Answer>): Answer => ({ ...blank(), ...over })
const question = (field: number, answer: AnswerKind, over: Partial<QuestionView> = {}) =>
  ({ field, label: `Question ${field}`, answer, required: false, ...over }) as QuestionView

describe('what is sent of an answer', () => {
  it.each<[string, Partial<Answer>, unknown]>([
    ['text', { text: '  Slab gone ' }, { text: 'Slab gone' }],
    ['text', { text: '   ' }, undefined],
    ['choice', { choice: 2 }, { value: { choice: 2 } }],
    // Its list has changed since it was chosen.
    ['choice', { choice: 9 }, undefined],
    ['choice', {}, undefined],
    ['choices', { choices: [2, 1] }, { value: { choices: [2, 1] } }],
    ['choices', {}, undefined],
    // No is an answer.
    ['yes', { yes: false }, { value: { logical: false } }],
    ['yes', {}, undefined],
    ['rating', { text: '4' }, { value: { number: '4' } }],
    ['link', { links: [{ id: 7, name: 'Hob Gate' }] }, { value: { links: [7] } }],
    ['range', { text: '2026-11-18' }, { value: { range: ['2026-11-18', '2026-11-18'] } }],
    ['range', { text: '2026-11-18', end: '2026-11-20' }, { value: { range: ['2026-11-18', '2026-11-20'] } }],
    ['range', { end: '2026-11-20' }, undefined],
    ['place', { text: 'Hob Gate', latitude: '54.1', longitude: '-2.4' }, { text: 'Hob Gate (54.1, -2.4)' }],
    ['place', { latitude: '54.1', longitude: '-2.4' }, { text: '(54.1, -2.4)' }],
    // Half a place is sent as it is, for the server to say what is missing.
    ['place', { text: 'Hob Gate', latitude: '54.1' }, { text: 'Hob Gate (54.1, )' }],
    ['place', { text: 'Hob Gate' }, { text: 'Hob Gate' }],
    ['files', { files: [new File([], 'a.png')] }, undefined],
  ])('of kind %s, %j, is %j', (kind, over, expected) => expect(input(kinds[kind]!, given(over))).toEqual(expected))

  it('leaves out questions that were not answered', () => {
    const asked = [question(1, kinds.text!), question(2, kinds.yes!), question(3, kinds.text!)]
    expect(inputs(asked, { 1: given({ text: 'a' }), 2: given({}), 9: given({ text: 'not asked' }) })).toEqual({ 1: { text: 'a' } })
  })
})

describe('what a question begins with', () => {
  const begins = (value: unknown, text = '', links?: unknown) => begun(question(1, kinds.text!, { given: { value, text, links } as never }))
  it('is nothing where nothing was set', () => expect(begun(question(1, kinds.text!))).toEqual(blank()))
  it.each<[unknown, Partial<Answer>]>([
    [{ choice: 2 }, { choice: 2 }],
    [{ choices: [1, 2] }, { choices: [1, 2] }],
    [{ logical: false }, { yes: false }],
    [{ range: ['2026-11-18', '2026-11-20'] }, { text: '2026-11-18', end: '2026-11-20' }],
    [{ place: { label: 'Hob Gate', latitude: '54.1', longitude: '-2.4' } }, { text: 'Hob Gate', latitude: '54.1', longitude: '-2.4' }],
  ])('takes %j apart', (value, expected) => expect(begins(value)).toMatchObject(expected))
  it('shows a number as people write it, and a link by its name', () => {
    expect(begins({ number: '1500' }, '1,500').text).toBe('1,500')
    expect(begins({ links: [7] }, '', [{ id: 7, name: 'Hob Gate' }]).links).toEqual([{ id: 7, name: 'Hob Gate' }])
  })
})

describe('lines', () => {
  const surface = question(10, kinds.choice!)
  const under = {
    type: 'choice',
    on: 10,
    options: [
      { ...options[0], id: 5, under: 1 },
      { ...options[1], id: 6, under: 2 },
    ],
  } as AnswerKind
  const lines = question(4, { type: 'lines', questions: [surface, question(11, under)] } as AnswerKind)

  it('offer in each line what goes with that line’s own answer', () => {
    const ids = (line: Record<number, Answer>) =>
      (inLine(question(11, under), line).answer as { options: { id: number }[] }).options.map((o) => o.id)
    expect(ids({ 10: given({ choice: 2 }) })).toEqual([6])
    expect(ids({})).toEqual([])
  })

  it('are sent one by one, without what does not go with the rest of its line', () => {
    const all = {
      4: given({
        lines: [
          { 10: given({ choice: 1 }), 11: given({ choice: 5 }) },
          { 10: given({ choice: 2 }), 11: given({ choice: 5 }) },
        ],
      }),
    }
    expect(linesOf([lines], all)).toEqual({
      4: [{ 10: { value: { choice: 1 } }, 11: { value: { choice: 5 } } }, { 10: { value: { choice: 2 } } }],
    })
    expect(linesOf([lines], { 4: given({}) })).toEqual({})
  })

  it('send files under the place of their line and question', () => {
    const asked = question(4, { type: 'lines', questions: [question(12, kinds.files!)] } as AnswerKind)
    const [a, b] = [new File([], 'a.png'), new File([], 'b.png')]
    const all = { 3: given({ files: [a] }), 4: given({ lines: [{}, { 12: given({ files: [b] }) }] }) }
    expect(filesOf([question(3, kinds.files!), asked], all)).toEqual([
      ['file-3', a],
      ['file-4-1-12', b],
    ])
    expect(JSON.stringify(withoutFiles(all))).not.toContain('png')
    expect(withoutFiles(all)[4]!.lines[1]![12]!.files).toEqual([])
  })
})
