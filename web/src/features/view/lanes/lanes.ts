// Lanes as they are drawn: one for each value, in their order, those put away beside them, and combs at one scale. Pure.
import type { Field, Group, LaneLimit, LanesShape, Value } from '@/api/types'
import { hueOfValue } from '@/features/cell/kinds'
import { headsOf, isSame, type Head } from '../layout'

export interface Lane {
  head: Head
  group: Group
  /** Of a choice: its colour. */
  hue: string | undefined
  limit: LaneLimit | undefined
  /** It takes little room: names alone. */
  narrow: boolean
}

export interface Lanes {
  shown: Lane[]
  /** Put away by hand: they take records. */
  away: Lane[]
  /** What is put there leaves the view. */
  outside: Lane[]
}

export function lanesOf(groups: readonly Group[], shape: LanesShape, field: Field | undefined): Lanes {
  const lanes = headsOf(groups)
    .filter((head) => head.path.length === 1)
    .map((head) => ({
      head,
      group: head.group,
      hue: hueOfValue(field, head.group.value),
      limit: shape.limits?.find((limit) => isSame(limit.lane, head.group.value)),
      narrow: !!shape.narrow?.some((value) => isSame(value, head.group.value)),
    }))
  const isAway = (lane: Lane) => !!shape.away?.some((value) => isSame(value, lane.group.value))
  // What lacks a value has a lane where there is such; if not, it is a place to put something.
  const isBare = (lane: Lane) => lane.group.value === 'empty' && !lane.group.count
  return {
    shown: lanes.filter((lane) => !isAway(lane) && !lane.group.outside && !isBare(lane)),
    away: lanes.filter((lane) => isAway(lane) || isBare(lane)),
    outside: lanes.filter((lane) => !isAway(lane) && !isBare(lane) && lane.group.outside),
  }
}

/** Most strokes that a comb has. */
const STROKES = 45
const STEPS = [1, 5, 10, 50, 100, 500, 1000, 5000, 10_000]

/** For how many records a stroke stands, so that the longest comb can be drawn. */
export function scaleOf(lanes: readonly Lane[]): number {
  const most = Math.max(0, ...lanes.map((lane) => lane.group.count))
  return STEPS.find((step) => most / step <= STROKES) ?? STEPS.at(-1)!
}

/** The strokes of a comb: those that have stood too long first, and those beyond the lane’s limit last. */
export function combOf(lane: Lane, per: number): { stuck: number; plain: number; over: number } {
  const strokes = (count: number) => Math.ceil(count / per)
  const { count } = lane.group
  const most = lane.limit?.most
  const over = most == null ? 0 : strokes(Math.max(0, count - most))
  const stuck = Math.min(strokes(lane.group.stuck ?? 0), strokes(count) - over)
  return { stuck, plain: strokes(count) - over - stuck, over }
}

/** The shape with a lane put away, or brought back. */
export function put(shape: LanesShape, value: Value, away: boolean): LanesShape {
  const others = (shape.away ?? []).filter((one) => !isSame(one, value))
  return { ...shape, away: away ? [...others, value] : others }
}

/** The shape with a lane drawn narrow, or wide again. */
export function narrowed(shape: LanesShape, value: Value, narrow: boolean): LanesShape {
  const others = (shape.narrow ?? []).filter((one) => !isSame(one, value))
  return { ...shape, narrow: narrow ? [...others, value] : others }
}

/** The lanes in sight with one of them so many places on; nothing where it can’t go there. */
export function reordered(lanes: readonly Lane[], value: Value, by: number): Value[] | undefined {
  const values = lanes.map((lane) => lane.group.value)
  const from = values.findIndex((one) => isSame(one, value))
  const to = from + by
  if (from < 0 || to < 0 || to >= values.length) return undefined
  const [moved] = values.splice(from, 1)
  values.splice(to, 0, moved!)
  return values
}

/** The shape with other limits for a lane; none: the lane has none. */
export function limited(shape: LanesShape, value: Value, limit: Omit<LaneLimit, 'lane'>): LanesShape {
  const others = (shape.limits ?? []).filter((one) => !isSame(one.lane, value))
  const some = limit.most != null || limit.days != null
  return { ...shape, limits: some ? [...others, { lane: value, ...limit }] : others }
}
