// Waiting for something that takes a while: it is asked by a name how far it has come, and by that name it is stopped.
import { useIntervalFn } from '@vueuse/core'
import { ref } from 'vue'
import { api } from '@/api/client'
import type { HowFar } from '@/api/types'

/** How often it is asked, in milliseconds. */
const OFTEN = 400

export function useAwaiting() {
  /** How far it has come: of nothing, while it waits for its turn. Not known at first. */
  const far = ref<HowFar>()
  let name = ''
  const asking = useIntervalFn(
    async () => {
      const asked = name
      const { data } = await api.GET('/api/awaited/{name}', { params: { path: { name: asked } } })
      if (data && asked === name) far.value = data
    },
    OFTEN,
    { immediate: false },
  )

  /** Waits for what is sent with this name. */
  async function awaiting<T>(sends: (awaited: string) => Promise<T>): Promise<T> {
    far.value = undefined
    const mine = (name = crypto.randomUUID())
    asking.resume()
    try {
      return await sends(mine)
    } finally {
      if (mine === name) {
        asking.pause()
        far.value = undefined
        name = ''
      }
    }
  }

  /** Stops it, where it is not done yet: what was sent answers that. */
  async function stop() {
    if (name) await api.DELETE('/api/awaited/{name}', { params: { path: { name } } })
  }
  return { far, awaiting, stop }
}
