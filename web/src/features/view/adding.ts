// Adding a record to what is shown: with its group's value, and with what has to be chosen first so that one sees it.
import { computed, ref, type Ref } from 'vue'
import type { Field, Input, Query, Table } from '@/api/types'
import type { useWindow } from './window'

export interface AddingTo {
  table: Ref<Table | undefined>
  query: Ref<Query | undefined>
  window: ReturnType<typeof useWindow>
  /** Puts it in; throws what the server refuses. */
  add: (cells: Record<string, Input>) => Promise<void>
}

export function useAdding({ table, query, window, add }: AddingTo) {
  /** What was said of the record that is about to be added, while more is asked. */
  const begun = ref<Record<string, Input>>()

  /** What is asked now. */
  const asked = computed<Field | undefined>(() => {
    const open = begun.value
    return open && table.value?.fields.find((f) => table.value!.asks.includes(f.id) && !(f.id in open))
  })

  /** The values that a group's records have in common, of fields that one may write. */
  function ofGroup(group: number | undefined): Record<string, Input> {
    const cells: Record<string, Input> = {}
    const at = group === undefined ? undefined : window.answer.value?.groups[group]
    query.value?.groups?.forEach((order, level) => {
      const field = table.value?.fields.find((f) => f.id === order.field)
      const value = at?.values[level]
      if (field?.writes && value !== undefined && value !== 'empty') cells[order.field] = { value }
    })
    return cells
  }

  async function goOn() {
    if (asked.value || !begun.value) return
    const cells = begun.value
    begun.value = undefined
    await add(cells)
  }

  async function begin(group?: number) {
    begun.value = ofGroup(group)
    await goOn()
  }

  async function say(field: Field, input: Input) {
    begun.value = { ...begun.value, [field.id]: input }
    await goOn()
  }

  return { asked, begin, say, leave: () => (begun.value = undefined) }
}
