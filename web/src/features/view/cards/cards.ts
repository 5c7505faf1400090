// Cards as they lie on the page: so many across, under the heads of their groups. Pure.
import type { Group } from '@/api/types'
import { headsOf, type Head } from '../layout'

export type CardsLine =
  | { type: 'head'; head: Head }
  /** Cards side by side: so many from a place of the view’s order on. */
  | { type: 'cards'; place: number; count: number; head: Head | undefined }

/** The lines of a catalogue. */
export class Catalogue {
  readonly length: number
  private readonly blocks: { line: number; place: number; count: number; head: Head | undefined; heads: number }[] = []

  constructor(
    groups: readonly Group[],
    rowCount: number,
    private readonly across: number,
  ) {
    let line = 0
    const heads: (Head | undefined)[] = groups.length ? headsOf(groups) : [undefined]
    for (const head of heads) {
      const count = !head ? rowCount : head.group.within.length ? 0 : head.group.count
      const block = { line, place: head?.place ?? 0, count, head, heads: head ? 1 : 0 }
      this.blocks.push(block)
      line += block.heads + Math.ceil(count / across)
    }
    this.length = line
  }

  at(line: number): CardsLine {
    const block = this.blocks.findLast((one) => one.line <= line)!
    if (block.head && line === block.line) return { type: 'head', head: block.head }
    const from = (line - block.line - block.heads) * this.across
    return { type: 'cards', place: block.place + from, count: Math.min(this.across, block.count - from), head: block.head }
  }

  /** The line in which a place of the view’s order lies. */
  lineOf(place: number): number | undefined {
    const block = this.blocks.findLast((one) => one.count && one.place <= place && place < one.place + one.count)
    return block && block.line + block.heads + Math.floor((place - block.place) / this.across)
  }

  /** The place under or over one, as far along; it stays where there is none. */
  beside(place: number, down: number): number {
    const line = this.lineOf(place)
    if (line === undefined) return place
    const here = this.at(line)
    const along = here.type === 'cards' ? place - here.place : 0
    for (let to = line + Math.sign(down); to >= 0 && to < this.length; to += Math.sign(down)) {
      const next = this.at(to)
      if (next.type === 'cards') return next.place + Math.min(along, next.count - 1)
    }
    return place
  }
}

/** The narrowest that a card is, in CSS pixels. */
export const WIDTHS = { small: 170, middle: 232, large: 340 }

/** How many cards lie side by side. */
export const acrossOf = (room: number, size: keyof typeof WIDTHS): number => Math.max(1, Math.floor((room + 24) / (WIDTHS[size] + 24)))

/** A landscape of contours for a record without a picture: the same for the same record. */
export function contours(record: number): string[] {
  let seed = record * 2654435761
  const next = () => {
    seed = (seed ^ (seed << 13)) >>> 0
    seed = (seed ^ (seed >>> 17)) >>> 0
    seed = (seed ^ (seed << 5)) >>> 0
    return seed / 4294967296
  }
  const [x, y, turn] = [30 + next() * 100, 20 + next() * 60, next() * 3]
  return Array.from({ length: 7 }, (_, ring) => {
    const radius = 7 + ring * 11
    const points = Array.from({ length: 41 }, (_, n) => {
      const angle = (n / 40) * Math.PI * 2
      const far = radius * (1 + 0.25 * Math.sin(angle * 2 + turn) + 0.12 * Math.sin(angle * 3 + turn * ring))
      return `${(x + far * 1.4 * Math.cos(angle)).toFixed(1)} ${(y + far * 0.8 * Math.sin(angle)).toFixed(1)}`
    })
    return `M${points.join('L')}`
  })
}
