// Records that one begins in a view: whatever is still asked is asked in a draft of one's own, beside the records.
import { computed, ref, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { Input, Table } from '@/api/types'

export interface Drafting {
  tracker: Ref<number>
  table: Ref<Table | undefined>
  /** Shows a record that was added. */
  show: (record: number) => Promise<void>
}

/**
 * Whether a record is filled in with its lines before it is added, so that what is set going by it finds them there. Whoever adds one
 * on a day, in a lane or in a group puts it there at once.
 */
const comesWithLines = (table: Table, cells: Record<string, Input>) =>
  !Object.keys(cells).length && table.fields.some((field) => field.lines && field.writes)

/** Whether more is asked of a record than it begins with. */
export const asksMore = (table: Table, cells: Record<string, Input>) =>
  comesWithLines(table, cells) || table.fields.some((field) => field.required && field.writes && !(field.id in cells))

export function useDrafting({ tracker, table, show }: Drafting) {
  const route = useRoute()
  const router = useRouter()
  const draft = computed(() => (route.query.draft ? Number(route.query.draft) : undefined))
  /** What the last one began with: the next one begins with the same. */
  const began = ref<Record<string, Input>>({})
  const path = () => ({ tracker: tracker.value, table: table.value!.id })

  const open = (id: number | undefined) => router.replace({ query: { ...route.query, record: undefined, draft: id } })

  /** Begins one where more is asked; whether it did. */
  async function begin(cells: Record<string, Input>): Promise<boolean> {
    if (!table.value || !asksMore(table.value, cells)) return false
    began.value = cells
    const body = { cells: Object.entries(cells).map(([field, input]) => ({ field: Number(field), input })) }
    const home = table.value
    const { draft, look } = await told(api.POST('/api/trackers/{tracker}/tables/{table}/drafts', { params: { path: path() }, body }))
    const waits = !!look.says || comesWithLines(home, cells)
    if (waits) await open(draft)
    // What fields begin with by themselves was all that was missing.
    else await told(api.DELETE('/api/trackers/{tracker}/tables/{table}/drafts/{draft}', { params: { path: { ...path(), draft } } }))
    return waits
  }

  async function added(record: number | undefined, next: boolean) {
    if (next) {
      if (record !== undefined) await show(record)
      await begin(began.value)
      return
    }
    await open(undefined)
    if (record !== undefined) await show(record)
  }

  return { draft, begin, added, close: () => open(undefined) }
}
