// Where what opens at a cell stands: over the cell or under it, and always whole within the window.
import { onBeforeUnmount, onMounted, type Ref } from 'vue'

/** A box in the window, in CSS pixels from its left upper corner. */
export interface Box {
  left: number
  top: number
  width: number
  height: number
}
export interface Size {
  width: number
  height: number
}
/** `over`: in place of what is there, growing down, or up where there is no room; `under`: beneath it, or above where there is no room. */
export type Place = 'over' | 'under'

/** Room left between a popup and the window's edge. */
const EDGE = 8

/** The left upper corner of a popup of some size at an anchor. */
export function placed(anchor: Box, size: Size, view: Size, place: Place): { left: number; top: number } {
  const bottom = anchor.top + anchor.height
  const down = place === 'over' ? anchor.top : bottom
  const up = (place === 'over' ? bottom : anchor.top) - size.height
  const fitsDown = down + size.height <= view.height - EDGE
  const top = fitsDown || up < EDGE ? down : up
  return { left: inSight(anchor.left, size.width, view.width), top: inSight(top, size.height, view.height) }
}

/** Moved as little as shows it whole; of what is larger than the window, its beginning. */
function inSight(at: number, size: number, room: number): number {
  return Math.max(EDGE, Math.min(at, room - EDGE - size))
}

/** Keeps a popup at its anchor while either moves or changes its size. */
export function useAnchored(popup: Ref<HTMLElement | undefined>, anchor: () => HTMLElement | undefined, place: () => Place) {
  function put() {
    const [box, at] = [popup.value, anchor()?.getBoundingClientRect()]
    if (!box || !at) return
    box.style.minWidth = `${at.width}px`
    const { left, top } = placed(
      at,
      { width: box.offsetWidth, height: box.offsetHeight },
      { width: window.innerWidth, height: window.innerHeight },
      place(),
    )
    box.style.left = `${left}px`
    box.style.top = `${top}px`
  }
  const sizes = new ResizeObserver(put)
  onMounted(() => {
    popup.value?.showPopover()
    put()
    if (popup.value) sizes.observe(popup.value)
    const at = anchor()
    if (at) sizes.observe(at)
    window.addEventListener('resize', put)
    // Whatever scrolls takes the anchor along.
    window.addEventListener('scroll', put, { capture: true, passive: true })
  })
  onBeforeUnmount(() => {
    sizes.disconnect()
    window.removeEventListener('resize', put)
    window.removeEventListener('scroll', put, { capture: true })
  })
}
