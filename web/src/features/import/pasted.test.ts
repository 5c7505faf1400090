import { describe, expect, it } from 'vitest'
import { fileOf, usePasted } from './pasted'

describe('lines that were pasted', () => {
  it('become a file as they are, and nothing becomes none', async () => {
    expect(await fileOf('  Gate, oak\nStile, larch  ')!.text()).toBe('Gate, oak\nStile, larch\n')
    expect(fileOf(' \n ')).toBeUndefined()
  })

  it('are taken once', () => {
    const { put, take } = usePasted()
    put('Gate')
    expect(take()?.name).toBe('what you wrote.txt')
    expect(take()).toBeUndefined()
  })
})
