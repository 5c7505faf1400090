// Printing: what is asked of the server, and stopping it.
import { ref } from 'vue'
import { download, saying } from '@/api/client'
import type { PrintBody } from '@/api/types'

/** What is being printed. */
export interface Printed {
  tracker: number
  document: number
  title: string
  /** How many sheets, where that is known. */
  count?: number
}

export function usePrinting() {
  const now = ref<Printed>()
  const trouble = ref('')
  let stopping: AbortController | undefined

  /** What is no longer waited for is no longer set either. */
  function stop() {
    stopping?.abort()
    stopping = undefined
    now.value = undefined
  }
  async function print(what: Printed, body: PrintBody): Promise<boolean> {
    stop()
    trouble.value = ''
    const mine = (stopping = new AbortController())
    now.value = what
    const address = `/api/trackers/${what.tracker}/documents/${what.document}/print`
    try {
      await download(address, body, `${what.title}.${body.each ? 'zip' : 'pdf'}`, mine.signal)
      return true
    } catch (error) {
      if (!mine.signal.aborted) trouble.value = saying(error)
      return false
    } finally {
      if (stopping === mine) now.value = stopping = undefined
    }
  }
  return { now, trouble, print, stop }
}
