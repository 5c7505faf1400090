import { describe, expect, it } from 'vitest'
import { measured } from './measured'

/** A column of entries taken to be 56 high, of which the second has been measured. */
const column = {
  indexFromElement: (element: Element) => Number((element as HTMLElement).dataset.index),
  options: { getItemKey: (place: number) => `k${place}`, estimateSize: () => 56 },
  itemSizeCache: new Map([['k1', 80]]),
} as never

function entry(place: number) {
  const element = document.createElement('div')
  element.dataset.index = String(place)
  // Whoever asks how high it is has the whole page laid out.
  Object.defineProperty(element, 'offsetHeight', { get: () => expect.fail('measured while it is drawn') })
  return element
}

describe('how high an entry of a column is', () => {
  it('tells the browser, to whole pixels', () => {
    const told = { borderBoxSize: [{ blockSize: 71.6, inlineSize: 200 }] } as unknown as ResizeObserverEntry
    expect(measured(entry(0), told, column)).toBe(72)
  })

  it('is what it was last, or is taken for, while it is being drawn: nothing is measured', () => {
    expect(measured(entry(1), undefined, column)).toBe(80)
    expect(measured(entry(0), undefined, column)).toBe(56)
  })
})
