// A document on the way from one state to another, and its blocks: how they begin, lie and move. Pure, but for the last.
import type { Ref } from 'vue'
import { api, told } from '@/api/client'
import type { BlockShows, BlockWords, DocumentView, SheetBlock, SheetDocument, Table, Tracker } from '@/api/types'
import { useDesign } from '@/features/tracker/design'

export type BlockSort = BlockShows['as']

/** The blocks that can be put into a document, in the order in which they are offered. */
export const SORTS: { sort: BlockSort; says: string; each: boolean | undefined }[] = [
  { sort: 'heading', says: 'heading', each: undefined },
  { sort: 'text', says: 'text', each: undefined },
  { sort: 'facts', says: 'facts', each: true },
  { sort: 'lines', says: 'lines', each: true },
  { sort: 'table', says: 'table', each: false },
  { sort: 'sums', says: 'sums', each: true },
  { sort: 'picture', says: 'picture', each: true },
  { sort: 'signature', says: 'signature', each: undefined },
  { sort: 'rule', says: 'rule', each: undefined },
  { sort: 'space', says: 'space', each: undefined },
  { sort: 'break', says: 'new page', each: undefined },
]

const TOLD = new Set(['text', 'number', 'money', 'percent', 'date', 'date_time', 'range', 'choice', 'choices', 'person', 'people'])
const first = (table: Table, types: Set<string>, but: readonly string[] = []) =>
  table.fields.find((field) => types.has(field.shows.type) && !but.includes(field.kind.type))?.id

/** What a block of a sort begins with; nothing where the table has nothing for it. */
export function begun(sort: BlockSort, tracker: Tracker, table: Table): BlockShows | undefined {
  switch (sort) {
    case 'heading':
      return { as: 'heading', text: table.one, team: false }
    case 'text':
      return { as: 'text', text: '', typed: false }
    case 'facts':
      return { as: 'facts', facts: [{ path: [table.standing], words: '' }], empty: 'blank' }
    case 'sums': {
      const money = first(table, new Set(['money', 'number']))
      return money === undefined ? undefined : { as: 'sums', facts: [{ path: [money], words: '' }], total: true }
    }
    case 'lines': {
      const link = linksOf(table)[0]
      const to = link && toOf(tracker, link)
      return link && to
        ? { as: 'lines', link: link.id, descending: false, without: '', shows: told3(to), totals: [], ruled: true, again: true }
        : undefined
    }
    case 'table':
      return { as: 'table', shows: told3(table), totals: [], ruled: true, again: true }
    case 'picture': {
      const files = table.fields.find((field) => field.kind.type === 'files')
      return files && { as: 'picture', path: [files.id], height: 60 }
    }
    case 'signature': {
      const person = first(table, new Set(['person']), ['created_by', 'changed_by'])
      return { as: 'signature', person: person === undefined ? [] : [person], on: [], signed: false, words: '' }
    }
    case 'space':
      return { as: 'space', height: 8 }
    default:
      return { as: sort }
  }
}

/** The first few fields that say something in few words. */
function told3(table: Table): number[] {
  const fields = table.fields.filter((field) => TOLD.has(field.shows.type) || field.id === table.standing)
  return (fields.length ? fields : table.fields).slice(0, 3).map((field) => field.id)
}

/** The links of a table that lines can be of. */
export const linksOf = (table: Table) => table.fields.filter((field) => field.kind.type === 'link')

/** The table to which a link leads. */
export const toOf = (tracker: Tracker, link: Table['fields'][number]) =>
  tracker.tables.find((one) => link.kind.type === 'link' && one.id === link.kind.to)

const PLAIN: Omit<SheetBlock, 'shows'> = {
  beside: false,
  set: { bold: false, align: 'left', above: false, below: false, together: false },
  when: { all: [] },
}

/** A block with these contents, set plainly. */
export const blockWith = (shows: BlockShows): SheetBlock => ({ ...JSON.parse(JSON.stringify(PLAIN)), shows }) as SheetBlock

/** The places of blocks, row by row: those that stand side by side lie in one row. */
export function rowsOf(blocks: readonly SheetBlock[]): number[][] {
  const rows: number[][] = []
  blocks.forEach((block, place) => {
    const last = rows.at(-1)
    if (block.beside && last) last.push(place)
    else rows.push([place])
  })
  return rows
}

/** The blocks with one further up or down; the first stands beside nothing. */
export function moved(blocks: readonly SheetBlock[], place: number, by: 1 | -1): SheetBlock[] {
  const next = [...blocks]
  const [one] = next.splice(place, 1)
  if (one) next.splice(Math.max(0, Math.min(next.length, place + by)), 0, one)
  return next.map((block, n) => (n === 0 && block.beside ? { ...block, beside: false } : block))
}

export const withBlock = (blocks: readonly SheetBlock[], place: number, block: SheetBlock) =>
  blocks.map((one, n) => (n === place ? block : one))

/** The blocks without one; what then stands first stands beside nothing. */
export function without(blocks: readonly SheetBlock[], place: number): SheetBlock[] {
  const rest = blocks.filter((_, n) => n !== place)
  return rest.map((block, n) => (n === 0 && block.beside ? { ...block, beside: false } : block))
}

/** The same block twice, one after the other. */
export function doubled(blocks: readonly SheetBlock[], place: number): SheetBlock[] {
  const one = blocks[place]
  return one
    ? [...blocks.slice(0, place + 1), JSON.parse(JSON.stringify({ ...one, beside: false })) as SheetBlock, ...blocks.slice(place + 1)]
    : [...blocks]
}

/** What a block was made of when it was put into words; where it stands does not matter. */
const madeOf = ({ shows, set, when }: SheetBlock) => JSON.stringify([shows, set, when])

/**
 * The words of a block, from the document as it was looked at last: those of the same block, wherever it stood then, and while it is
 * changed those that stood in its place. So nothing that was moved is told as something else until the server has looked again.
 */
export function wordsOf(blocks: readonly SheetBlock[], place: number, looked: DocumentView): BlockWords | undefined {
  const block = blocks[place]
  if (!block) return undefined
  const then = looked.document.blocks
  const made = madeOf(block)
  const here = then[place]
  if (here && madeOf(here) === made) return looked.words.blocks[place]
  const there = then.findIndex((one) => madeOf(one) === made)
  if (there >= 0) return looked.words.blocks[there]
  return here?.shows.as === block.shows.as ? looked.words.blocks[place] : undefined
}

export function useDocumentDesign(tracker: Ref<number>, id: Ref<number>) {
  return useDesign<SheetDocument, DocumentView>({
    sort: 'document',
    tracker,
    id,
    read: () =>
      told(api.GET('/api/trackers/{tracker}/documents/{document}', { params: { path: { tracker: tracker.value, document: id.value } } })),
    partOf: (view) => view.document,
    body: (document) => ({ document: { document } }),
    viewOf: (view) => ('document' in view ? view.document : undefined),
  })
}
