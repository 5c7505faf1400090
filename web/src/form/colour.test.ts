import { expect, it } from 'vitest'
import { contrastWithWhite, readable } from './colour'

it('keeps a colour that can be read and darkens one that can not', () => {
  expect(readable('#4e5b1e')).toBe('#4e5b1e')
  for (const hex of ['#ffffff', '#ffff00', '#7fffd4', '#ff69b4', '#000000', '#a0a0a0']) {
    expect(contrastWithWhite(readable(hex))).toBeGreaterThanOrEqual(4.5)
  }
})
