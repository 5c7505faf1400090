// What may be answered to a message, between how it is chosen and how it is sent.
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Reply } from '@/api/types'
import { answering, choose, field, opened, put, settled, table } from '@/testing'
import { answeringOf, offered, replyOf, typedInto } from './answering'
import ReplyEditor from './ReplyEditor.vue'

const faults = table([
  field({ type: 'text', limit: 99 }, { id: 41, name: 'Title', within: 'title' }),
  field({ type: 'date' }, { id: 43, name: 'Due', within: 'due' }),
  field({ type: 'yes_no' } as never, { id: 44, name: 'Closed', within: 'closed' }),
])
const CHOICES: Reply = {
  answers: {
    choices: [
      { words: 'Yes', alter: [{ field: 43, to: 'now' }] },
      { words: 'No', alter: [] },
    ],
  },
  facts: [41],
  days: 4,
}
beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

describe('what may be answered', () => {
  it('is sent as it was read', () => {
    expect(replyOf(answeringOf(CHOICES, faults))).toEqual(CHOICES)
    const typed: Reply = { answers: { typed: { asks: 'When?', field: 43 } }, facts: [], days: 1 }
    expect(replyOf(answeringOf(typed, faults))).toEqual(typed)
  })

  it('begins with one choice and the first fields as facts', () => {
    const begun = answeringOf(null, faults)
    expect([begun.choices.length, begun.facts, begun.days]).toEqual([1, [41, 43, 44], '3'])
    expect(typedInto(faults).map((one) => one.id)).toEqual([41, 43])
  })

  it('is not sent while a choice says which field, but not what becomes of it', () => {
    const begun = answeringOf(CHOICES, faults)
    begun.choices[0]!.lines[0] = { ...begun.choices[0]!.lines[0]!, way: 'from' }
    expect(replyOf(begun)).toBeUndefined()
    expect(replyOf({ ...begun, choices: [offered()] })?.answers).toEqual({ choices: [{ words: '', alter: [] }] })
  })
})

it('its editor takes answers in and out, and shows what is wrong at its place', async () => {
  answering({})
  const problem = { at: (at: string) => (at === '/r/answers/choices/1/words' ? 'Two answers have the same words.' : undefined) } as never
  const shown = put(ReplyEditor, { props: { table: faults, reply: CHOICES, at: '/r', problem } }, opened({ tables: [faults] } as never))
  await settled()
  expect(shown.text()).toContain('Two answers have the same words.')
  await shown.get('[data-test=reply-another]').trigger('click')
  expect(shown.findAll('.choice')).toHaveLength(3)
  await shown.findAll('.choice')[2]!.get('.words .link').trigger('click')
  await shown.get('[data-test=reply-days]').setValue('9')
  expect((shown.emitted('typed')?.at(-1)?.[0] as Reply).days).toBe(9)
  await choose(shown, '[data-test=reply-how]', 'something that they write')
  expect((shown.emitted('typed')?.at(-1)?.[0] as Reply).answers).toEqual({ typed: { asks: '', field: 41 } })
})
