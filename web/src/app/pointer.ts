// Places in what is sent, as JSON pointers: what a phrase edits and what a fault is about are written the same way.

/** A pointer's steps. */
export const steps = (at: string): string[] => at.split('/').slice(1)

/** The rule that a place belongs to: the condition of a test, the list of an order. */
export const ruleOf = (at: string): string =>
  at
    .replace(/\/test$/, '')
    .replace(/(\/(all|any)\/\d+)+$/, '')
    .replace(/\/\d+$/, '')

/** Whether what is at a place is the whole, or a part of it. */
export const isIn = (at: string, whole: string): boolean => at === whole || at.startsWith(`${whole}/`)
