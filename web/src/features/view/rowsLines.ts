// Which lines of rows are in sight, and how high each is: heads of groups and records, of as many as there are.
import { computed, watch, type ComputedRef, type Ref } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import type { Query, Row } from '@/api/types'
import type { Layout, Line } from './layout'
import type { Shown } from './window'

/** The height of a row, by how many lines of text stand in it. */
const ROW = { one: 33, two: 53, four: 93, eight: 173 }
const HEAD = 37
/** The headings of the fields. */
const HEADINGS = 39
/** The head of a group on a phone. */
const THUMB = 46
const COMPACT = 62

export interface ShownLine {
  key: string
  top: number
  size: number
  index: number
  line: Line
  row: Row | undefined
}

export function useRowsLines(of: {
  scroller: Ref<HTMLElement | undefined>
  layout: ComputedRef<Layout>
  narrow: ComputedRef<boolean>
  query: () => Query
  window: () => Shown
}) {
  const { scroller, layout, narrow } = of
  const shape = computed(() => {
    const { shape } = of.query()
    return shape?.as === 'rows' ? shape : undefined
  })
  const lineCount = computed(() => shape.value?.height ?? 'one')
  const rowHeight = computed(() => (narrow.value ? COMPACT : ROW[lineCount.value]))
  const virtual = useVirtualizer(
    computed(() => ({
      count: layout.value.length,
      getScrollElement: () => scroller.value ?? null,
      estimateSize: (line: number) => (layout.value.at(line).type === 'group' ? (narrow.value ? THUMB : HEAD) : rowHeight.value),
      overscan: 12,
      // Rows begin beneath the headings, which stay: without this the last row that is brought into sight lies below the edge.
      scrollPaddingEnd: narrow.value ? 0 : HEADINGS,
    })),
  )
  watch([layout, rowHeight], () => virtual.value.measure())

  const lines = computed<ShownLine[]>(() =>
    virtual.value.getVirtualItems().flatMap((item) => {
      if (item.index >= layout.value.length) return []
      const line = layout.value.at(item.index)
      const row = line.type === 'row' ? of.window().rows.value.get(line.place) : undefined
      return [{ key: String(item.key), top: item.start, size: item.size, index: item.index, line, row }]
    }),
  )
  watch(lines, (now) => {
    const places = now.flatMap((l) => (l.line.type === 'row' ? [l.line.place] : []))
    if (places.length) of.window().show({ first: Math.min(...places), last: Math.max(...places) })
  })

  const reveal = (line: number) => virtual.value.scrollToIndex(line, { align: 'auto' })
  /** The same of a record, by its place; nothing where its group is closed. */
  const revealPlace = (place: number) => {
    const line = layout.value.lineOf(place)
    if (line !== undefined) reveal(line)
  }
  /** So many rows fit into the window. */
  const page = () => Math.floor((scroller.value?.clientHeight ?? 400) / rowHeight.value) - 1
  const height = computed(() => virtual.value.getTotalSize())
  return { shape, lineCount, lines, height, reveal, revealPlace, page }
}
