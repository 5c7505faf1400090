import { describe, expect, it } from 'vitest'
import { usePicked } from './picked'

const of = (table: number) => usePicked(() => ({ tracker: 1, table }))

describe('records that are chosen', () => {
  it('are the same in every view and shape of their table, and none of another', () => {
    const rows = of(3)
    rows.clear()
    rows.turn([7, 5])
    const lanes = of(3)
    expect(lanes.list.value).toEqual([5, 7])
    expect(of(4).list.value).toEqual([])
    lanes.turn([7])
    expect(rows.list.value).toEqual([5])
  })

  it('are taken up together, and let go of together once all of them are', () => {
    const picked = of(3)
    picked.clear()
    picked.turn([1, 2])
    picked.turn([2, 3])
    expect(picked.list.value).toEqual([1, 2, 3])
    picked.turn([1, 2, 3])
    expect(picked.list.value).toEqual([])
  })

  it('are of one table at a time: those of the last are let go', () => {
    of(3).clear()
    of(3).turn([1])
    of(4).turn([9])
    expect(of(3).list.value).toEqual([])
    expect(of(4).holds(9)).toBe(true)
  })

  it('are turned by Ctrl with a press or with space, and by neither alone', () => {
    const picked = of(3)
    picked.clear()
    expect(picked.pressed(new MouseEvent('click', { ctrlKey: true }), 4)).toBe(true)
    expect(picked.pressed(new MouseEvent('click'), 4)).toBe(false)
    expect(picked.key(new KeyboardEvent('keydown', { key: ' ', ctrlKey: true }), 8)).toBe(true)
    expect(picked.key(new KeyboardEvent('keydown', { key: ' ' }), 8)).toBe(false)
    expect(picked.key(new KeyboardEvent('keydown', { key: ' ', ctrlKey: true }), undefined)).toBe(false)
    expect(picked.list.value).toEqual([4, 8])
  })
})
