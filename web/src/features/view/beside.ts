// What is open beside the records of a view: a record in its folio, opened, walked and closed by the address.
import { computed, ref, type ComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Field } from '@/api/types'

export function useBeside(of: {
  /** Puts the keys into the folio that is open. */
  focus: () => void
  /** One has closed it. */
  closed: () => void
  /** Walks along the records by their shape, which says where one has come. */
  walk: (by: 1 | -1) => void
}) {
  const route = useRoute()
  const router = useRouter()
  const folio: ComputedRef<number | undefined> = computed(() => (route.query.record ? Number(route.query.record) : undefined))
  /** The field of which it is told what it was. */
  const was = computed(() => (route.query.was ? Number(route.query.was) : undefined))
  /** The folio's own button by which it was opened: it keeps the focus. */
  const walkedBy = ref<1 | -1>()
  let walking: 1 | -1 | undefined

  /** Opening a folio is a step one can go back from; walking through folios is none. */
  function open(record: number | undefined, by?: 1 | -1) {
    // Whoever opens what is open goes into it.
    if (record !== undefined && record === folio.value) return of.focus()
    walkedBy.value = by
    const to = { query: { ...route.query, record, was: undefined, draft: undefined } }
    const back = router.resolve(String(window.history.state?.back ?? '/'))
    if (record !== undefined) void (folio.value === undefined ? router.push(to) : router.replace(to))
    else if (back.path === route.path && !back.query.record) router.back()
    else void router.replace(to)
  }

  /** Opens a record where it is told what one of its fields was. */
  function openHistory(record: number, field: Field) {
    const to = { query: { ...route.query, record, was: field.id, draft: undefined } }
    void (folio.value === undefined ? router.push(to) : router.replace(to))
  }

  function close() {
    open(undefined)
    of.closed()
  }

  /** One has come to a record by its shape: it opens where another is open. */
  function follow(record: number | undefined) {
    if (folio.value !== undefined && record !== undefined && record !== folio.value) open(record, walking)
    walking = undefined
  }

  /** Walked by the folio's own buttons. */
  function walk(by: 1 | -1) {
    walking = by
    of.walk(by)
  }

  return { folio, was, walkedBy, open, openHistory, close, follow, walk }
}
