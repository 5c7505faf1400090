// Lines of hours as they are drawn: from when to when, and strokes that would meet one under the other. Pure.
import type { DayHours, HourStroke, Thread } from '@/api/types'

/** Minutes to which what is carried snaps. */
export const STEP = 15
const HOUR = 60

/** The minutes that are drawn: the hours of work, and as far beyond them as something reaches. */
export function span(days: readonly DayHours[], working: { from: number; to: number }): { from: number; to: number } {
  const timed = days.flatMap((day) => day.threads.flatMap((thread) => thread.strokes.filter(isTimed)))
  const from = Math.min(working.from * HOUR, ...timed.map((stroke) => stroke.from))
  const to = Math.max(working.to * HOUR, ...timed.map((stroke) => Math.max(stroke.to, stroke.from + HOUR)))
  return { from: Math.floor(from / HOUR) * HOUR, to: Math.min(24 * HOUR, Math.ceil(to / HOUR) * HOUR) }
}

export const isTimed = (stroke: HourStroke) => stroke.length === 'timed' || stroke.length === 'moment'
/** Whole hours between two minutes, both ends included. */
export const hoursOf = ({ from, to }: { from: number; to: number }): number[] =>
  Array.from({ length: (to - from) / HOUR + 1 }, (_, n) => from + n * HOUR)
/** `9:30`. */
export const clock = (minutes: number): string => `${Math.floor(minutes / HOUR)}:${String(minutes % HOUR).padStart(2, '0')}`
export const snap = (minutes: number): number => Math.round(minutes / STEP) * STEP
export const within = (minutes: number, { from, to }: { from: number; to: number }): number =>
  Math.max(from, Math.min(to - STEP, snap(minutes)))

/** A stroke with how far down it lies, from 0. */
export interface Laid {
  stroke: HourStroke
  level: number
}

/** Puts strokes one under the other where they would meet. @param room how many minutes one takes at least */
export function laid(strokes: readonly HourStroke[], room: (stroke: HourStroke) => number): { all: Laid[]; levels: number } {
  const ends: number[] = []
  const all = strokes.map((stroke) => {
    const end = Math.max(stroke.to, stroke.from + room(stroke))
    let level = ends.findIndex((taken) => taken <= stroke.from)
    if (level < 0) level = ends.push(0) - 1
    ends[level] = end
    return { stroke, level }
  })
  return { all, levels: Math.max(1, ends.length) }
}

/** Those of a day’s lines on which something stands. */
export const isOut = (thread: Thread): boolean => thread.strokes.length > 0
export const keyOf = (stroke: HourStroke): string => `${stroke.date ?? 'beneath'} ${stroke.record}`
