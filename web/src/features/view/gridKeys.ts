// The keys of a grid. Letters replace a cell, so all else that is ours takes a modifier.
import type { ActivePlace } from './active'

export interface GridKeys {
  at: ActivePlace
  columns: () => number
  /** Lines on one screen. */
  page: () => number
  begin: (start?: string) => void
  clear: () => void
  why: () => void
  open: (record: number) => void
  /** Closes or opens the group one is at; `open`: which of the two. */
  fold: (open?: boolean) => void
  /** Opens the menu of what one is at. */
  menu: () => void
  /** Asks for a place to go to. */
  jump: () => void
}

/** Does what a key means; whether it meant anything. */
export function gridKey(event: KeyboardEvent, grid: GridKeys): boolean {
  const { at } = grid
  const now = at.active.value
  const mod = event.ctrlKey || event.metaKey
  if (event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey)) return did(grid.menu)
  if (mod) return withModifier(event, grid)
  switch (event.key) {
    case 'ArrowDown':
      return did(() => at.step(1))
    case 'ArrowUp':
      return did(() => at.step(-1))
    case 'PageDown':
      return did(() => at.step(grid.page()))
    case 'PageUp':
      return did(() => at.step(Math.max(-grid.page(), -(at.line.value ?? 0))))
    case 'Home':
      return !!now && did(() => at.sideways(0))
    case 'End':
      return !!now && did(() => at.sideways(grid.columns() - 1))
    case 'ArrowRight':
    case 'ArrowLeft':
    case 'Tab':
      return !!now && sideways(event, grid)
    case 'Enter':
    case ' ':
    case 'F2':
      if (now?.on === 'group') return did(() => grid.fold())
      if (now?.on === 'heading') return did(grid.menu)
      return event.key !== ' ' || now ? did(() => grid.begin(event.key === ' ' ? ' ' : undefined)) : false
    case 'Delete':
    case 'Backspace':
      return now?.on === 'cell' && did(grid.clear)
    default:
      return event.key.length === 1 && now?.on === 'cell' && did(() => grid.begin(event.key))
  }
}

function withModifier(event: KeyboardEvent, { at, why, open, jump }: GridKeys): boolean {
  if (event.key.toLowerCase() === 'g' && !event.shiftKey) return did(jump)
  if (event.key === '.') return did(why)
  if (event.key === 'Home') return did(() => at.toPlace(0))
  if (event.key === 'End') return did(at.toLast)
  const cell = at.cell.value
  return event.key === 'Enter' && !event.shiftKey && !!cell && did(() => open(cell.record))
}

function sideways(event: KeyboardEvent, { at, columns, fold }: GridKeys): boolean {
  const back = event.key === 'ArrowLeft' || (event.key === 'Tab' && event.shiftKey)
  if (at.active.value?.on === 'group') return event.key !== 'Tab' && did(() => fold(!back))
  const next = at.column.value + (back ? -1 : 1)
  // At the ends, Tab leaves the grid as it should.
  if (event.key === 'Tab' && (next < 0 || next >= columns())) return false
  return did(() => at.sideways(next))
}

function did(work: () => unknown): true {
  work()
  return true
}
