// To whom a message can go: people of the record first, then addresses and numbers that it holds.
import type { Table, Tracker } from '@/api/types'
import { paths, type PathChoice } from '@/features/condition/checks'

const ORDER = ['person', 'people', 'created_by', 'email', 'phone']

/** The fields of a record, and along its links, that name somebody to write to. */
export function recipients(tracker: Tracker, table: Table): PathChoice[] {
  const place = (choice: PathChoice) => ORDER.indexOf(choice.field.shows.type)
  return paths(tracker, table)
    .filter((choice) => place(choice) >= 0)
    .sort((a, b) => place(a) - place(b) || a.path.length - b.path.length)
}
