import { describe, expect, it } from 'vitest'
import type { Groundplan } from '@/api/types'
import { pictureOf, namesIn } from './layout'

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
  says: '',
  ends: [],
  ends_say: '',
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
