// The figures of a cross-tab, and what stands behind the cell that one is at: read when either changes, and again when something
// in the tracker did.
import { ref, shallowRef, watch, type Ref } from 'vue'
import { api, saying, told } from '@/api/client'
import type { CrossBehind, Crossed, Query } from '@/api/types'
import { touches, useChanges } from '@/features/tracker/tracker'
import type { Spot } from './crossing'

interface Options {
  tracker: Ref<number>
  table: Ref<number>
  query: Ref<Query>
  spot: Ref<Spot>
}

/** While one walks from cell to cell, only where one stays is read, in milliseconds. */
const STAYS = 120

export function useCrossed({ tracker, table, query, spot }: Options) {
  const crossed = shallowRef<Crossed>()
  const behind = shallowRef<CrossBehind>()
  const trouble = ref('')
  let of: number[] | undefined
  let round = 0
  let waits: ReturnType<typeof setTimeout> | undefined

  const path = () => ({ tracker: tracker.value, table: table.value })

  async function refresh() {
    const mine = ++round
    try {
      const body = { query: query.value }
      const answer = await told(api.POST('/api/trackers/{tracker}/tables/{table}/cross-tab', { params: { path: path() }, body }))
      if (mine !== round) return
      crossed.value = answer.crossed
      of = answer.of
      trouble.value = ''
      // A row or a column that one was at may be gone.
      const inside = {
        row: Math.min(spot.value.row, answer.crossed.rows.length - 1),
        column: Math.min(spot.value.column, answer.crossed.columns.length - 1),
      }
      if (inside.row !== spot.value.row || inside.column !== spot.value.column) spot.value = inside
      else await look()
    } catch (error) {
      if (mine !== round) return
      trouble.value = saying(error)
      crossed.value = undefined
      behind.value = undefined
    }
  }

  /** What stands behind the cell that one is at. */
  async function look() {
    const now = crossed.value
    const at = spot.value
    if (!now) return
    const down = now.rows[at.row]?.values ?? []
    const across = now.columns[at.column]?.values ?? []
    try {
      const body = { query: query.value, down, across }
      const answer = await told(api.POST('/api/trackers/{tracker}/tables/{table}/cross-tab/cell', { params: { path: path() }, body }))
      if (spot.value === at && crossed.value === now) behind.value = answer.behind ?? undefined
    } catch (error) {
      trouble.value = saying(error)
    }
  }

  watch([tracker, table, query], () => void refresh(), { immediate: true, deep: true })
  watch(spot, () => {
    clearTimeout(waits)
    waits = setTimeout(() => void look(), STAYS)
  })
  useChanges(
    () => void refresh(),
    (heard) => touches(of)(heard),
  )
  return { crossed, behind, trouble, refresh }
}
