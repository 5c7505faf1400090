import { expect, test } from 'vitest'
import { Problem } from '@/api/client'
import { pause, sleep, untilTaken } from './resend'

const busy = () => new Problem('Too much is going on.', 503, [], 3)

test('what is refused because too much is going on is sent again until it is taken', async () => {
  const waited: number[] = []
  let tries = 0
  const taken = await untilTaken(
    async () => {
      if (++tries < 4) throw busy()
      return 'taken'
    },
    async (seconds) => void waited.push(seconds),
  )
  expect(taken).toBe('taken')
  expect(tries).toBe(4)
  expect(waited).toHaveLength(3)
  expect(waited.every((seconds) => seconds >= 2 && seconds <= 20)).toBe(true)
})

test('a refusal with a reason is told at once', async () => {
  let tries = 0
  const sending = untilTaken(
    async () => {
      tries++
      throw new Problem('Name is missing.', 422)
    },
    async () => {},
  )
  await expect(sending).rejects.toThrow('Name is missing.')
  expect(tries).toBe(1)
})

test('it gives up after some minutes, with the words of the server', async () => {
  let tries = 0
  const sending = untilTaken(
    async () => {
      tries++
      throw busy()
    },
    async () => {},
  )
  await expect(sending).rejects.toThrow('Too much is going on.')
  expect(tries).toBe(12)
})

test('pauses grow, differ and end', () => {
  expect(pause(2, 0, 0.5)).toBeCloseTo(2)
  expect(pause(2, 3, 0.5)).toBeGreaterThan(pause(2, 1, 0.5))
  expect(pause(2, 40, 1)).toBeLessThanOrEqual(18.75)
  expect(pause(2, 2, 0)).toBeLessThan(pause(2, 2, 1))
})

test('a wait that is stopped ends with a plain word', async () => {
  const stopping = new AbortController()
  const waiting = sleep(60, stopping.signal)
  stopping.abort()
  await expect(waiting).rejects.toThrow('You stopped it.')
})
