// How cells of a grid are selected and handed over: by pulling the mouse, with Shift and arrows, by the browser’s own copying.
import type { ActivePlace } from './active'
import { edgeScroll } from './edgeScroll'
import type { Selection } from './selecting'
import type { Shown } from './window'

export interface Gestures {
  at: ActivePlace
  selection: Selection
  window: () => Shown
  /** The element that has the keys. */
  grid: () => HTMLElement | undefined
  /** Nothing is selected: where cells are entries of a list, or one is being edited. */
  off: () => boolean
  /** Brings a place of the order into sight. */
  reveal: (place: number) => void
}

const ARROWS: Readonly<Record<string, [rows: number, columns: number]>> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
}

export function useGestures({ at, selection, window, grid, off, reveal }: Gestures) {
  /** The cell under a point. */
  function cellAt(x: number, y: number): { place: number; column: number } | undefined {
    const cell = document.elementFromPoint(x, y)?.closest<HTMLElement>('[role=gridcell]')
    const [, record, column] = /^cell-(\d+)-(\d+)$/.exec(cell?.id ?? '') ?? []
    const place = record === undefined ? undefined : window().placeOf.value.get(Number(record))
    return place === undefined ? undefined : { place, column: Number(column) }
  }

  const scrolling = edgeScroll()
  /** Where the mouse went down in a cell. */
  let pulled: { place: number; column: number } | undefined
  function pull(event: PointerEvent) {
    if (event.button !== 0 || event.shiftKey) return
    selection.clear()
    pulled = event.pointerType === 'mouse' && !off() ? cellAt(event.clientX, event.clientY) : undefined
  }
  function pullOn(event: PointerEvent) {
    if (drawn) {
      const now = cellAt(event.clientX, event.clientY)
      if (now) selection.fillTo(now.place, now.column)
      if (now) reveal(now.place)
      return
    }
    if (!pulled || !(event.buttons & 1) || off()) return scrolling.stop()
    selectTo(event.clientX, event.clientY)
    // Let go beside the rows, it is let go too. Before something is selected a press is the cell’s.
    if (selection.area.value) grid()?.setPointerCapture?.(event.pointerId)
    // At an edge the rows go on under the mouse, and what is selected with them.
    scrolling.hold(event.clientX, event.clientY, grid(), grid(), () => selectTo(within(event.clientX, 'x'), within(event.clientY, 'y')))
  }
  /** A point beside the grid, as one within it. */
  function within(at: number, way: 'x' | 'y'): number {
    const box = grid()?.getBoundingClientRect()
    if (!box) return at
    return way === 'x' ? Math.max(box.left + 48, Math.min(box.right - 24, at)) : Math.max(box.top + 40, Math.min(box.bottom - 24, at))
  }
  function selectTo(x: number, y: number) {
    const now = cellAt(x, y)
    if (!pulled || !now || (!selection.area.value && now.place === pulled.place && now.column === pulled.column)) return
    const row = window().rows.value.get(pulled.place)
    if (row && !selection.area.value) at.toCell(row.id, pulled.column)
    selection.to(now.place, now.column)
  }
  function letGo() {
    scrolling.stop()
    pulled = undefined
    if (drawn) void selection.fill()
    drawn = false
  }

  /** What is selected is drawn on by its corner. */
  let drawn = false
  function fillFrom(event: PointerEvent) {
    drawn = true
    grid()?.setPointerCapture?.(event.pointerId)
  }

  /** Whether a key selects, or acts on what is selected. */
  function key(event: KeyboardEvent): boolean {
    const mod = event.ctrlKey || event.metaKey
    const by = ARROWS[event.key]
    const letter = event.key.toLowerCase()
    if (off() || !at.cell.value) return false
    if (event.shiftKey && !mod && by) {
      selection.by(...by)
      const area = selection.area.value
      if (area) reveal(at.place.value === area.top ? area.bottom : area.top)
    } else if (mod && letter === 'a') selection.all()
    else if (!selection.area.value) return false
    else if (event.key === 'Escape') selection.clear()
    else if (event.key === 'Delete' || event.key === 'Backspace') void selection.empty()
    else if (mod && letter === 'd') void selection.down()
    else if (mod && letter === 'r') void selection.across()
    else return false
    return true
  }

  const takes = (event: ClipboardEvent) => event.target === grid() && !off() && !!at.cell.value
  function copy(event: ClipboardEvent, cut: boolean) {
    if (!takes(event) || !selection.copy(event.clipboardData)) return
    event.preventDefault()
    if (cut) void selection.empty()
  }
  function paste(event: ClipboardEvent) {
    const data = event.clipboardData
    if (!takes(event) || !data) return
    event.preventDefault()
    void selection.paste(data.getData('text/plain'), data.getData('text/html'))
  }

  return { pull, pullOn, letGo, fillFrom, key, copy, paste }
}
