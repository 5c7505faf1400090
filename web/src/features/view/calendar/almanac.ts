// An almanac as it is drawn: weeks as lines, what stands on a line side by side or one under the other. Pure.
import type { AlmanacMark } from '@/api/types'
import { daysFrom, plusDays, weekdayOf } from './dates'

/** A mark on the line of one week. */
export interface Placed {
  mark: AlmanacMark
  /** Columns of the week that it takes, from 0, the last one included. */
  from: number
  to: number
  /** How far down, from 0. */
  level: number
  /** Whether it begins before the week, and ends after it. */
  before: boolean
  behind: boolean
}

/** The first day of the week in which a day lies. @param first 1: Monday, 0: Sunday */
export const weekOf = (day: string, first = 1): string => plusDays(day, -((weekdayOf(day) - first + 7) % 7))

/** The first days of so many weeks, from the one in which a day lies. */
export const weeksFrom = (day: string, count: number, first = 1): string[] =>
  Array.from({ length: count }, (_, n) => plusDays(weekOf(day, first), 7 * n))

/** Puts the marks of a week one under the other where they would meet: those that take longer first, then as they come. */
export function placed(week: string, marks: readonly AlmanacMark[]): Placed[] {
  const end = plusDays(week, 6)
  const here = marks.filter((mark) => mark.start <= end && mark.end >= week)
  const length = (mark: AlmanacMark) => daysFrom(mark.start, mark.end)
  const inOrder = [...here].sort((a, b) => length(b) - length(a))
  const taken: boolean[][] = []
  return inOrder.map((mark) => {
    const from = Math.max(0, daysFrom(week, mark.start))
    const to = Math.min(6, daysFrom(week, mark.end))
    const free = (level: number) => !taken[level]?.slice(from, to + 1).some(Boolean)
    let level = 0
    while (!free(level)) level += 1
    taken[level] ??= Array.from({ length: 7 }, () => false)
    for (let column = from; column <= to; column++) taken[level]![column] = true
    return { mark, from, to, level, before: mark.start < week, behind: mark.end > end }
  })
}

/** Of each day of a week how many marks can’t be shown where only so many levels are. */
export function hidden(week: string, all: readonly Placed[], counts: ReadonlyMap<string, number>, levels: number): Map<string, number> {
  const more = new Map<string, number>()
  for (let column = 0; column < 7; column++) {
    const day = plusDays(week, column)
    const shown = all.filter((one) => one.level < levels && one.from <= column && column <= one.to).length
    const left = (counts.get(day) ?? 0) - shown
    if (left > 0) more.set(day, left)
  }
  return more
}
