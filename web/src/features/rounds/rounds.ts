// Rounds as they are shown and gone on with. Pure, but for the steps at the end.
import { api, told } from '@/api/client'
import type { Duty, RoundsView, TaskStep } from '@/api/types'
import type { useEdits } from '@/features/cell/edits'

/** Beyond so many days a ray grows no longer: only the words count. */
export const RAY_DAYS = 28

/** How long a ray is, as a share of the longest. */
export const ray = (late: number) => Math.min(late, RAY_DAYS) / RAY_DAYS

/** What a duty is known by, while the list is read again. */
export const keyOf = (duty: Duty) => (duty.task != null ? `task ${duty.task}` : `${duty.tracker} ${duty.table} ${duty.record}`)

/** Where it is opened; nothing where it is about no record. */
export function addressOf({ tracker, table, record }: Duty) {
  if (tracker == null || table == null || record == null) return undefined
  return { name: 'record', params: { tracker, table, record } }
}

/** Whether its day can be another. */
export const canMove = (duty: Duty) => !duty.done && (duty.task != null || duty.moves != null)
/** Whether it can be somebody else’s. */
export const canGive = (duty: Duty) => !duty.done && (duty.task != null || duty.gives != null)

/** The days to which something is moved, each with how full it is. */
export interface Target {
  day: string
  title: string
  about: string
  full: string
}

/** Today and the free and filled days that come, of which there are at most so many. */
export function targets(view: RoundsView, most = 6): Target[] {
  const days = view.diary.sections.filter((section) => section.sort === 'today' || section.sort === 'day')
  return days.slice(0, most).map((section) => ({
    day: section.day ?? view.diary.today,
    title: section.title,
    about: section.about,
    full: fullness(section.duties),
  }))
}

/** How full a day is, in words: comparing that is what one moves by. */
export function fullness(duties: Duty[]): string {
  const left = duties.filter((duty) => !duty.done)
  const [first] = left
  if (!first) return 'nothing yet'
  return left.length === 1 ? first.name : `${left.length} things, ${first.name} first`
}

type Edits = ReturnType<typeof useEdits>
const stepped = (task: number, body: TaskStep) => told(api.POST('/api/tasks/{task}', { params: { path: { task } }, body }))
const placeOf = (duty: Duty) => ({ tracker: duty.tracker!, table: duty.table!, record: duty.record! })

/** Does a thing: a task is done, or the field that says so gets its value. */
export async function finish(duty: Duty, edits: Edits) {
  if (duty.task != null) await stepped(duty.task, 'done')
  else if (duty.does) await edits.edit(placeOf(duty), duty.does.field, { value: duty.does.value }, duty.does.was)
}

/** Not done after all. */
export async function unfinish(duty: Duty, edits: Edits) {
  if (duty.task != null) await stepped(duty.task, 'undone')
  else await edits.undo()
}

/** Sets it down on another day, or on none. */
export async function move(duty: Duty, day: string | undefined, edits: Edits) {
  if (duty.task != null) await stepped(duty.task, { move: day ?? null })
  else if (duty.moves != null) await edits.edit(placeOf(duty), duty.moves, { value: day ? { date: day } : 'empty' }, undefined)
}

/** Makes it somebody else’s. */
export async function give(duty: Duty, person: number, edits: Edits) {
  if (duty.task != null) await stepped(duty.task, { give: person })
  else if (duty.gives != null) await edits.edit(placeOf(duty), duty.gives, { value: { person } }, undefined)
}
