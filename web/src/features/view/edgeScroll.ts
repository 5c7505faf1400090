// What is carried or pulled to an edge of what scrolls makes that scroll on, for as long as it is held there.
/** So near to an edge, in pixels; and so far a step. */
const EDGE = 40
const ON = 14
/** Steps, in ms. */
const STEP = 30

/** How much a point lies at either end: -1, 0 or 1. */
const edge = (at: number, start: number, end: number) => (at < start + EDGE ? -1 : at > end - EDGE ? 1 : 0)

export function edgeScroll() {
  let timer: ReturnType<typeof setInterval> | undefined
  function stop() {
    clearInterval(timer)
    timer = undefined
  }
  /**
   * Held at a point: each of these scrolls along one of its ways.
   *
   * @param then what is done anew after each step: something else lies under the point
   */
  function hold(x: number, y: number, down: Element | null | undefined, aside: Element | null | undefined, then?: () => void) {
    stop()
    const [box, row] = [down?.getBoundingClientRect(), aside?.getBoundingClientRect()]
    const [by, over] = [box ? edge(y, box.top, box.bottom) : 0, row ? edge(x, row.left, row.right) : 0]
    if (!by && !over) return
    timer = setInterval(() => {
      if (by) down!.scrollBy(0, by * ON)
      if (over) aside!.scrollBy(over * ON, 0)
      then?.()
    }, STEP)
  }
  return { hold, stop }
}
