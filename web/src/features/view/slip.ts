// The slip of a field: where it is open, and what is chosen in it, as conditions.
import type { Check, Condition, Field, SlipRun, SlipValue } from '@/api/types'

/** The two sorts of fields that compute themselves. */
export type Computed = 'calculation' | 'summary'

/** A field whose slip is open, and where: in CSS pixels of the window. */
export interface SlipPlace {
  field: Field
  x: number
  y: number
}

const test = (field: number, check: Check): Condition => ({ test: { path: [field], of: 'any', check } })

/** Several values of one kind are one test. */
function joined(field: number, checks: Check[], join: 'any' | 'all'): Condition {
  const [first] = checks
  if (first && 'any' in first) {
    const any = checks.flatMap((check) => ('any' in check ? (check.any as never[]) : []))
    return test(field, { ...first, any } as Check)
  }
  const tests = checks.map((check) => test(field, check))
  return tests.length === 1 ? tests[0]! : join === 'any' ? { any: tests } : { all: tests }
}

export const onlyValues = (field: number, values: SlipValue[]) => joined(field, values.map(({ only }) => only), 'any') // prettier-ignore
export const withoutValues = (field: number, values: SlipValue[]) => joined(field, values.map(({ without }) => without), 'all') // prettier-ignore

/** From the first of these runs to the last. */
export const onlyRuns = (field: number, first: SlipRun, last: SlipRun): Condition => ({
  all: [test(field, first.since), test(field, last.until)],
})

/** Before the first, behind the last, or nothing at all. */
export const withoutRuns = (field: number, first: SlipRun, last: SlipRun): Condition => ({
  any: [test(field, first.before), test(field, last.behind), test(field, { is: 'empty' })],
})

/** A condition with another one beside it. */
export function narrowed(condition: Condition | undefined, by: Condition): Condition {
  const parts = (one: Condition | undefined): Condition[] => (!one ? [] : 'all' in one ? one.all : [one])
  return { all: [...parts(condition), ...parts(by)] }
}
