// Where the lines of a record are read and kept: at the record, or, while it is on its way, in its draft.
import { api, told } from '@/api/client'
import type { Condition, DraftLinesReply, Field, Input, QueryBody, QueryReply, Spot, Table, Value } from '@/api/types'
import { useEdits, type Block } from '@/features/cell/edits'

export interface LinesKept {
  /** Another one: other lines. */
  key: string
  /** Which of their table they are, where they are records. */
  condition?: Condition
  /** By which field new ones are linked, and to which record, where there is one. */
  link?: { field: number; record: number }
  read: (body: QueryBody) => Promise<QueryReply>
  /** Adds one with nothing in it; gives its number. */
  add: () => Promise<number | undefined>
  edit: (line: number, field: number, input: Input, was: Value) => Promise<unknown>
  /** One has gone on from a line that was begun. */
  left: (line: number) => Promise<unknown>
  remove: (lines: number[]) => Promise<unknown>
  put: (block: Block) => Promise<unknown>
  /** Puts a line elsewhere; `order`: all of them, as they stand then. */
  place: (line: number, spot: Spot, order: number[]) => Promise<unknown>
  /** The record that a line is, where it is one. */
  at: (line: number) => { tracker: number; table: number; record: number } | undefined
}

const backOf = (field: Field) => (field.kind.type === 'link' ? field.kind.back : 0)

/** The lines of a record that is there: records of their own. */
export function linesOfRecord(record: { tracker: number; table: number; record: number }, field: Field, lines: Table): LinesKept {
  const edits = useEdits()
  const at = { tracker: record.tracker, table: lines.id }
  const link = { field: backOf(field), record: record.record }
  return {
    key: `${record.record} ${field.id}`,
    condition: { test: { path: [link.field], of: 'any', check: { is: 'record', not: false, any: [link.record] } } },
    link,
    read: (body) =>
      told(api.POST('/api/trackers/{tracker}/tables/{table}/query', { params: { path: at }, body: { ...body, under: field.id } })),
    add: () => edits.add(at, { [link.field]: { value: { links: [link.record] } } }, true),
    edit: (line, of, input, was) => edits.edit({ ...at, record: line }, of, input, was),
    left: (line) => edits.left({ ...at, record: line }),
    remove: (gone) => edits.remove(at, gone),
    put: (block) => edits.putBlock(at, block),
    place: (line, spot) => edits.placeLines({ tracker: record.tracker, table: record.table, field: field.id }, [line], spot),
    at: (line) => ({ ...at, record: line }),
  }
}

/**
 * The lines of a draft: nobody's but its maker's, until it is added with them.
 *
 * @param changed called with what comes of the draft by a change of them, while it is on its way
 */
export function linesOfDraft(
  draft: { tracker: number; table: number; draft: number },
  field: Field,
  changed: (reply: Promise<DraftLinesReply>) => Promise<DraftLinesReply>,
): LinesKept {
  const path = { ...draft, field: field.id }
  const change = (body: {
    lines?: { line: number | null; cells: { field: number; input: Input }[] }[]
    gone?: number[]
    order?: number[]
  }) => changed(told(api.PATCH('/api/trackers/{tracker}/tables/{table}/drafts/{draft}/lines/{field}', { params: { path }, body })))
  return {
    key: `draft ${draft.draft} ${field.id}`,
    read: (body) => told(api.POST('/api/trackers/{tracker}/tables/{table}/drafts/{draft}/lines/{field}/query', { params: { path }, body })),
    add: async () => (await change({ lines: [{ line: null, cells: [] }] })).lines[0],
    edit: (line, of, input) => change({ lines: [{ line, cells: [{ field: of, input }] }] }),
    left: () => Promise.resolve(),
    remove: (gone) => change({ gone }),
    put: ({ records, fields, cells }) =>
      change({
        lines: cells.map((row, n) => ({
          line: records[n] ?? null,
          cells: row.flatMap((input, column) => (input ? [{ field: fields[column]!, input }] : [])),
        })),
      }),
    place: (_line, _spot, order) => change({ order }),
    at: () => undefined,
  }
}
