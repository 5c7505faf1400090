// Printing: what is asked of the server, and stopping it.
import { computed, ref } from 'vue'
import type { PrintBody } from '@/api/types'
import { useDownload } from '@/app/downloading'

/** What is being printed. */
export interface Printed {
  tracker: number
  /** Which document, or of which table as its records are laid out. */
  as: { document: number } | { table: number }
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
    const as = 'document' in printed.as ? `documents/${printed.as.document}` : `tables/${printed.as.table}`
    return file.get(`/api/trackers/${printed.tracker}/${as}/print`, body, `${printed.title}.${body.each ? 'zip' : 'pdf'}`)
  }
  return { now, trouble: file.trouble, print, stop: file.stop }
}
