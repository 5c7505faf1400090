// What is kept of a view, and the steps that change it.
import { useDoing } from '@/app/asking'
import { useParts } from '@/features/tracker/parts'
import type { Query, Schemas, Table, View } from '@/api/types'

export type ViewBody = Schemas['ViewBody']

/** A view as it is sent: as it is, but for what is changed. */
export const bodyOf = (table: Pick<Table, 'id'>, view: View, over: Partial<ViewBody> = {}): ViewBody => ({
  table: table.id,
  name: view.name,
  about: view.about,
  locked: view.locked,
  personal: view.owner != null,
  query: view.query,
  ...over,
})

export function useViews(tracker: () => number) {
  const parts = useParts(tracker)
  const { trouble, attempt } = useDoing()

  /** Keeps a view otherwise; whether it could be. */
  const save = (table: Pick<Table, 'id'>, view: View, over: Partial<ViewBody>) =>
    attempt(async () => (await parts.save('view', view.id, { view: bodyOf(table, view, over) }), true))

  /** Keeps what is shown as a view of its own; its number. */
  const make = (table: Pick<Table, 'id'>, words: { name: string; about: string; personal: boolean }, query: Query) =>
    attempt(async () => (await parts.make({ view: { table: table.id, locked: false, ...words, query } })).made ?? undefined)

  const drop = (view: View) => attempt(async () => (await parts.drop('view', view.id), true))

  /** A page for people outside that shows what this view shows; closed until it is opened there. */
  const share = (view: View) => attempt(async () => (await parts.make({ page: { title: view.name, view: view.id } })).made ?? undefined)

  return { trouble, save, make, drop, share }
}
