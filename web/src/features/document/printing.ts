// Printing: what is asked of the server, and stopping it.
import { computed, ref } from 'vue'
import type { PrintBody } from '@/api/types'
import { useDownload } from '@/app/downloading'

/** What is being printed. */
export interface Printed {
  tracker: number
  document: number
  title: string
  /** How many sheets, where that is known. */
  count?: number
}

export function usePrinting() {
  const file = useDownload()
  const what = ref<Printed>()
  const now = computed(() => (file.busy.value ? what.value : undefined))

  function print(printed: Printed, body: PrintBody): Promise<boolean> {
    what.value = printed
    const address = `/api/trackers/${printed.tracker}/documents/${printed.document}/print`
    return file.get(address, body, `${printed.title}.${body.each ? 'zip' : 'pdf'}`)
  }
  return { now, trouble: file.trouble, print, stop: file.stop }
}
