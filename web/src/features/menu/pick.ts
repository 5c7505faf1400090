/** One of what can be chosen: what it is, how it is called, and beneath which heading it stands. */
export interface PickItem<T> {
  value: T
  title: string
  group?: string
}

/** What core's vocabulary names, to choose one of; a gap is filled with a word. */
export const worded = <T>(list: readonly { value: T; name: string }[] | undefined, word = ''): PickItem<T>[] =>
  (list ?? []).map(({ value, name }) => ({ value, title: name.replace('…', word) }))

/** Things with a number and a name, to choose one of. */
export const named = <T extends string | number>(list: readonly { id: T; name: string }[]): PickItem<T>[] =>
  list.map(({ id, name }) => ({ value: id, title: name }))
