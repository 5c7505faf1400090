// For tests: what a view shows, without a server.
import { computed, ref, shallowRef } from 'vue'
import { vi } from 'vitest'
import type { Query, Row } from '@/api/types'
import type { Shown } from './window'

/** @param answer what is told of the view once, as far as a test asks for it */
export function windowOf(rows: Row[], answer: Record<string, unknown>, query: Query = { fields: [] }) {
  const all = shallowRef(new Map(rows.map((one, place) => [place, one])))
  const told = { row_count: rows.length, total: rows.length, matching: rows.length, alone: [], groups: [], tallies: [] }
  const window = {
    rows: all,
    placeOf: computed(() => new Map([...all.value].map(([place, one]) => [one.id, place]))),
    answer: ref({ ...told, ordering: { own: false, refusal: null }, ...answer }),
    show: vi.fn(),
    refresh: vi.fn(async () => undefined),
    read: vi.fn(async (first: number, count: number) =>
      Array.from({ length: count }, (_, n) => all.value.get(first + n)).filter((row) => row),
    ),
    asked: () => ({ query, view: 7, keep: [] }),
  } as unknown as Shown
  return { window, all }
}
