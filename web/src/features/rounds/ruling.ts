// What a table says of its records for rounds, between how it is chosen and how it is sent. Pure.
import type { Rounds, Table, Tracker } from '@/api/types'
import { dayFields } from '@/features/automation/occasions'
import { recipients } from '@/features/automation/recipients'

/** The fields of persons, those along links too, by whom a record can be somebody’s. */
export const whose = (tracker: Tracker, table: Table) =>
  recipients(tracker, table)
    .filter((one) => one.field.shows.type !== 'email')
    .map((one) => ({ value: one.key, title: one.name }))

/** The choices whose later options can be the more urgent ones. */
export const choiceFields = (table: Table) => table.fields.filter((field) => field.kind.type === 'choice')
/** The days into which *done* can put the day. */
const putDays = (table: Table) => table.fields.filter((field) => field.kind.type === 'date' || field.kind.type === 'date_time')

type Finish = Rounds['done']

/** What can mean done, by a key of its own. */
export function finishes(table: Table): { value: string; title: string; finish: Finish }[] {
  const choices = choiceFields(table).map((field) => {
    const options = 'options' in field.kind ? field.kind.options : []
    const last = options.at(-1)
    return {
      value: `options ${field.id}`,
      title: `${field.within} is …`,
      finish: { options: { field: field.id, any: last ? [last.id] : [] } } as Finish,
    }
  })
  const yes = table.fields
    .filter((field) => field.kind.type === 'yes_no')
    .map((field) => ({ value: `yes ${field.id}`, title: `${field.within} is yes`, finish: { yes: field.id } as Finish }))
  const days = putDays(table).flatMap((field) => [
    { value: `filled ${field.id}`, title: `there is ${field.within}`, finish: { filled: field.id } as Finish },
    {
      value: `noted ${field.id}`,
      title: `never: it comes round, and done puts the day into ${field.within}`,
      finish: { noted: field.id } as Finish,
    },
  ])
  return [...choices, ...yes, ...days]
}

/** The key of what means done. */
export function finishKey(finish: Finish): string {
  if ('options' in finish) return `options ${finish.options.field}`
  const [word, field] = Object.entries(finish)[0]!
  return `${word} ${String(field)}`
}

/** A rule to begin with; nothing where a table names no persons, or nothing that could mean done. */
export function begunRule(tracker: Tracker, table: Table): Rounds | undefined {
  const [who] = whose(tracker, table)
  const [done] = finishes(table)
  if (!who || !done) return undefined
  return { who: who.value.split('.').map(Number), due: dayFields(table)[0]?.id ?? null, done: done.finish, urgency: null, tells: [] }
}
