// Asking for a file that takes a while: whether it is being made, what went wrong, and stopping it.
import { onScopeDispose, ref } from 'vue'
import { download, saying } from '@/api/client'

export function useDownload() {
  const busy = ref(false)
  const trouble = ref('')
  let stopping: AbortController | undefined

  /** What is no longer waited for is no longer made either. */
  function stop() {
    stopping?.abort()
    stopping = undefined
    busy.value = false
  }
  /** Whether it came. */
  async function get(address: string, body: unknown, name: string): Promise<boolean> {
    stop()
    trouble.value = ''
    const mine = (stopping = new AbortController())
    busy.value = true
    try {
      await download(address, body, name, mine.signal)
      return true
    } catch (error) {
      if (!mine.signal.aborted) trouble.value = saying(error)
      return false
    } finally {
      if (stopping === mine) stop()
    }
  }
  onScopeDispose(stop)
  return { busy, trouble, get, stop }
}
