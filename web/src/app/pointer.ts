// Places in what is sent, as JSON pointers: what a phrase edits and what a fault is about are written the same way.

/** A pointer's steps. */
export const steps = (at: string): string[] => at.split('/').slice(1)

/** What stands at a place. */
export const valueAt = (whole: unknown, at: string): unknown =>
  steps(at).reduce<unknown>((inner, step) => (inner as Record<string, unknown> | undefined)?.[step], whole)

/** The same with something else at a place; the parts on the way to it are copied. */
export function withAt<T>(whole: T, at: string, value: unknown): T {
  const [first, ...rest] = steps(at)
  if (first === undefined) return value as T
  const below = withAt((whole as Record<string, unknown>)[first], rest.map((step) => `/${step}`).join(''), value)
  if (Array.isArray(whole)) return whole.map((one: unknown, n) => (n === Number(first) ? below : one)) as T
  return { ...whole, [first]: below }
}

/** The rule that a place belongs to: the condition of a test, the list of an order. */
export const ruleOf = (at: string): string =>
  at
    .replace(/\/test$/, '')
    .replace(/(\/(all|any)\/\d+)+$/, '')
    .replace(/\/\d+$/, '')

/** Whether what is at a place is the whole, or a part of it. */
export const isIn = (at: string, whole: string): boolean => at === whole || at.startsWith(`${whole}/`)
