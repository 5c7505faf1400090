// What all parts of an almanac share: what it is of, how records are called, and what can be done with one.
import { inject, type InjectionKey, type Ref } from 'vue'
import type { AlmanacMark, AlmanacShape, Field, Look, Row, Table } from '@/api/types'
import type { Carried, End, Spot } from './placing'

export interface AlmanacDesk {
  table: Ref<Table>
  shape: Ref<AlmanacShape>
  /** Today, where the tracker is. */
  today: Ref<string>
  zone: Ref<string>
  rows: Ref<ReadonlyMap<number, Row>>
  fieldOf: (id: number | null | undefined) => Field | undefined
  nameOf: (row: Row | undefined) => string
  /** What it says of itself beside its name, a line each. */
  about: (row: Row | undefined) => string
  hueOf: (row: Row | undefined) => string | undefined
  lookOf: (row: Row | undefined) => Look | undefined
  isMoved: (row: Row | undefined, date: number) => boolean
  carried: Ref<Carried | undefined>
  over: Ref<Spot | undefined>
  /** What a drop would make of it. */
  saysDrop: Ref<string>
  lift: (event: DragEvent, row: Row | undefined, from: Partial<Carried>) => void
  leave: () => void
  drop: (spot: Spot) => Promise<void>
  /** By keys, from where it is to there. */
  shift: (record: number, from: Partial<Carried>, to: Spot, end?: End) => void
  adds: Ref<boolean>
  begin: (spot: Spot) => void
  open: (record: number) => void
  menu: (event: MouseEvent | KeyboardEvent, row: Row | undefined, mark: AlmanacMark | undefined) => void
  /** Asks for another day. */
  give: (row: Row, mark: AlmanacMark | undefined) => void
}

export const DESK: InjectionKey<AlmanacDesk> = Symbol('almanac')

/** @throws where no almanac is around it. */
export function useDesk(): AlmanacDesk {
  const desk = inject(DESK, undefined)
  if (!desk) throw new Error('A part of an almanac stands in an AlmanacBoard.')
  return desk
}
