import { describe, expect, it } from 'vitest'
import type { Group } from '@/api/types'
import { acrossOf, Catalogue, contours } from './cards'

const group = (text: string, count: number, within: Group[] = []): Group => ({
  value: { text },
  text,
  count,
  counted: `${count} sections`,
  tallies: [],
  within,
})

describe('a catalogue', () => {
  it('lies so many across, and a group begins a line of its own', () => {
    const cards = new Catalogue([group('Eskermoor', 5), group('Ninestone', 1)], 6, 2)
    expect(cards.length).toBe(6)
    expect(cards.at(0)).toMatchObject({ type: 'head', head: { group: { text: 'Eskermoor' } } })
    expect(cards.at(3)).toMatchObject({ type: 'cards', place: 4, count: 1 })
    expect(cards.at(5)).toMatchObject({ type: 'cards', place: 5, count: 1 })
    for (let place = 0; place < 6; place++) {
      const line = cards.at(cards.lineOf(place)!)
      expect(line.type === 'cards' && line.place <= place && place < line.place + line.count).toBe(true)
    }
  })

  it('has the cards of the innermost groups alone, and none of an empty one', () => {
    const inner = [group('stone', 0), group('gravel', 3)]
    const cards = new Catalogue([group('Eskermoor', 3, inner)], 3, 4)
    expect(Array.from({ length: cards.length }, (_, line) => cards.at(line).type)).toEqual(['head', 'head', 'head', 'cards'])
    expect(cards.lineOf(2)).toBe(3)
  })

  it('is walked up and down over the heads of groups, as far along as one is', () => {
    const cards = new Catalogue([group('Eskermoor', 5), group('Ninestone', 2)], 7, 3)
    expect(cards.beside(1, 1)).toBe(4)
    expect(cards.beside(2, 1)).toBe(4)
    expect(cards.beside(4, 1)).toBe(6)
    expect(cards.beside(6, -1)).toBe(4)
    expect(cards.beside(0, -1)).toBe(0)
    expect(cards.beside(6, 1)).toBe(6)
  })

  it('takes as many across as there is room for, and one where there is little', () => {
    expect(acrossOf(1240, 'middle')).toBe(4)
    expect(acrossOf(1240, 'small')).toBeGreaterThan(4)
    expect(acrossOf(120, 'large')).toBe(1)
  })

  it('draws the same contours for the same record', () => {
    expect(contours(7)).toEqual(contours(7))
    expect(contours(7)).not.toEqual(contours(8))
  })
})
