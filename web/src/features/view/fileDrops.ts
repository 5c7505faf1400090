// Files dropped on a cell of rows: they are sent to the field that lies there, if it holds files.
import { ref } from 'vue'
import type { Field, Row } from '@/api/types'
import { useEdits } from '@/features/cell/edits'
import { bringsFiles, filesOf } from '@/features/files/files'
import { putOnRecord, useFileSending, type Cell } from '@/features/files/sending'

export function useFileDrops(of: {
  tracker: () => number
  table: () => number
  columns: () => Field[]
  may: (row: Row, field: Field) => boolean
  refresh: () => Promise<unknown>
}) {
  const edits = useEdits()
  /** The cell over which files are held. */
  const over = ref<{ record: number; field: number }>()
  const sending = useFileSending<Cell>(async (to, tokens) => {
    edits.remember(to.tracker, await putOnRecord(to, tokens))
    void of.refresh()
  })

  /** The field under what is dragged, if files may be put into it. */
  function under(event: DragEvent, row: Row): Field | undefined {
    const name = event.target instanceof Element ? event.target.closest<HTMLElement>('[data-field]')?.dataset.field : undefined
    const field = of.columns().find((field) => field.name === name)
    return field?.kind.type === 'files' && of.may(row, field) ? field : undefined
  }

  /** Whether it is files that are dragged: then nothing else is. */
  function dragged(event: DragEvent, row: Row): boolean {
    if (!bringsFiles(event)) return false
    const field = under(event, row)
    over.value = field && { record: row.id, field: field.id }
    if (field) event.preventDefault()
    return true
  }

  function dropped(event: DragEvent, row: Row): boolean {
    if (!bringsFiles(event)) return false
    const field = under(event, row)
    over.value = undefined
    if (field) {
      const to = { tracker: of.tracker(), table: of.table(), record: row.id, field: field.id }
      void sending.send(filesOf(event.dataTransfer), to)
    }
    return true
  }

  const leave = () => (over.value = undefined)
  return { over, dragged, dropped, leave, sending }
}
