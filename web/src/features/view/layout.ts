// Which line of the screen is what: heads of groups and records, with groups closed or open. Pure.
import type { Group, Value } from '@/api/types'

export const isSame = (one: Value, other: Value): boolean => JSON.stringify(one) === JSON.stringify(other)

/** A group of a view, where it stands among the others. */
export interface Head {
  group: Group
  /** What it is remembered by while it is closed. */
  key: string
  /** It and those it stands in, the outermost first. */
  path: readonly Group[]
  /** The place of its first record in the view's order. */
  place: number
}

export type Line =
  | { type: 'group'; head: Head; closed: boolean }
  /** A record, by its place in the view's order, and the innermost group it is in. */
  | { type: 'row'; place: number; head: Head | undefined }

interface Block {
  /** The line of its head. */
  line: number
  head: Head
  /** Lines of the block: its head, and of an innermost group that is open its records. */
  lines: number
  closed: boolean
}

/** What a group is remembered by, among the groups it stands in. */
export const groupKey = (path: readonly Group[]): string => JSON.stringify(path.map((group) => group.value))

/** All groups in the order in which they stand, each behind the one it is in. */
export function headsOf(groups: readonly Group[], start = 0, above: readonly Group[] = []): Head[] {
  let place = start
  return groups.flatMap((group) => {
    const path = [...above, group]
    const head = { group, key: groupKey(path), path, place }
    place += group.count
    return [head, ...headsOf(group.within, head.place, path)]
  })
}

/** The lines of a view: with no groups, one for each record. */
export class Layout {
  readonly length: number
  private readonly blocks: Block[] = []

  constructor(
    private readonly groups: readonly Group[],
    rowCount: number,
    private readonly closed: ReadonlySet<string>,
  ) {
    let line = 0
    let within: readonly Group[] | undefined
    for (const head of headsOf(groups)) {
      // What stands in a closed group is not there.
      if (within && head.path.length > within.length && within.every((group, n) => group === head.path[n])) continue
      const closed = this.closed.has(head.key)
      within = closed ? head.path : undefined
      const lines = 1 + (closed || head.group.within.length ? 0 : head.group.count)
      this.blocks.push({ line, head, lines, closed })
      line += lines
    }
    this.length = groups.length ? line : rowCount
  }

  /** What stands at a line. */
  at(line: number): Line {
    if (!this.groups.length) return { type: 'row', place: line, head: undefined }
    const block = this.blocks[this.blockOf((one) => one.line <= line)]!
    if (line === block.line) return { type: 'group', head: block.head, closed: block.closed }
    return { type: 'row', place: block.head.place + line - block.line - 1, head: block.head }
  }

  /** The line of a record's place; none while its group is closed. */
  lineOf(place: number): number | undefined {
    if (!this.groups.length) return place
    const block = this.blocks[this.blockOf((one) => one.head.place <= place)]
    if (!block || block.lines === 1) return undefined
    return block.line + 1 + place - block.head.place
  }

  /** The line of the head of the group in which a record's place is. */
  headOf(place: number): number {
    return this.blocks[this.blockOf((one) => one.head.place <= place)]?.line ?? place
  }

  /** The line of a group's head; none where there is no such group. */
  lineOfGroup(key: string): number | undefined {
    return this.blocks.find((one) => one.head.key === key)?.line
  }

  /** The last block for which the test holds; the test holds for the first ones only. */
  private blockOf(holds: (block: Block) => boolean): number {
    let low = 0
    let high = this.blocks.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (holds(this.blocks[middle]!)) low = middle
      else high = middle - 1
    }
    return low
  }
}
