// While more is going on than the server can take it says so at once; a form then waits and sends again by itself.
import { Problem } from '@/api/client'

/** How often it is sent at most: about two minutes of waiting. */
const MOST = 12
/** Most seconds between two tries. */
const LONGEST = 15

/** Seconds until a next try: as long as the server asks for, longer each time, and not the same for everybody. */
export function pause(asked: number, tries: number, chance: number): number {
  return Math.min(LONGEST, asked * 1.4 ** tries) * (0.75 + chance / 2)
}

/** Ends early, with a refusal, where it is stopped. */
export function sleep(seconds: number, stop: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const stopped = () => {
      clearTimeout(timer)
      reject(new Problem('You stopped it. Whether it was sent before is not sure; sent again, it counts once.', -1))
    }
    const timer = setTimeout(() => {
      stop.removeEventListener('abort', stopped)
      resolve()
    }, seconds * 1_000)
    stop.addEventListener('abort', stopped, { once: true })
  })
}

/** Sends until it is taken or refused for a reason; the key must be the same each time, so that it counts once. */
export async function untilTaken<T>(attempt: () => Promise<T>, wait: (seconds: number) => Promise<void>): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await attempt()
    } catch (error) {
      const busy = error instanceof Problem && error.status === 503
      if (!busy || tries + 1 >= MOST) throw error
      await wait(pause(error.again ?? 2, tries, Math.random()))
    }
  }
}
