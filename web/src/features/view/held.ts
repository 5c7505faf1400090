// Held by a finger: what a press does with a mouse's second button, where there is none.
import { onScopeDispose } from 'vue'

/** So long a finger rests on something that is held, in milliseconds. */
const LONG = 450
/** So far it may stray meanwhile, in CSS pixels: further is scrolling. */
const FAR = 10

export function useHeld<T>(does: (what: T) => void) {
  let timer: ReturnType<typeof setTimeout> | undefined
  let from = { x: 0, y: 0 }
  let done = false
  let finger = false

  const stop = () => clearTimeout(timer)
  function down(event: PointerEvent, what: T) {
    stop()
    done = false
    finger = event.pointerType === 'touch'
    if (!finger) return
    from = { x: event.clientX, y: event.clientY }
    timer = setTimeout(() => {
      done = true
      does(what)
    }, LONG)
  }
  function move(event: PointerEvent) {
    if (Math.hypot(event.clientX - from.x, event.clientY - from.y) > FAR) stop()
  }
  /** Whether the press that comes is but the end of holding. */
  function ended(): boolean {
    const was = done
    done = false
    return was
  }
  onScopeDispose(stop)
  return { down, move, stop, ended, byFinger: () => finger }
}
