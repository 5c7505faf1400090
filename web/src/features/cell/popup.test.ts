import { describe, expect, it } from 'vitest'
import { placed } from './popup'

const view = { width: 1280, height: 800 }
const cell = { left: 300, top: 200, width: 140, height: 33 }

describe('where a popup of a cell stands', () => {
  it('takes the place of its cell where there is room', () => {
    expect(placed(cell, { width: 220, height: 300 }, view, 'over')).toEqual({ left: 300, top: 200 })
    expect(placed(cell, { width: 220, height: 60 }, view, 'under')).toEqual({ left: 300, top: 233 })
  })
  it('grows upwards at the foot of the window', () => {
    const low = { ...cell, top: 740 }
    expect(placed(low, { width: 220, height: 300 }, view, 'over')).toEqual({ left: 300, top: 473 })
    expect(placed(low, { width: 220, height: 60 }, view, 'under')).toEqual({ left: 300, top: 680 })
  })
  it('is whole within the window, whatever its anchor is', () => {
    for (const left of [-500, 0, 640, 1270, 3000]) {
      for (const top of [-500, 0, 400, 790, 3000]) {
        for (const place of ['over', 'under'] as const) {
          const at = placed({ ...cell, left, top }, { width: 320, height: 400 }, view, place)
          expect(at.left).toBeGreaterThanOrEqual(8)
          expect(at.top).toBeGreaterThanOrEqual(8)
          expect(at.left + 320).toBeLessThanOrEqual(1272)
          expect(at.top + 400).toBeLessThanOrEqual(792)
        }
      }
    }
  })
  it('shows the beginning of what is larger than the window', () => {
    expect(placed(cell, { width: 500, height: 900 }, { width: 390, height: 600 }, 'over')).toEqual({ left: 8, top: 8 })
  })
})
