// What a numbering gives, before it is kept.
import type { NumberPart } from '@/api/types'

/** The number that a numbering would give next, as far as its pattern says. */
export function sampleNumber(parts: NumberPart[], today: Date): string {
  const part = (one: NumberPart) => {
    switch (one.part) {
      case 'fixed':
        return one.text
      case 'year':
        return String(today.getFullYear())
      case 'month':
        return String(today.getMonth() + 1).padStart(2, '0')
      case 'counter':
        return '1'.padStart(one.digits, '0')
    }
  }
  return parts.map(part).join('')
}
