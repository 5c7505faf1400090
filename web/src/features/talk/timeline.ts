// What happened to a record and what was said about it, in one line of time. Pure.
import type { CommentTold, TrailEntry } from '@/api/types'

/** What of it is shown. */
export type Showing = 'all' | 'said' | 'done'

export interface Said {
  comment: CommentTold
  answers: CommentTold[]
}

export type Happening = { sort: 'said'; key: string; at: number; said: Said } | { sort: 'done'; key: string; at: number; entry: TrailEntry }

/** Comments with what answers them, in the order in which they were said. */
export function threads(comments: readonly CommentTold[]): Said[] {
  const heads = comments.filter((one) => !one.answers)
  return heads.map((comment) => ({ comment, answers: comments.filter((one) => one.answers === comment.id) }))
}

/** What one field was, and who made it so: of each change only what it did to that. */
export const ofField = (trail: readonly TrailEntry[], field: number): TrailEntry[] =>
  trail.map((entry) => ({ ...entry, edits: entry.edits.filter((edit) => edit.field === field) })).filter((entry) => entry.edits.length)

/** What somebody did with a record, behind their name: *pressed “Ask”*, *changed Status and Due*. */
export function whatOf(entry: TrailEntry): string {
  if (entry.undoes) return 'took a step back'
  if (entry.what === 'answered') return `answered ${entry.answered ?? ''}`.trim()
  if (entry.what === 'pressed') return `pressed “${entry.pressed}”`
  const names = entry.edits.map((edit) => edit.name)
  return {
    added: 'added it',
    changed: `changed ${names.length > 2 ? `${names.length} fields` : names.join(' and ')}`,
    removed: 'put it into the bin',
    restored: 'brought it back',
  }[entry.what]
}

/** All of it, latest first: what was said stands where it was last spoken of. */
export function timeline(trail: readonly TrailEntry[], comments: readonly CommentTold[], showing: Showing): Happening[] {
  const said = threads(comments).map((one): Happening => ({
    sort: 'said',
    key: `said ${one.comment.id}`,
    at: Date.parse((one.answers.at(-1) ?? one.comment).at),
    said: one,
  }))
  const done = trail.map((entry): Happening => ({ sort: 'done', key: `done ${entry.seq}`, at: Date.parse(entry.at), entry }))
  const shown = [...(showing === 'done' ? [] : said), ...(showing === 'said' ? [] : done)]
  return shown.sort((a, b) => b.at - a.at)
}

/** Those that one has not read: said by others since. */
export const unread = (comments: readonly CommentTold[], read: number | undefined) =>
  new Set(comments.filter((one) => !one.mine && !one.gone && one.id > (read ?? 0)).map((one) => one.id))
