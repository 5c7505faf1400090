import { describe, expect, it } from 'vitest'
import { staying } from './stays'

describe('the fields that stay in sight', () => {
  it.each([
    ['through what names a record', [100, 300, 200], 1, 1200, [0, 100]],
    ['the first alone, where none names it', [100, 300, 200], -1, 1200, [0]],
    ['as many as leave room', [100, 300, 200], 1, 700, [0]],
    ['none on a narrow list', [180, 300], 1, 360, []],
    ['none where there are no fields', [], -1, 1200, []],
  ])('are %s', (_, widths, named, room, stay) => expect(staying(widths, named, room)).toEqual(stay))

  it('are as many as somebody says, while others still have room', () => {
    expect(staying([100, 300, 200], 1, 1200, 3)).toEqual([0, 100, 400])
    expect(staying([100, 300, 200], 1, 1200, 0)).toEqual([])
    expect(staying([100, 300, 200], 1, 600, 3)).toEqual([0, 100])
  })
})
