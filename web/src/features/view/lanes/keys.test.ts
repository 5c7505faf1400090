import { expect, it, vi } from 'vitest'
import { boardKey } from './keys'

function board(isAtOne = true, next = true) {
  const names = ['step', 'sideways', 'shift', 'begin', 'clear', 'choose', 'open', 'why', 'menu', 'leave'] as const
  const did = Object.fromEntries(names.map((name) => [name, vi.fn<(by?: unknown) => void>()])) as Record<
    (typeof names)[number],
    ReturnType<typeof vi.fn<(by?: unknown) => void>>
  >
  const field = vi.fn(() => next)
  const press = (key: string, init: KeyboardEventInit = {}) =>
    boardKey(new KeyboardEvent('keydown', { key, ...init }), { ...did, field, isAtOne: () => isAtOne })
  return { did, field, press }
}

it('arrows go from record to record, and with Alt and Shift take one along', () => {
  const { did, press } = board()
  expect([press('ArrowDown'), press('PageUp'), press('ArrowRight')]).toEqual([true, true, true])
  expect(did.step.mock.calls).toEqual([[1], [-8]])
  expect(did.sideways).toHaveBeenCalledWith(1)
  expect(press('ArrowLeft', { altKey: true, shiftKey: true })).toBe(true)
  expect(did.shift).toHaveBeenCalledWith(-1)
  // What else takes Alt is the page's.
  expect(press('ArrowDown', { altKey: true })).toBe(false)
})

it('Tab leaves where there is no further field, as it should', () => {
  expect(board(true, true).press('Tab')).toBe(true)
  expect(board(true, false).press('Tab')).toBe(false)
  expect(board(false).press('Tab')).toBe(false)
})

it('a letter replaces what one is at, and means nothing where one is nowhere', () => {
  const { did, press } = board()
  press('g')
  expect(did.begin).toHaveBeenCalledWith('g')
  expect(board(false).press('g')).toBe(false)
  expect(press('Enter', { ctrlKey: true })).toBe(true)
  expect(did.open).toHaveBeenCalled()
  expect(press(' ', { ctrlKey: true }) && press('.', { ctrlKey: true })).toBe(true)
  expect([did.choose.mock.calls.length, did.why.mock.calls.length]).toEqual([1, 1])
})
