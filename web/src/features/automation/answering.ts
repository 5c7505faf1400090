// What may be answered to a message, between how it is chosen and how it is sent. Pure.
import type { Reply, Table } from '@/api/types'
import { altered, alterationOf, begun, type Alteration } from '@/features/bulk/altering'

/** Most choices of one message. */
export const MOST_CHOICES = 5
const TYPED = ['text', 'long_text', 'email', 'phone', 'number', 'money', 'percent', 'rating', 'duration', 'date']

/** One choice as it is edited. */
export interface Offered {
  words: string
  lines: Alteration[]
}

/** What may be answered, as it is edited. */
export interface Answering {
  how: 'choices' | 'typed'
  choices: Offered[]
  asks: string
  field: number | undefined
  facts: number[]
  days: string
}

export const offered = (): Offered => ({ words: '', lines: [begun()] })

/** The fields into which a typed answer can go. */
export const typedInto = (table: Table) => table.fields.filter((field) => field.writes && TYPED.includes(field.kind.type))

/** The fields that the page can show. */
export const shownOf = (table: Table) => table.fields.filter((field) => field.kind.type !== 'button' && field.kind.type !== 'files')

/** As it begins: a choice, and what tells a reader which record it is about. */
export function answeringOf(reply: Reply | null | undefined, table: Table): Answering {
  const begins: Answering = {
    how: 'choices',
    choices: [offered()],
    asks: '',
    field: typedInto(table)[0]?.id,
    facts: shownOf(table)
      .slice(0, 4)
      .map((field) => field.id),
    days: '3',
  }
  if (!reply) return begins
  const { answers, facts, days } = reply
  const rest = { ...begins, facts: facts ?? [], days: String(days) }
  if ('typed' in answers) return { ...rest, how: 'typed', ...answers.typed }
  const choices = answers.choices.map(({ words, alter }) => ({ words, lines: alter.length ? alter.map(alterationOf) : [begun()] }))
  return { ...rest, choices }
}

/** Whether a line is begun and says too little. */
const half = (line: Alteration) => line.field !== undefined && altered(line) === undefined

/** As it is sent; nothing while a choice says what it changes, but not to what. */
export function replyOf({ how, choices, asks, field, facts, days }: Answering): Reply | undefined {
  const rest = { facts, days: Math.max(0, Math.trunc(Number(days)) || 0) }
  if (how === 'typed') return { answers: { typed: { asks, field: field ?? 0 } }, ...rest }
  if (choices.some(({ lines }) => lines.some(half))) return undefined
  const sent = choices.map(({ words, lines }) => ({ words, alter: lines.flatMap((line) => altered(line) ?? []) }))
  return { answers: { choices: sent }, ...rest }
}
