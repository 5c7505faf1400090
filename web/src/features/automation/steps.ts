// Steps of an automation by their places, which are JSON pointers. Pure.
import type { Step, Table, Tracker } from '@/api/types'
import { steps as parts, valueAt, withAt } from '@/app/pointer'

/** What a step is, as it is kept. */
export type StepKind = 'mail' | 'set' | 'add' | 'say' | 'each' | 'if' | 'wait' | 'call' | 'start' | 'stop'

export const kindOf = (step: Step): StepKind => (step === 'stop' ? 'stop' : (Object.keys(step)[0] as StepKind))

/** What can be done, as one chooses it. */
export const KINDS: readonly { value: StepKind; title: string }[] = [
  { value: 'mail', title: 'send a message' },
  { value: 'set', title: 'set fields' },
  { value: 'add', title: 'add a record' },
  { value: 'say', title: 'say something of it' },
  { value: 'each', title: 'go through records …' },
  { value: 'if', title: 'only if …' },
  { value: 'wait', title: 'wait …' },
  { value: 'call', title: 'call a web address' },
  { value: 'start', title: 'start another automation' },
  { value: 'stop', title: 'end here' },
]

/** A step as it begins; `reader`: the path to somebody of the record, to whom a message goes unless one says otherwise. */
export function begunStep(kind: StepKind, table: Table, reader?: number[]): Step {
  switch (kind) {
    case 'mail':
      return { mail: { to: reader ? { field: reader } : { address: '' }, subject: '', body: '', digest: false } }
    case 'set':
      return { set: { along: [], alter: [] } }
    case 'add':
      return { add: { table: table.id, alter: [] } }
    case 'say':
      return { say: { text: '' } }
    case 'each':
      return { each: { table: table.id, condition: { all: [] }, same: [], first: false, steps: [], otherwise: [] } }
    case 'if':
      return { if: { condition: { all: [] }, steps: [], otherwise: [] } }
    case 'wait':
      return { wait: { pause: { days: 1 }, steps: [], otherwise: [] } }
    case 'call':
      return { call: { calls: { method: 'post', address: 'https://', seconds: 20 }, steps: [], otherwise: [] } }
    case 'start':
      return { start: { automation: 0 } }
    case 'stop':
      return 'stop'
  }
}

/** The place of the step that a place is in; nothing where it is in none. */
export function stepPlace(at: string): string | undefined {
  const all = parts(at)
  for (let n = all.length - 1; n > 0; n--) {
    const list = all[n - 1]
    if (/^\d+$/.test(all[n]!) && (list === 'steps' || list === 'otherwise')) return `/${all.slice(0, n + 1).join('/')}`
  }
  return undefined
}

interface Holds {
  steps: Step[]
}

export const stepAt = (of: Holds, at: string) => valueAt(of, at) as Step | undefined
export const listAt = (of: Holds, at: string) => (valueAt(of, at) as Step[] | undefined) ?? []
export const withStep = (of: Holds, at: string, step: Step): Step[] => withAt({ steps: of.steps }, at, step).steps
export const withList = (of: Holds, at: string, list: Step[]): Step[] => withAt({ steps: of.steps }, at, list).steps

/** The list in which a step stands, and its place there. */
export function inList(at: string): { list: string; place: number } {
  const all = parts(at)
  return { list: `/${all.slice(0, -1).join('/')}`, place: Number(all.at(-1)) }
}

export function withoutStep(of: Holds, at: string): Step[] {
  const { list, place } = inList(at)
  return withList(
    of,
    list,
    listAt(of, list).filter((_, n) => n !== place),
  )
}

/** The same with a step moved before or behind its neighbour. */
export function moved(of: Holds, at: string, by: -1 | 1): Step[] {
  const { list, place } = inList(at)
  const all = [...listAt(of, list)]
  const [step] = all.splice(place, 1)
  if (step) all.splice(place + by, 0, step)
  return withList(of, list, all)
}

/** The table whose records a step is about, in an automation of one table. */
export function tableAt(tracker: Tracker, own: Table, of: Holds, at: string): Table {
  const all = parts(at)
  let table = own
  all.forEach((part, n) => {
    if (part !== 'each' || all[n + 1] !== 'steps') return
    const step = valueAt(of, `/${all.slice(0, n).join('/')}`) as Step
    const found = typeof step === 'object' && 'each' in step ? tracker.tables.find((one) => one.id === step.each.table) : undefined
    table = found ?? table
  })
  return table
}
