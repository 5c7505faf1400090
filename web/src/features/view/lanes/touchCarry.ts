// Carrying by a finger: held still for a moment on an entry, it goes along with the finger and is put where that lets go.
import { onScopeDispose, ref, watch, type Ref } from 'vue'
import { edgeScroll } from '../edgeScroll'

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

export function useTouchCarry({ board, lift, over, drop, leave }: Options) {
  const carrying = ref(false)
  let timer: ReturnType<typeof setTimeout> | undefined
  let from: { x: number; y: number } | undefined
  const scrolling = edgeScroll()

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
  const scrollAt = (touch: Touch) =>
    scrolling.hold(touch.clientX, touch.clientY, under(touch)?.closest('[data-column]'), board.value?.querySelector('[data-lanes-row]'))

  function end(event?: TouchEvent) {
    clearTimeout(timer)
    scrolling.stop()
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
    scrolling.stop()
  })
  return { carrying }
}
