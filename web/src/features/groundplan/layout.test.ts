import { describe, expect, it } from 'vitest'
import type { Groundplan } from '@/api/types'
import { namesIn, pictureOf, type Spot } from './layout'

const plate = (id: number, column: number, place: number) => ({
  id,
  name: `T${id}`,
  heading: '',
  count: 0,
  week: 0,
  came: '',
  column,
  place,
  seen_by: [],
})
const plan: Groundplan = {
  tables: [plate(1, 0, 0), plate(2, 1, 0), plate(3, 1, 1), plate(4, 2, 0)],
  links: [
    { from: 1, to: 2, name: 'a' },
    { from: 1, to: 2, name: 'b' },
    { from: 3, to: 4, name: 'c' },
    { from: 4, to: 4, name: 'itself' },
  ],
  forms: [{ form: 9, title: 'F', table: 4, open: true, week: 0 }],
  automations: [{ automation: 8, name: 'A', table: 1, on: true, to: '' }],
  pages: [{ page: 7, title: 'P', tables: [4], open: true, to: '' }],
  says: '',
  ends: [],
  ends_say: '',
}

/** Points along a path of moves, curves and straight lines. */
function sampled(path: string): Spot[] {
  const points: Spot[] = []
  let at: Spot = { x: 0, y: 0 }
  for (const [, sort, rest] of path.matchAll(/([MCHV])([^MCHV]*)/g)) {
    const numbers = rest!.trim().split(/[ ,]+/).map(Number)
    const from = at
    const to: Spot =
      sort === 'H' ? { x: numbers[0]!, y: at.y } : sort === 'V' ? { x: at.x, y: numbers[0]! } : { x: numbers.at(-2)!, y: numbers.at(-1)! }
    for (let step = 0; step <= 40 && sort !== 'M'; step++) {
      const t = step / 40
      const u = 1 - t
      const along = (a: number, b: number, c: number, d: number) => u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d
      const [a, b, c, d] = numbers as [number, number, number, number]
      points.push(
        sort === 'C'
          ? { x: along(from.x, a, c, to.x), y: along(from.y, b, d, to.y) }
          : { x: from.x + t * (to.x - from.x), y: from.y + t * (to.y - from.y) },
      )
    }
    at = to
  }
  return points
}

describe('the picture of a tracker', () => {
  it('puts no two plates on one another and keeps columns in their order', () => {
    for (const room of [700, 1224, 2400]) {
      const picture = pictureOf(plan, room)
      const spots = [...picture.tables.values()]
      expect(new Set(spots.map((s) => `${s.x},${s.y}`)).size).toBe(spots.length)
      expect(picture.tables.get(1)!.x + picture.plate).toBeLessThan(picture.tables.get(2)!.x)
      expect(picture.tables.get(2)!.x).toBe(picture.tables.get(3)!.x)
      expect(Math.max(...spots.map((s) => s.x + picture.plate))).toBeLessThanOrEqual(picture.width)
    }
  })

  it('draws two links between the same tables apart, and none from a table to itself', () => {
    const { lines } = pictureOf(plan, 1224)
    expect(lines.filter((l) => l.name).map((l) => l.name)).toEqual(['a', 'b', 'c'])
    expect(new Set(lines.map((l) => l.path)).size).toBe(lines.length)
  })

  it('crosses no plate with a line, whatever lies between', () => {
    const link = (from: number, to: number) => ({ from, to, name: `${from}${to}` })
    const form = (id: number, at: number) => ({ form: id, title: 'F', table: at, open: true, week: 0 })
    const wide: Groundplan = {
      ...plan,
      tables: [plate(1, 0, 0), plate(2, 1, 0), plate(3, 1, 1), plate(4, 2, 0), plate(5, 3, 0), plate(6, 3, 1)],
      links: [link(1, 2), link(1, 3), link(2, 4), link(3, 4), link(3, 5), link(1, 6), link(1, 5), link(4, 5), link(4, 6)],
      forms: [form(21, 1), form(22, 3), form(23, 6)],
      automations: [{ automation: 8, name: 'A', table: 2, on: true, to: '' }, { automation: 9, name: 'B', table: 4, on: true, to: '' }], // prettier-ignore
    }
    wide.pages = [{ page: 7, title: 'P', tables: [3, 5], open: true, to: '' }]
    for (const room of [900, 1224, 2000]) {
      const picture = pictureOf(wide, room)
      for (const line of picture.lines) {
        const points = sampled(line.path)
        const ends = [points[0]!, points.at(-1)!]
        for (const [id, spot] of picture.tables) {
          // Inside, and not merely where it begins or ends at the plate's edge.
          const inside = ({ x, y }: Spot) => x > spot.x + 2 && x < spot.x + picture.plate - 2 && y > spot.y + 2 && y < spot.y + 60
          const own = ends.some(({ x, y }) => x >= spot.x - 1 && x <= spot.x + picture.plate + 1 && y >= spot.y - 1 && y <= spot.y + 90)
          expect(own || !points.some(inside), `${line.key} over ${id} at ${room}`).toBe(true)
        }
      }
    }
  })

  it('stands what goes out beneath each other: what automations write, then what pages show', () => {
    const picture = pictureOf(plan, 1224)
    const [automation, page] = [picture.automations.get(8)!, picture.pages.get(7)!]
    expect(page.x).toBe(automation.x)
    expect(page.y).toBeGreaterThan(automation.y)
    expect(picture.lines.map((l) => l.key)).toContain('p7-4')
  })

  it('gives each link that goes round a lane of its own', () => {
    const tables = [plate(1, 0, 0), plate(2, 1, 0), plate(3, 2, 0), plate(4, 0, 1), plate(5, 1, 1)]
    const links = [1, 4].map((from) => ({ from, to: 3, name: 'district' }))
    const named = pictureOf({ ...plan, tables, links, forms: [], automations: [], pages: [] }, 1224).lines.filter((l) => l.name)
    expect(Math.abs(named[0]!.at!.y - named[1]!.at!.y)).toBeGreaterThan(14)
  })

  it('takes the room there is', () => {
    expect(pictureOf(plan, 1224).width).toBeLessThanOrEqual(1224)
  })
})

describe('names written as a list', () => {
  it('are parted however one writes lists, each once', () => {
    expect(namesIn(' Boats, Berths;Skippers\n\nBoats ,')).toEqual(['Boats', 'Berths', 'Skippers'])
    expect(namesIn(' , ')).toEqual([])
  })
})
