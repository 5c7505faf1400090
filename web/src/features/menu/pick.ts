/** One of what can be chosen: what it is, how it is called, and beneath which heading it stands. */
export interface PickItem<T> {
  value: T
  title: string
  group?: string
}

/** Things with a number and a name, to choose one of. */
export const named = <T extends string | number>(list: readonly { id: T; name: string }[]): PickItem<T>[] =>
  list.map(({ id, name }) => ({ value: id, title: name }))
