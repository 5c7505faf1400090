// Carrying records to another lane, group or place: what it would do is told before it is kept, and it is one step.
import { computed, shallowRef } from 'vue'
import { api, saying, told } from '@/api/client'
import type { Field, GroupBy, MoveRehearsal, Query, Spot, Table, Value } from '@/api/types'
import { type CellEdit, useEdits } from '@/features/cell/edits'
import { grouping, isTaken } from './adding'
import { isSame } from './layout'
import type { Shown } from './window'

export interface Moving {
  at: () => { tracker: number; table: Table; view: number | undefined }
  query: () => Query
  window: () => Shown
  trouble: (words: string) => void
}

/** The values of the lane, or of the groups, that records stand in, the outermost first; what is not there differs among them. */
export type Standing = readonly (Value | undefined)[]

/** Somewhere that records can be put. */
export interface Target {
  key: string
  /** What they have there in common. What is not there stays as it is. */
  to: Standing
  /** The place in the view's own order. */
  spot?: Spot
}

/** Where records are carried to, and what that would do. */
export interface Carried {
  records: number[]
  /** Where they come from, as it is seen when they are lifted. */
  from: Standing
  target: Target | undefined
  told: MoveRehearsal | undefined
  /** Why it can’t be. */
  refused: string
}

export function useMoving({ at, query, window, trouble }: Moving) {
  const edits = useEdits()
  const carried = shallowRef<Carried>()
  const path = () => ({ tracker: at().tracker, table: at().table.id })
  const fieldOf = (by: GroupBy): Field | undefined => at().table.fields.find((field) => field.id === by.field)

  /** The levels at which records change by being put somewhere. */
  function changing(from: Standing, { to }: Target): { by: GroupBy; was: Value | undefined; value: Value }[] {
    return grouping(query()).flatMap((by, level) => {
      const [was, value] = [from[level], to[level]]
      return value === undefined || (was !== undefined && isSame(was, value)) ? [] : [{ by, was, value }]
    })
  }
  const editsOf = (from: Standing, target: Target): CellEdit[] =>
    changing(from, target).map(({ by, was, value }) => ({ field: by.field, input: { value }, was }))

  /** Why records can't be put somewhere, where that is known before it is asked. */
  function refusal(from: Standing, target: Target): string {
    const stiff = changing(from, target).find(({ by }) => !isTaken(by, at().table))
    if (stiff) {
      const field = fieldOf(stiff.by)
      if (field?.refusal) return field.refusal
      return `They stand together by runs of ${field?.within}. Change the ${field?.within} itself.`
    }
    const order = window().answer.value?.ordering
    return (target.spot && !changing(from, target).length && order?.refusal) || ''
  }

  function lift(records: number[], from: Standing) {
    carried.value = { records, from, target: undefined, told: undefined, refused: '' }
  }

  function rehearse(records: number[], target: Target): Promise<MoveRehearsal> {
    const asked = editsOf([], target).map((edit) => ({ ...edit, was: null }))
    const body = { query: query(), view: at().view ?? null, spot: target.spot ?? null, records, edits: asked }
    return told(api.POST('/api/trackers/{tracker}/tables/{table}/records/rehearsal', { params: { path: path() }, body }))
  }

  /** A place that nobody can be put to by hand is no place; the lane or group still is. */
  function open(target: Target): Target {
    return window().answer.value?.ordering.refusal ? { ...target, spot: undefined } : target
  }

  /** Over a place: what it would do is asked once, as long as one stays there. */
  async function over(wanted: Target) {
    const now = carried.value
    if (!now || now.target?.key === wanted.key) return
    const refused = refusal(now.from, wanted)
    const changes = changing(now.from, wanted).length > 0
    const target = changes ? open(wanted) : wanted
    const here = { ...now, target, refused, told: changes || refused ? undefined : { says: [] } }
    carried.value = here
    if (refused || !changes) return
    try {
      const answer = await rehearse(now.records, target)
      if (carried.value === here) carried.value = { ...here, told: answer }
    } catch (error) {
      if (carried.value === here) carried.value = { ...here, told: { says: [saying(error)] } }
    }
  }

  const leave = () => (carried.value = undefined)

  /** Puts them there; whether it could be.
   *
   * @param from as they were seen: who moved one of them meanwhile is not overruled unheard */
  async function put(records: number[], wanted: Target, from: Standing): Promise<boolean> {
    leave()
    const refused = refusal(from, wanted)
    if (refused) trouble(refused)
    if (refused) return false
    const changes = editsOf(from, wanted)
    const { spot } = changes.length ? open(wanted) : wanted
    const { tracker, view } = at()
    try {
      if (spot && view !== undefined) await edits.place({ tracker, view }, records, spot, changes)
      else if (records.length === 1) await edits.editCells({ ...path(), record: records[0]! }, changes)
      else if (changes.length) await edits.editSeveral(path(), records, changes)
      trouble('')
      return true
    } catch (error) {
      trouble(saying(error))
      return false
    } finally {
      await window().refresh()
    }
  }

  async function drop() {
    const now = carried.value
    if (!now?.target) return leave()
    await put(now.records, now.target, now.from)
  }

  return { carried: computed(() => carried.value), lift, over, leave, drop, put, rehearse }
}
