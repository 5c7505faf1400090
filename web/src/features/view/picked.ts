// Records that one has chosen, of one table at a time: they stay so while the order changes, the view, its shape, or the records.
import { computed, ref } from 'vue'

interface Hand {
  table: string
  records: ReadonlySet<number>
}

const hand = ref<Hand>({ table: '', records: new Set() })
const keyOf = (tracker: number, table: number) => `${tracker}/${table}`

export const isPicking = (event: KeyboardEvent) => (event.ctrlKey || event.metaKey) && event.key === ' '

export function usePicked(at: () => { tracker: number; table: number }) {
  const key = computed(() => keyOf(at().tracker, at().table))
  const records = computed(() => (hand.value.table === key.value ? hand.value.records : new Set<number>()))
  const put = (to: Iterable<number>) => (hand.value = { table: key.value, records: new Set(to) })

  /** Takes records up, or, where all of them are in hand, lets go of them. */
  function turn(some: readonly number[]) {
    const all = some.length > 0 && some.every((record) => records.value.has(record))
    put(all ? [...records.value].filter((record) => !some.includes(record)) : [...records.value, ...some])
  }

  return {
    records,
    list: computed(() => [...records.value].sort((a, b) => a - b)),
    holds: (record: number) => records.value.has(record),
    turn,
    /** A press with Ctrl takes one up; whether it was one. */
    pressed(event: MouseEvent, record: number): boolean {
      if (event.ctrlKey || event.metaKey) turn([record])
      return event.ctrlKey || event.metaKey
    },
    /** Ctrl and space take up the one that one is at; whether they did. */
    key(event: KeyboardEvent, record: number | undefined): boolean {
      if (record === undefined || !isPicking(event)) return false
      turn([record])
      return true
    },
    take: (some: readonly number[]) => put([...records.value, ...some]),
    drop: (some: readonly number[]) => put([...records.value].filter((record) => !some.includes(record))),
    clear: () => put([]),
  }
}

export type Picked = ReturnType<typeof usePicked>
