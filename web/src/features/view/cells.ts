// Being in a cell of records, and editing it: the same in every shape.
import { onBeforeUnmount, type Ref } from 'vue'
import type { Field, Input, Row, Table, Value } from '@/api/types'
import { editor } from '@/features/cell/kinds'
import { useActive } from './active'
import { useCellEditing } from './cellEditing'
import type { Layout } from './layout'
import type { Shown } from './window'

/** What every shape is given. */
export interface CellsProps {
  table: Table
  window: Shown
  /** Puts a value into a cell; throws what the server refuses. */
  edit: (table: number, record: number, field: Field, input: Input, was: Value | undefined) => Promise<unknown>
  /** Says that one has gone on from a record that somebody began. */
  left: (record: number) => Promise<unknown>
  /** One stands in for somebody. */
  readonly: boolean
}

/** What every shape says. */
interface CellsSay {
  moved: (record: number | undefined) => void
  open: (record: number) => void
  trouble: (words: string) => void
  /** What was typed took a record out of what is shown. */
  gone: (record: number) => void
}

export interface CellsOptions {
  props: CellsProps
  columns: Ref<Field[]>
  layout: Ref<Layout>
  /** Brings a line into sight. */
  reveal: (line: number) => void
  /** Whether headings can be walked to. */
  headings?: () => boolean
  /** One goes anywhere. */
  onGo?: () => void
  /** Puts the keys back to where they are heard. */
  focus: () => void
  say: CellsSay
}

export const STANDING_IN = 'You are standing in for somebody, to look. Stop standing in before you change anything.'

export function useCells({ props, columns, layout, reveal, headings = () => false, onGo, focus, say }: CellsOptions) {
  const may = (row: Row | undefined, field: Field | undefined) => !props.readonly && !!row?.change && !!field && !!editor(field)
  const at = useActive({
    columns,
    layout,
    window: () => props.window,
    reveal,
    headings,
    // Whoever goes on from a record that was begun has left it, once what they typed has arrived.
    onLeave: (row) => {
      if (row?.begun && !props.readonly) cells.sending.after(() => props.left(row.id))
    },
    onGo: () => {
      cells.end()
      onGo?.()
    },
    onMove: say.moved,
  })
  const cells = useCellEditing({
    at,
    columns: () => columns.value,
    table: () => props.table.id,
    window: () => props.window,
    edit: (...cell) => props.edit(...cell),
    may,
    refusal: (row, field) => (props.readonly ? STANDING_IN : (field.refusal ?? (row.change ? '' : props.table.looking))),
    open: say.open,
    trouble: say.trouble,
    gone: say.gone,
    focus,
  })
  onBeforeUnmount(at.leave)
  return { at, cells, may }
}
