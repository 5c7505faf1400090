// What stands in the cells of a shared page, and what somebody put in its place.
import type { Input, PageRow, PageTable, QuestionView } from '@/api/types'
import { begun, input } from '@/form/answer'

type Cell = PageRow['cells'][number] | undefined

/** The files that a cell holds. */
export function filesIn(cell: Cell) {
  const value = cell?.value
  return typeof value === 'object' && value && 'files' in value ? value.files : []
}

/** The colour of a choice's option, where a cell holds one. */
export function hueOf(cell: Cell, options: { id: number; hue: string }[] | undefined): string | undefined {
  const value = cell?.value
  return typeof value === 'object' && value && 'choice' in value ? options?.find(({ id }) => id === value.choice)?.hue : undefined
}

/** Of what was answered, what is another than stood there; each with what stood there. */
export function inputsThatChanged(questions: QuestionView[], given: Record<number, Input>, row: PageRow, part: PageTable) {
  const changed = questions.filter((question) => {
    const before = input(question.answer, begun(question))
    return JSON.stringify(before) !== JSON.stringify(given[question.field])
  })
  return changed.map(({ field }) => ({
    field,
    input: given[field] ?? { value: 'empty' as const },
    was: row.cells[part.columns.findIndex((column) => column.field === field)]?.value ?? ('empty' as const),
  }))
}

/** The field that a fault of what was sent is about: an edit by its place among those sent, all else by the field’s number. */
export function faultyField(pointer: string, edits: { field: number }[]): number | undefined {
  const [, of, place] = pointer.split('/')
  return of === 'edits' ? edits[Number(place)]?.field : Number(pointer.split('/').at(-1)) || undefined
}
