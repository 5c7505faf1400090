import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'
import { useHeld } from './held'

beforeEach(() => vi.useFakeTimers())
afterEach(() => vi.useRealTimers())

const at = (x: number, y: number, pointerType = 'touch') => ({ clientX: x, clientY: y, pointerType }) as PointerEvent

function holding() {
  const does = vi.fn<(what: number) => void>()
  return { does, held: effectScope().run(() => useHeld(does))! }
}

describe('something that a finger rests on', () => {
  it('is held after a while, and the press that follows is but its end', () => {
    const { does, held } = holding()
    held.down(at(10, 10), 7)
    held.move(at(13, 12))
    vi.advanceTimersByTime(400)
    expect(does).not.toHaveBeenCalled()
    vi.advanceTimersByTime(100)
    expect(does).toHaveBeenCalledExactlyOnceWith(7)
    expect([held.ended(), held.ended()]).toEqual([true, false])
  })

  it.each([
    ['it is scrolled', (held: ReturnType<typeof holding>['held']) => held.move(at(10, 40))],
    ['the finger is lifted', (held: ReturnType<typeof holding>['held']) => held.stop()],
    ['another is touched', (held: ReturnType<typeof holding>['held']) => held.down(at(10, 10, 'mouse'), 8)],
  ])('is not where %s', (_, happens) => {
    const { does, held } = holding()
    held.down(at(10, 10), 7)
    vi.advanceTimersByTime(200)
    happens(held)
    vi.advanceTimersByTime(1000)
    expect(does).not.toHaveBeenCalled()
    expect(held.ended()).toBe(false)
  })

  it('is not by a mouse, which has its own ways', () => {
    const { does, held } = holding()
    held.down(at(10, 10, 'mouse'), 7)
    vi.advanceTimersByTime(1000)
    expect(does).not.toHaveBeenCalled()
    expect(held.byFinger()).toBe(false)
  })
})
