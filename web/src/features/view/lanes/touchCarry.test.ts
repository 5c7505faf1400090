import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { useTouchCarry } from './touchCarry'

beforeEach(() => {
  vi.useFakeTimers()
  document.body.innerHTML = '<div id="board"><p id="one">one</p><button id="way">way</button></div>'
})
afterEach(() => {
  vi.useRealTimers()
  document.body.innerHTML = ''
})

async function board(lifts = true) {
  const told: string[] = []
  const scope = effectScope()
  const element = document.querySelector<HTMLElement>('#board')!
  const carry = scope.run(() =>
    useTouchCarry({
      board: ref(element),
      lift: () => (told.push('lift'), lifts),
      over: (_, y) => told.push(`over ${y}`),
      drop: () => told.push('drop'),
      leave: () => told.push('leave'),
    }),
  )!
  await nextTick()
  document.elementFromPoint = () => element
  const touch = (name: string, x = 0, y = 0, on = '#one') => {
    const event = new Event(name, { bubbles: true, cancelable: true }) as Event & { touches: unknown[] }
    event.touches = name === 'touchend' ? [] : [{ clientX: x, clientY: y }]
    document.querySelector(on)!.dispatchEvent(event)
    return event
  }
  return { told, carry, touch, scope }
}

describe('a finger', () => {
  it('that rests on something carries it, and puts it where it lets go; the page keeps still', async () => {
    const { told, touch, carry } = await board()
    touch('touchstart')
    vi.advanceTimersByTime(500)
    expect(carry.carrying.value).toBe(true)
    expect(touch('touchmove', 40, 80).defaultPrevented).toBe(true)
    touch('touchend')
    expect(told).toEqual(['lift', 'over 80', 'drop'])
    expect(carry.carrying.value).toBe(false)
  })

  it('that goes on at once scrolls, and one that presses a button presses it', async () => {
    const { told, touch } = await board()
    touch('touchstart')
    expect(touch('touchmove', 0, 40).defaultPrevented).toBe(false)
    vi.advanceTimersByTime(500)
    touch('touchend')
    touch('touchstart', 0, 0, '#way')
    vi.advanceTimersByTime(500)
    expect(told).toEqual([])
  })

  it('carries nothing that can’t be moved, and leaves what is cut short where it was', async () => {
    const still = await board(false)
    still.touch('touchstart')
    vi.advanceTimersByTime(500)
    still.touch('touchend')
    expect(still.told).toEqual(['lift'])
    still.scope.stop()
    const { told, touch } = await board()
    touch('touchstart')
    vi.advanceTimersByTime(500)
    touch('touchcancel')
    expect(told).toEqual(['lift', 'leave'])
  })
})
