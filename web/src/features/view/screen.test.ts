import { beforeEach, expect, it } from 'vitest'
import { nextTick, ref } from 'vue'
import { NARROWEST, useScreen, WIDEST } from './screen'

beforeEach(() => localStorage.clear())

it('what a screen holds is of one view, and stays', async () => {
  const of = ref('1/3/100')
  const screen = useScreen(of)
  screen.widen(41, 222.4)
  screen.fold('a')
  expect(screen.widths.value).toEqual({ 41: 222 })
  of.value = '1/3/101'
  expect([screen.widths.value, screen.closed.value.size]).toEqual([{}, 0])
  of.value = '1/3/100'
  await nextTick()
  expect(useScreen(of).closed.value).toEqual(new Set(['a']))
})

it('a field is never drawn too narrow to be found again, nor wider than a screen', () => {
  const screen = useScreen(ref('1/3/100'))
  screen.widen(41, 1)
  screen.widen(42, 9999)
  expect(screen.widths.value).toEqual({ 41: NARROWEST, 42: WIDEST })
})

it('groups are closed and opened one by one, or all', () => {
  const screen = useScreen(ref('1/3/100'))
  screen.fold('a')
  screen.fold('a')
  expect(screen.closed.value.size).toBe(0)
  screen.foldAll(['a', 'b'])
  screen.fold('a', true)
  expect(screen.closed.value).toEqual(new Set(['b', 'a']))
})
