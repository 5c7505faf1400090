// A view as one has changed it: one's own until saved or dropped, and still there after a reload.
import { computed, ref, watch, type Ref } from 'vue'
import { useLocalStorage } from '@vueuse/core'
import type { Query, Table, View } from '@/api/types'
import { isKept } from '@/features/cell/kinds'

/** The view of a table that has none: all its fields. */
export function plainQuery(table: Table): Query {
  const fields = table.fields.filter((f) => !isKept(f)).map((f) => ({ field: f.id, width: f.id === table.standing ? 280 : 140 }))
  return { condition: { all: [] }, groups: [], sorts: [], fields, tallies: [] }
}

export function useDraft(tracker: Ref<number>, table: Ref<Table | undefined>, view: Ref<View | undefined>) {
  const drafts = useLocalStorage<Record<string, Query>>('westerfall drafts', {})
  const key = computed(() => `${tracker.value}/${table.value?.id}/${view.value?.id ?? 'all'}`)
  const saved = computed<Query | undefined>(() => view.value?.query ?? (table.value && plainQuery(table.value)))
  const query = ref<Query>()

  watch(
    [key, saved],
    () => {
      // What was saved meanwhile as one had it is no change any more.
      if (JSON.stringify(drafts.value[key.value]) === JSON.stringify(saved.value)) forget()
      query.value = drafts.value[key.value] ?? (saved.value && structuredClone(JSON.parse(JSON.stringify(saved.value)) as Query))
    },
    { immediate: true },
  )

  const changed = computed(() => JSON.stringify(query.value) !== JSON.stringify(saved.value))

  function change(next: Partial<Query>) {
    if (!query.value) return
    query.value = { ...query.value, ...next }
    if (changed.value) drafts.value = { ...drafts.value, [key.value]: query.value }
    else drop()
  }

  function forget() {
    if (key.value in drafts.value) drafts.value = Object.fromEntries(Object.entries(drafts.value).filter(([one]) => one !== key.value))
  }

  /** Back to the view as it was saved. */
  function drop() {
    forget()
    query.value = saved.value && (JSON.parse(JSON.stringify(saved.value)) as Query)
  }

  return { query, changed, change, drop }
}
