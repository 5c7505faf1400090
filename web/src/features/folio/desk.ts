// What the parts of an opened record share: its cells, what is being edited, and what to do with what is typed. The same for a record
// that is there and for one on its way.
import { computed, inject, provide, ref, type ComputedRef, type InjectionKey, type Ref } from 'vue'
import type { Cell, Field, Input, LaidOut, Look, Table, Value } from '@/api/types'
import type { Move } from '@/features/cell/CellEditor.vue'
import { editor } from '@/features/cell/kinds'
import type { Attachment } from '@/features/files/files'
import type { LinesKept } from './linesKept'

/** What is being edited: what stood there when one began, and why the last try was refused. */
export interface Editing {
  field: number
  was?: Value
  fault?: string
}

/** Puts files that came where they were meant to go. */
export type Hanging = (tokens: string[]) => Promise<void>

export interface FolioDesk {
  tracker: number
  table: Table
  /** The record; none while it is on its way. */
  at: { tracker: number; table: number; record: number } | undefined
  /** Whether one may change it. */
  change: boolean
  laid: LaidOut
  cell: (field: number) => Cell | null | undefined
  look?: (field: number) => Look | undefined
  /** What stood in a field before, and until when. */
  until?: (field: number) => string | undefined
  /** Of a copied value: what stands now where it came from, if that is something else. */
  source?: (field: number) => string | undefined
  /** Whether one looks at an earlier moment. */
  past?: boolean
  /** What a field held at the moment at which one looks back, where that is something else now. */
  then?: (field: number) => string | undefined
  /** Who else writes in a field. */
  writer?: (field: number) => string | undefined
  /** Where the lines under a link are read and kept. */
  lines: (field: Field, lines: Table) => LinesKept
  /** Why what was put in does not fit. */
  wrong?: (field: number) => string | undefined
  isMissing?: (field: number) => boolean
  editing: Editing | undefined
  begin: (field: number) => void
  /** What is typed into a field is left; one may go on from it. */
  cancel: (field: number, move?: Move) => void
  commit: (field: Field, input: Input, move?: Move) => void
  /** What puts files that came beside those that a field holds: here, wherever one has gone by then. */
  hang: (field: number) => Hanging
  /** Says which files stay in a field. */
  keep: (field: Field, files: Attachment[]) => void
  why?: (field: number, x: number, y: number) => void
  /** Tells what a field was before. */
  history?: (field: Field) => void
  /** Something else than a cell was changed: files, lines. */
  changed: () => void
}

const DESK: InjectionKey<ComputedRef<FolioDesk>> = Symbol('folio desk')

export const useDesk = () => inject(DESK)!
export function provideDesk(desk: () => FolioDesk) {
  const given = computed(desk)
  provide(DESK, given)
  return given
}

export const isList = (field: Field) => field.kind.type === 'link' && !field.kind.one
export const tableOf = (field: Field): number | undefined => (field.shows.type === 'link' ? field.shows.to : undefined)

/** What the choice that a dependent one depends on holds; nothing of a field that depends on none. */
export function ground(field: Field, cell: (field: number) => Cell | null | undefined): number | null | undefined {
  const on = field.kind.type === 'choice' ? field.kind.on : undefined
  if (on == null) return undefined
  const value = cell(on)?.value
  return typeof value === 'object' && 'choice' in value ? value.choice : null
}

/** The fields that one types into, in the order in which they stand: Tab goes along them. */
export function typedInto(desk: Pick<FolioDesk, 'laid' | 'table'>, isOpen: (section: number) => boolean = () => true): number[] {
  const placed = desk.laid.sections.flatMap((section, n) => (isOpen(n) ? section.fields.map((one) => one.field) : []))
  const all = placed.includes(desk.table.standing) ? placed : [desk.table.standing, ...placed]
  const types = (id: number) => {
    const field = desk.table.fields.find((one) => one.id === id)
    return !!field?.writes && !!editor(field) && field.kind.type !== 'files' && !field.lines
  }
  return all.filter(types)
}

/** Where one goes on from a field: to the one after it or before it; nowhere from the last. */
export function goesOn(order: number[], from: number, move: Move | undefined): number | undefined {
  const by = move === 'right' || move === 'down' ? 1 : move === 'left' ? -1 : 0
  const place = order.indexOf(from)
  return by && place >= 0 ? order[place + by] : undefined
}

/** Which sections one has opened or closed here, beside how they are at first. */
export function useClosed(): { isClosed: (heading: string, first: boolean) => boolean; toggle: (heading: string, first: boolean) => void } {
  const turned: Ref<Set<string>> = ref(new Set())
  return {
    isClosed: (heading, first) => !!heading && first !== turned.value.has(heading),
    toggle: (heading) => {
      const now = new Set(turned.value)
      if (!now.delete(heading)) now.add(heading)
      turned.value = now
    },
  }
}
