// How high what is drawn in a long column is, as the browser tells it once it has laid the column out. Measured while it is drawn,
// each of a hundred entries would have the whole page laid out again: a quarter of a second before lanes stood there.
import type { Virtualizer } from '@tanstack/vue-virtual'

/** @param told what the browser tells of it; nothing while it is being drawn: as it was told last stands, or what it is taken for */
export function measured(element: Element, told: ResizeObserverEntry | undefined, column: Virtualizer<HTMLElement, Element>): number {
  const box = told?.borderBoxSize[0]
  if (box) return Math.round(box.blockSize)
  const place = column.indexFromElement(element)
  return column.itemSizeCache.get(column.options.getItemKey(place)) ?? column.options.estimateSize(place)
}
