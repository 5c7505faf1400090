// What is said, between how it is typed and how it is sent; and its small formatting. Pure.
import type { TalkPart } from '@/api/types'

/** Somebody, or a record, that was picked while one typed: what stands for it in the text, and what is sent. */
export interface Named {
  label: string
  part: TalkPart
}

/** What was typed, with what was picked in it as what it is. Where two labels begin alike the longer one is meant. */
export function partsOf(text: string, named: readonly Named[]): TalkPart[] {
  const labels = [...named].sort((a, b) => b.label.length - a.label.length)
  const parts: TalkPart[] = []
  let plain = ''
  for (let at = 0; at < text.length;) {
    const found = labels.find((one) => text.startsWith(one.label, at))
    if (found) {
      if (plain) parts.push({ text: plain })
      parts.push(found.part)
      plain = ''
      at += found.label.length
    } else plain += text[at++]
  }
  if (plain) parts.push({ text: plain })
  return parts
}

/** What was said as it is typed again, to be changed. */
export function typedOf(says: readonly { part: TalkPart; text: string }[]): { text: string; named: Named[] } {
  const named: Named[] = []
  const text = says.map(({ part, text }) => {
    if ('text' in part) return part.text
    const label = `${'record' in part ? '#' : '@'}${text}`
    named.push({ label, part })
    return label
  })
  return { text: text.join(''), named }
}

/** What is being typed at the caret that asks for a name: its sign, and what follows it. */
export function askedAt(text: string, caret: number): { sign: '@' | '#'; words: string; from: number } | undefined {
  const before = text.slice(0, caret)
  const found = /(?:^|[\s(])([@#])([^@#\n]{0,40})$/.exec(before)
  if (!found) return undefined
  const [, sign, words] = found
  return { sign: sign as '@' | '#', words: words!, from: caret - words!.length - 1 }
}

export interface Run {
  text: string
  look?: 'strong' | 'em' | 'code' | 'link'
}

const RUNS =
  /\*\*(?<strong>[^*\n]+)\*\*|(?<![\p{L}\d*])\*(?<em>[^*\s][^*\n]*)\*|`(?<code>[^`\n]+)`|(?<link>https?:\/\/[^\s<>"]*[^\s<>".,;:!?)])/gu

/** A text with its small formatting: **strong**, *soft*, `as it is`, and addresses. What is none of it stays as it was typed. */
export function runsOf(text: string): Run[] {
  const runs: Run[] = []
  let from = 0
  for (const found of text.matchAll(RUNS)) {
    if (found.index > from) runs.push({ text: text.slice(from, found.index) })
    const look = (['strong', 'em', 'code', 'link'] as const).find((one) => found.groups?.[one] !== undefined)!
    runs.push({ text: found.groups![look]!, look })
    from = found.index + found[0].length
  }
  if (from < text.length) runs.push({ text: text.slice(from) })
  return runs
}
