/** Lines that somebody pasted, as a file: read, guessed and rehearsed like any other. */
export function fileOf(lines: string): File | undefined {
  const text = lines.trim()
  return text ? new File([`${text}\n`], 'what you wrote.txt', { type: 'text/plain' }) : undefined
}
