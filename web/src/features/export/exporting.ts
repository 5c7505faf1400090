// What a view shows, as a file: which files there are, what is said of each, and how far one has come.
import type { ExportBody, Query } from '@/api/types'
import { useAwaiting } from '@/app/awaiting'
import { useDownload } from '@/app/downloading'

export type ExportFormat = ExportBody['format']
export type ExportSeparator = NonNullable<ExportBody['separator']>

/** Files of lines; a calendar goes out as entries, too. */
const FILES: Record<ExportFormat, { title: string; keeps: string; ending: string }> = {
  xlsx: { title: 'a workbook (XLSX)', keeps: 'Dates and numbers stay what they are, at the widths that they have here.', ending: 'xlsx' },
  ods: {
    title: 'a workbook of the open standard (ODS)',
    keeps: 'Dates and numbers stay what they are, at the widths that they have here.',
    ending: 'ods',
  },
  csv: { title: 'plain lines (CSV)', keeps: 'One line for each record and nothing else: for other programs to take in.', ending: 'csv' },
  json: { title: 'objects (JSON)', keeps: 'An object for each record: for programs.', ending: 'json' },
  markdown: { title: 'a text with tables (Markdown)', keeps: 'As it reads here: for a mail, a note or a page.', ending: 'md' },
  ics: { title: 'a calendar (iCalendar)', keeps: 'Each record on its days, with what this view shows of it.', ending: 'ics' },
}
export const SEPARATORS: { value: ExportSeparator; title: string }[] = [
  { value: 'comma', title: 'commas' },
  { value: 'semicolon', title: 'semicolons' },
  { value: 'tab', title: 'tabs' },
]
/** The workbooks: how something looks stands in these alone. */
export const isWorkbook = (format: ExportFormat) => format === 'xlsx' || format === 'ods'

/** The files that a view can become, the likeliest first. */
export function formatsOf(query: Query): { value: ExportFormat; title: string }[] {
  const all: ExportFormat[] = ['xlsx', 'ods', 'csv', 'json', 'markdown']
  const shape = query.shape?.as
  const offered: ExportFormat[] = shape === 'calendar' ? ['ics', ...all] : all
  return offered.map((value) => ({ value, title: FILES[value].title }))
}

/** What is said of a file: what it keeps, and what becomes of groups in it. */
export function keeps(format: ExportFormat, query: Query): string {
  const grouped = query.shape?.as === 'lanes' || ((query.shape?.as ?? 'rows') !== 'calendar' && !!query.groups?.length)
  if (!grouped || format === 'ics' || query.shape?.as === 'cross-tab') return FILES[format].keeps
  if (isWorkbook(format)) return `${FILES[format].keeps} Each group has a line of its own and can be closed.`
  if (format === 'markdown') return `${FILES[format].keeps} Each group has a heading.`
  return `${FILES[format].keeps} What a record is grouped by stands in its line.`
}

export function useExporting() {
  const file = useDownload()
  const { far, awaiting } = useAwaiting()

  function get(tracker: number, table: number, body: ExportBody): Promise<boolean> {
    const address = `/api/trackers/${tracker}/tables/${table}/export`
    return awaiting((awaited) => file.get(address, { ...body, awaited }, `${body.name}.${FILES[body.format].ending}`))
  }
  return { busy: file.busy, trouble: file.trouble, far, get, stop: file.stop }
}
