// Which line of the screen is what: heads of groups and records, with groups closed or open. Pure.
import type { Group } from '@/api/types'

export type Line =
  | { type: 'group'; group: Group; index: number; closed: boolean }
  /** A record, by its place in the view's order. */
  | { type: 'row'; place: number; group: number | undefined }

interface Block {
  /** The first line of the block. */
  line: number
  /** The place of its first record in the view's order. */
  place: number
  /** Lines of the block, its head included. */
  lines: number
}

/** The lines of a view: with no groups, one for each record. */
export class Layout {
  readonly length: number
  private readonly blocks: Block[] = []

  constructor(
    private readonly groups: Group[],
    rowCount: number,
    private readonly closed: ReadonlySet<string>,
  ) {
    let line = 0
    let place = 0
    for (const group of groups) {
      const lines = 1 + (closed.has(groupKey(group)) ? 0 : group.count)
      this.blocks.push({ line, place, lines })
      line += lines
      place += group.count
    }
    this.length = groups.length ? line : rowCount
  }

  /** What stands at a line. */
  at(line: number): Line {
    if (!this.groups.length) return { type: 'row', place: line, group: undefined }
    const index = this.blockOf((block) => block.line <= line)
    const block = this.blocks[index]!
    const group = this.groups[index]!
    if (line === block.line) return { type: 'group', group, index, closed: this.closed.has(groupKey(group)) }
    return { type: 'row', place: block.place + line - block.line - 1, group: index }
  }

  /** The line of a record's place; none while its group is closed. */
  lineOf(place: number): number | undefined {
    if (!this.groups.length) return place
    const block = this.blocks[this.blockOf((b) => b.place <= place)]
    if (!block || block.lines === 1) return undefined
    return block.line + 1 + place - block.place
  }

  /** The line of the head of the group in which a record's place is. */
  headOf(place: number): number {
    return this.blocks[this.blockOf((block) => block.place <= place)]?.line ?? place
  }

  /** The line of a group's head; none where there is no such group. */
  lineOfGroup(key: string): number | undefined {
    const index = this.groups.findIndex((group) => groupKey(group) === key)
    return this.blocks[index]?.line
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

/** What a group is remembered by while it is closed. */
export function groupKey(group: Group): string {
  return JSON.stringify(group.values)
}
