// The keys of lanes and cards: arrows go from record to record, Tab from field to field within one, letters replace what one is
// at; all else that is ours takes a modifier.
export interface BoardKeys {
  /** So many records on. */
  step: (by: number) => void
  /** To what stands beside. */
  sideways: (by: 1 | -1) => void
  /** Takes the record along to what stands beside. */
  shift: (by: 1 | -1) => void
  /** Takes the record a place up or down, or to the end. */
  order?: (to: 1 | -1 | 'first' | 'last') => void
  /** To the next field of the record; whether there is one. */
  field: (by: 1 | -1) => boolean
  begin: (start?: string) => void
  clear: () => void
  choose: () => void
  open: () => void
  why: () => void
  menu: () => void
  /** Leaves what is chosen. */
  leave: () => void
  isAtOne: () => boolean
}

/** Where a key takes a record in an order by hand. */
const ORDER: Readonly<Record<string, 1 | -1 | 'first' | 'last'>> = { ArrowUp: -1, ArrowDown: 1, Home: 'first', End: 'last' }

/** How many records a page is. */
const PAGE = 8

/** Does what a key means; whether it meant anything. */
export function boardKey(event: KeyboardEvent, board: BoardKeys): boolean {
  const mod = event.ctrlKey || event.metaKey
  const across = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : undefined
  const order = event.shiftKey ? ORDER[event.key] : undefined
  if (event.altKey && order && board.order) return did(() => board.order?.(order))
  if (event.altKey) return across !== undefined && event.shiftKey && did(() => board.shift(across))
  if (event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey)) return did(board.menu)
  if (mod) {
    if (event.key === '.') return did(board.why)
    if (event.key === ' ') return did(board.choose)
    return event.key === 'Enter' && !event.shiftKey && did(board.open)
  }
  if (across !== undefined) return did(() => board.sideways(across))
  switch (event.key) {
    case 'ArrowDown':
      return did(() => board.step(1))
    case 'ArrowUp':
      return did(() => board.step(-1))
    case 'PageDown':
      return did(() => board.step(PAGE))
    case 'PageUp':
      return did(() => board.step(-PAGE))
    case 'Home':
      return did(() => board.step(-Infinity))
    case 'End':
      return did(() => board.step(Infinity))
    case 'Escape':
      return did(board.leave)
    case 'Tab':
      return board.isAtOne() && board.field(event.shiftKey ? -1 : 1)
    case 'Enter':
    case 'F2':
      return did(() => board.begin())
    case 'Delete':
    case 'Backspace':
      return board.isAtOne() && did(board.clear)
    default:
      return event.key.length === 1 && board.isAtOne() && did(() => board.begin(event.key))
  }
}

function did(work: () => unknown): true {
  work()
  return true
}
