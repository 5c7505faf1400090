// A shared page in tests: a part of it, a record, and its server.
import { mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, vi } from 'vitest'
import type { LaidSection, PageColumn, PageRow, PageTable } from '@/api/types'
import { PAGE, pageAt } from './asking'

export const question = (field: number, label: string, answer: object) => ({
  field,
  label,
  help: '',
  required: false,
  answer,
  decides: false,
})
export const NOTE = {
  field: 2,
  name: 'Note',
  figures: false,
  text: true,
  orders: ['from A to Z', 'from Z to A'],
  question: question(2, 'Note', { type: 'text', limit: 200 }),
} as PageColumn
export const OPTIONS = [
  { id: 7, name: 'yes', hue: 'fern' },
  { id: 8, name: 'no', hue: 'flint' },
]
export const HELPS = {
  ...NOTE,
  field: 3,
  name: 'Helps',
  text: false,
  options: OPTIONS,
  question: question(3, 'Helps', { type: 'choice', options: OPTIONS }),
} as PageColumn
export const TITLE = { field: 1, name: 'What is wrong', figures: false, text: true, orders: NOTE.orders } as PageColumn
export const ROW = {
  id: 5,
  change: true,
  remove: false,
  cells: [
    { text: 'Gate will not open' },
    { text: 'a spare', typed: 'a spare', value: { text: 'a spare' } },
    { text: 'yes', typed: 'yes', value: { choice: 7 } },
  ],
} as unknown as PageRow
/** A section of an opened record. */
export const section = (fields: number[], over: Partial<LaidSection> = {}): LaidSection => ({
  heading: '',
  two: false,
  closed: false,
  fields: fields.map((field) => ({ field, wide: false })),
  ...over,
})

export const PART: PageTable = {
  number: 1,
  title: 'Still open',
  one: 'fault',
  many: 'faults',
  columns: [TITLE, NOTE, HELPS],
  sections: [section([1, 2, 3])],
  sorts: [],
  shape: { as: 'rows' },
  figures: [],
  adds: false,
}
/** What the server tells of one record. */
export const TOLD = { total: 1, matching: 1, start: 0, rows: [ROW], groups: [], figures: [] }

/** A server for each of a file’s cases: what it answers, by the method and the end of the address, and what it was asked. */
export function pageServer() {
  const server = { answers: {} as Record<string, unknown>, asked: [] as { at: string; body?: unknown }[] }
  let shown: VueWrapper | undefined

  beforeEach(() => {
    server.asked.length = 0
    server.answers = { 'POST /parts/1/rows': TOLD }
    vi.stubGlobal('fetch', (address: string, init: RequestInit = {}) => {
      const at = `${init.method ?? 'GET'} ${address.replace('/api/public/pages/here', '').split('?')[0]}`
      const sent = init.body instanceof FormData ? Object.fromEntries(init.body) : init.body && JSON.parse(init.body as string)
      server.asked.push({ at, body: sent || undefined })
      const answer = server.answers[at]
      const refused = answer as { status?: number } | undefined
      if (answer === undefined) return Promise.resolve(new Response(null, { status: 204 }))
      return Promise.resolve(new Response(JSON.stringify(answer), { status: refused?.status ?? 200 }))
    })
    vi.stubGlobal(
      'EventSource',
      class {
        addEventListener() {}
        close() {}
      },
    )
    HTMLDialogElement.prototype.showModal ??= () => undefined
    HTMLDialogElement.prototype.close ??= () => undefined
  })
  afterEach(() => {
    shown?.unmount()
    vi.unstubAllGlobals()
  })

  const page = pageAt('/p/here', '')
  return {
    server,
    put: (component: object, props: Record<string, unknown> = {}) =>
      (shown = mount(component, { props, attachTo: document.body, global: { provide: { [PAGE as symbol]: page } } }) as VueWrapper),
    asking: (at: string) => server.asked.filter((one) => one.at === at),
  }
}
