import { describe, expect, it } from 'vitest'
import type { CommentTold, TrailEntry } from '@/api/types'
import { threads, timeline, unread } from './timeline'

const said = (id: number, at: string, over: Partial<CommentTold> = {}) =>
  ({ id, at, at_text: at, by: 1, who: 'Nadia', mine: false, gone: false, to_me: false, says: [], ...over }) as CommentTold
const done = (seq: number, at: string) => ({ seq, at, edits: [] }) as unknown as TrailEntry

const comments = [
  said(1, '2026-11-24T08:00:00Z'),
  said(2, '2026-11-24T09:00:00Z', { answers: 1 }),
  said(3, '2026-11-25T08:00:00Z', { mine: true }),
  said(4, '2026-11-26T08:00:00Z', { answers: 1 }),
]
const trail = [done(9, '2026-11-25T12:00:00Z'), done(5, '2026-11-23T12:00:00Z')]

describe('the line of time', () => {
  it('holds what was said and done, latest first; a talk stands where it was last spoken of', () => {
    expect(timeline(trail, comments, 'all').map((one) => one.key)).toEqual(['said 1', 'done 9', 'said 3', 'done 5'])
  })

  it('shows one sort alone', () => {
    expect(timeline(trail, comments, 'said').map((one) => one.key)).toEqual(['said 1', 'said 3'])
    expect(timeline(trail, comments, 'done').map((one) => one.key)).toEqual(['done 9', 'done 5'])
  })

  it('puts answers under what they answer, in the order in which they came', () => {
    expect(threads(comments).map((one) => [one.comment.id, one.answers.map((answer) => answer.id)])).toEqual([
      [1, [2, 4]],
      [3, []],
    ])
  })
})

describe('what is new', () => {
  it('was said by others behind the last that one has read', () => {
    expect([...unread(comments, 1)]).toEqual([2, 4])
    expect([...unread(comments, undefined)]).toEqual([1, 2, 4])
    expect([...unread([said(5, '2026-11-27T08:00:00Z', { gone: true })], 4)]).toEqual([])
  })
})
