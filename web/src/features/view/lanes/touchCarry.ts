// Carrying by a finger: held still for a moment on an entry, it goes along with the finger and is put where that lets go.
import { onScopeDispose, ref, watch, type Ref } from 'vue'

interface Options {
  board: Ref<HTMLElement | undefined>
  /** Takes up what is under the finger; whether there is something that can be carried. */
  lift: (under: Element) => boolean
  /** It is over this now. */
  over: (under: Element, y: number) => void
  drop: () => void
  leave: () => void
}

/** So long a finger rests before it carries, in ms; and so far it may tremble, in pixels. */
const REST = 380
const TREMBLE = 9
/** So near to an edge of what scrolls, it scrolls on: pixels, and pixels a step. */
const EDGE = 44
const ON = 14

export function useTouchCarry({ board, lift, over, drop, leave }: Options) {
  const carrying = ref(false)
  let timer: ReturnType<typeof setTimeout> | undefined
  let from: { x: number; y: number } | undefined
  let scrolling: ReturnType<typeof setInterval> | undefined

  const under = (touch: Touch) => document.elementFromPoint(touch.clientX, touch.clientY)
  function rest(event: TouchEvent) {
    const touch = event.touches[0]
    if (!touch || event.touches.length > 1) return end()
    from = { x: touch.clientX, y: touch.clientY }
    const target = event.target as Element
    if (target.closest('button, input, textarea, [contenteditable]')) return
    timer = setTimeout(() => {
      carrying.value = lift(target)
      if (carrying.value) navigator.vibrate?.(12)
    }, REST)
  }
  function go(event: TouchEvent) {
    const touch = event.touches[0]
    if (!touch || !from) return
    if (!carrying.value) {
      if (Math.hypot(touch.clientX - from.x, touch.clientY - from.y) > TREMBLE) clearTimeout(timer)
      return
    }
    // The page stays where it is while something is carried.
    if (event.cancelable) event.preventDefault()
    const here = under(touch)
    if (here) over(here, touch.clientY)
    scrollAt(touch)
  }
  /** What scrolls goes on while the finger is at its edge. */
  function scrollAt(touch: Touch) {
    clearInterval(scrolling)
    const sheet = under(touch)?.closest<HTMLElement>('[data-column]')
    const row = board.value?.querySelector<HTMLElement>('[data-lanes-row]')
    const down = sheet && edge(touch.clientY, sheet.getBoundingClientRect().top, sheet.getBoundingClientRect().bottom)
    const aside = row && edge(touch.clientX, row.getBoundingClientRect().left, row.getBoundingClientRect().right)
    if (!down && !aside) return
    scrolling = setInterval(() => {
      if (down) sheet?.scrollBy(0, down * ON)
      if (aside) row?.scrollBy(aside * ON, 0)
    }, 30)
  }
  const edge = (at: number, start: number, end: number) => (at < start + EDGE ? -1 : at > end - EDGE ? 1 : 0)

  function end(event?: TouchEvent) {
    clearTimeout(timer)
    clearInterval(scrolling)
    from = undefined
    if (!carrying.value) return
    carrying.value = false
    if (event?.type === 'touchend') drop()
    else leave()
    event?.preventDefault()
  }
  // A page that listens passively could not keep still.
  function listen(element: HTMLElement | undefined, before: HTMLElement | undefined) {
    for (const [name, does] of [
      ['touchstart', rest],
      ['touchmove', go],
      ['touchend', end],
      ['touchcancel', end],
    ] as const) {
      before?.removeEventListener(name, does)
      element?.addEventListener(name, does, { passive: name === 'touchstart' })
    }
  }
  watch(board, listen, { immediate: true, flush: 'post' })
  onScopeDispose(() => {
    listen(undefined, board.value)
    clearTimeout(timer)
    clearInterval(scrolling)
  })
  return { carrying }
}
