// Lines that somebody wrote or pasted elsewhere, on their way to the import.
import { ref } from 'vue'

const waiting = ref<File>()

/** Lines as a file: read, guessed and rehearsed like any other. */
export function fileOf(lines: string): File | undefined {
  const text = lines.trim()
  return text ? new File([`${text}\n`], 'what you wrote.txt', { type: 'text/plain' }) : undefined
}

export const usePasted = () => ({
  put: (lines: string) => (waiting.value = fileOf(lines)),
  /** What waits, once. */
  take(): File | undefined {
    const file = waiting.value
    waiting.value = undefined
    return file
  },
})
