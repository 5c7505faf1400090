// Adding a record to what is shown: with its group's value, and with what has to be chosen first so that one sees it.
import { computed, ref, type Ref } from 'vue'
import type { Field, GroupBy, Input, Query, Table } from '@/api/types'
import type { Head } from './layout'

/** What the records of a view stand together by: lanes first of all by their field. */
export function grouping(query: Query): GroupBy[] {
  const groups = query.groups ?? []
  if (query.shape?.as !== 'lanes') return groups
  const { by } = query.shape
  return [{ field: by, empty: true, descending: false }, ...groups.filter((one) => one.field !== by).slice(0, 1)]
}

/** Whether a record is given a group's value by being put in it: a run of days is none. */
export const isTaken = (by: GroupBy, table: Table | undefined) =>
  (by.by ?? 'value') === 'value' && !!table?.fields.find((field) => field.id === by.field)?.writes

/** What a record begins with, as it stands in an address: *12:3,14:7* are options of choices; anything else is nothing. */
export function addedWith(text: unknown): Record<string, Input> {
  const pairs = String(text ?? '').split(',').map((pair) => pair.split(':').map(Number)) // prettier-ignore
  return Object.fromEntries(pairs.flatMap(([field, option]) => (field && option ? [[field, { value: { choice: option } }]] : [])))
}

export interface AddingTo {
  table: Ref<Table | undefined>
  query: Ref<Query | undefined>
  /** Whether what is asked is asked in a draft. */
  drafts?: (cells: Record<string, Input>) => boolean
  /** Puts it in; throws what the server refuses. */
  add: (cells: Record<string, Input>) => Promise<void>
}

export function useAdding({ table, query, drafts = () => false, add }: AddingTo) {
  /** What was said of the record that is about to be added, while more is asked. */
  const begun = ref<Record<string, Input>>()

  /** What is asked now. */
  const asked = computed<Field | undefined>(() => {
    const open = begun.value
    if (!open || drafts(open)) return undefined
    return table.value?.fields.find((f) => table.value!.asks.includes(f.id) && !(f.id in open))
  })

  /** The values that a group's records have in common, of fields that one may write. */
  function ofGroup(head: Head | undefined): Record<string, Input> {
    const cells: Record<string, Input> = {}
    const levels = query.value ? grouping(query.value) : []
    head?.path.forEach(({ value }, level) => {
      const by = levels[level]
      if (by && isTaken(by, table.value) && value !== 'empty') cells[by.field] = { value }
    })
    return cells
  }

  async function goOn() {
    if (asked.value || !begun.value) return
    const cells = begun.value
    begun.value = undefined
    await add(cells)
  }

  async function begin(group?: Head, cells: Record<string, Input> = {}) {
    begun.value = { ...ofGroup(group), ...cells }
    await goOn()
  }

  async function say(field: Field, input: Input) {
    begun.value = { ...begun.value, [field.id]: input }
    await goOn()
  }

  return { asked, begin, say, leave: () => (begun.value = undefined) }
}
