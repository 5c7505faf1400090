import { expect, it } from 'vitest'
import { fileOf } from './pasted'

it('lines that were pasted become a file as they are, and nothing becomes none', async () => {
  expect(await fileOf('  Gate, oak\nStile, larch  ')!.text()).toBe('Gate, oak\nStile, larch\n')
  expect(fileOf(' \n ')).toBeUndefined()
})
