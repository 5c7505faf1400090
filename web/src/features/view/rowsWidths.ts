// How wide the fields of rows are, which of them stay in sight, and where each ends.
import { computed, type ComputedRef, type Ref } from 'vue'
import { useElementSize } from '@vueuse/core'
import type { Field } from '@/api/types'
import { isRight } from '@/features/cell/kinds'
import type { ShownLine } from './rowsLines'
import { staying } from './stays'

/** Beside a cell’s text: its padding and a mark. */
const ROOM_BESIDE = 44

export function useRowsWidths(of: {
  scroller: Ref<HTMLElement | undefined>
  fields: () => { field: Field; width: number }[]
  narrow: ComputedRef<boolean>
  /** How many records there are. */
  count: () => number
  /** The field that stands for a record. */
  standing: () => number
  /** How many fields were chosen to stay in sight. */
  keeps: () => number | null | undefined
  lines: ComputedRef<ShownLine[]>
  widen: (field: number, width: number) => void
}) {
  const { scroller, fields, narrow } = of
  /** As wide as the longest number of a place. */
  const margin = computed(() => (narrow.value ? 0 : Math.max(30, 14 + 8 * String(of.count()).length)))
  // The last field takes what room is left, but not a figure: that would stand far from its fellows.
  const template = computed(() => {
    const last = fields()[fields().length - 1]
    const widths = fields().map((f) => (f === last && !isRight(f.field) ? `minmax(${f.width}px, 1fr)` : `${f.width}px`))
    return [`${margin.value}px`, ...widths, ...(last && isRight(last.field) ? ['minmax(0, 1fr)'] : [])].join(' ')
  })
  const width = computed(() => fields().reduce((sum, f) => sum + f.width, margin.value))

  const { width: room } = useElementSize(scroller)
  const stays = computed(() => {
    const named = fields().findIndex((f) => f.field.id === of.standing())
    const widths = fields().map((f) => f.width)
    return narrow.value ? [] : staying(widths, named, room.value, of.keeps()).map((left) => left + margin.value)
  })
  /** Where each field ends while nothing is moved sideways. */
  const ends = computed(() =>
    fields().map((_, n) =>
      fields()
        .slice(0, n + 1)
        .reduce((sum, f) => sum + f.width, margin.value),
    ),
  )
  const stayingWidth = computed(() => stays.value.reduce((all, _, n) => all + (fields()[n]?.width ?? 0), margin.value))

  /** As wide as the longest text in sight, and its heading. */
  function fit(id: number) {
    const column = fields().findIndex((f) => f.field.id === id)
    const cell = scroller.value?.querySelector('.cell')
    const pen = document.createElement('canvas').getContext('2d')
    if (column < 0 || !pen) return
    if (cell) pen.font = getComputedStyle(cell).font
    const texts = of.lines.value.flatMap((one) => one.row?.cells[column]?.text ?? [])
    const widest = Math.max(...[fields()[column]!.field.name, ...texts].map((text) => pen.measureText(text).width))
    of.widen(id, widest + ROOM_BESIDE)
  }

  return { margin, template, width, room, stays, ends, stayingWidth, fit }
}
