// People as they are typed or pasted, a line each: a name, an address, what they do, in any order and however they are parted.
import type { Newcomer } from '@/api/types'

const MAIL = /[^\s<>,;()"]+@[^\s<>,;()"]+\.[^\s<>,;()"]+/

/** Somebody from one line: *Kester Lowe, kester@walkers.example, mends walls*, or as a mail program writes it. */
function newcomer(line: string): Newcomer {
  const mail = MAIL.exec(line)?.[0] ?? ''
  const pieces = line
    .replace(mail, mail ? '\t' : '')
    .split(/[\t,;<>]+/)
    .map((piece) => piece.replace(/^["'()\s]+|["'()\s]+$/g, ''))
    .filter(Boolean)
  const [name = '', ...about] = pieces
  // An address alone says a name too, as a rule.
  return { name: name || called(mail), mail, about: about.join(', ') }
}

/** *kester.lowe@…* is Kester Lowe. */
function called(mail: string): string {
  const words = mail.split('@')[0]!.split(/[._-]+/)
  return words
    .filter((word) => /\p{L}/u.test(word))
    .map((word) => word[0]!.toUpperCase() + word.slice(1))
    .join(' ')
}

/** Everybody of a text, a line each; lines that say nothing are none. */
export function newcomers(text: string): Newcomer[] {
  return text
    .split(/\r?\n/)
    .map((line) => line.trim())
    .filter(Boolean)
    .map(newcomer)
}

/** A line for each record that has a name and an address: each address once, and none that is known. */
export function linesOf(rows: readonly (string | undefined)[][], known: readonly string[]): string[] {
  const seen = new Set(known.map((mail) => mail.toLowerCase()))
  return rows.flatMap(([name, mail]) => {
    const address = mail?.trim().toLowerCase()
    if (!address || seen.has(address)) return []
    seen.add(address)
    return [`${(name ?? '').replace(/[\s,;<>]+/g, ' ').trim()}, ${mail!.trim()}`]
  })
}
