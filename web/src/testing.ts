// What component tests share: components as they stand on a page, and fields and records as the server tells them.
import { VueQueryPlugin } from '@tanstack/vue-query'
import { mount, type VueWrapper } from '@vue/test-utils'
import { vi } from 'vitest'
import { createApp, nextTick, type Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import type { Field, Kind, KindWords, Table, Tracker } from '@/api/types'
import { makeQueries } from '@/app/asking'
import { VOCABULARY } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import type { PickItem } from '@/features/menu/pick'
import { makeTracker, TRACKER, type TrackerContext } from '@/features/tracker/tracker'
import { makeVuetify } from '@/theme/vuetify'

// The stand-in for a browser draws nothing: it knows no part of the window that is in sight, and no colours.
Object.assign(globalThis, {
  visualViewport: Object.assign(new EventTarget(), { width: 1280, height: 800, offsetLeft: 0, offsetTop: 0, scale: 1 }),
})
Object.assign(document, { elementsFromPoint: () => [] })
Object.assign(HTMLElement.prototype, { showPopover: () => undefined, hidePopover: () => undefined })
for (const name of ['stone', 'sheet', 'moss', 'moss-ink', 'copper', 'fault', 'ink'])
  document.documentElement.style.setProperty(`--${name}`, '#777777')

/** An open tracker, as a test needs it. */
export function opened(over: Partial<Tracker> = {}): TrackerContext {
  const context = makeTracker()
  context.tracker.value = {
    id: 1,
    name: 'Path upkeep',
    tables: [],
    people: [],
    groups: [],
    forms: [],
    pages: [],
    views: [],
    builds: true,
    ...over,
  } as unknown as Tracker
  return context
}

/** A little of what can be said. */
function queries() {
  const client = makeQueries()
  const kinds: Partial<KindWords>[] = [
    {
      type: 'text',
      name: 'Text',
      what: 'one line',
      group: 'Words',
      begins: { type: 'text', limit: 1000 },
      asked: true,
      shared: true,
      checks: [
        { name: 'contains', begins: { is: 'text', how: 'contains', text: '' } },
        { name: 'is', begins: { is: 'text', how: 'is', text: '' } },
        { name: 'is empty', begins: { is: 'empty' } },
      ],
      orders: ['from A to Z', 'from Z to A'],
    },
    {
      type: 'number',
      name: 'Number',
      becomes: true,
      what: 'with a unit',
      group: 'Numbers and days',
      begins: { type: 'number', decimals: 0, unit: '' },
      checks: [
        { name: 'is under', begins: { is: 'number', how: 'under', than: '0' } },
        { name: 'is over', begins: { is: 'number', how: 'over', than: '0' } },
        { name: 'is from … to', begins: { is: 'between', least: '0', most: '0' } },
      ],
    },
    {
      type: 'date',
      checks: [
        { name: 'is within', begins: { is: 'within', period: 'this_week' } },
        { name: 'is before', begins: { is: 'day', how: 'under', than: { today: 0 } } },
        { name: 'is more than … days ago', begins: { is: 'older', days: 30 } },
      ],
    },
    {
      type: 'choice',
      checks: [
        { name: 'is any of', begins: { is: 'option', not: false, any: [] } },
        { name: 'is none of', begins: { is: 'option', not: true, any: [] } },
      ],
    },
    { type: 'link', name: 'Link', becomes: true, group: 'Other tables', checks: [], orders: ['from A to Z', 'from Z to A'] },
    {
      type: 'person',
      checks: [{ name: 'is any of', begins: { is: 'person', not: false, any: [] } }],
    },
  ]
  const periods = [
    { name: 'this week', begins: 'this_week' },
    { name: 'the last … days', begins: { last_days: 7 } },
    { name: 'the next … days', begins: { next_days: 7 } },
  ]
  const figures = [
    { figure: 'count', name: 'how many', word: 'count', short: true, of: [] },
    { figure: 'sum', name: 'the sum', word: 'sum', short: true, of: ['number'] },
    { figure: 'most', name: 'the most', word: 'most', short: true, of: ['number'] },
  ]
  const chosen = {
    audiences: [
      { value: 'anyone', name: 'everyone who has the link' },
      { value: 'team', name: 'people who are signed in' },
      { value: 'once', name: 'people who are signed in, each once' },
    ],
    bases: [
      { value: 'own', name: 'Does what stands here and nothing else.' },
      { value: 'reader', name: 'Looks at everything, changes nothing.' },
    ],
    reaches: [
      { value: 'none', name: 'no …' },
      { value: 'all', name: 'all …' },
      { value: 'mine', name: 'their own …' },
      { value: { where: { all: [] } }, name: '… where …' },
    ],
    field_rights: [
      { value: 'change', name: 'as the record' },
      { value: 'read', name: 'only read' },
      { value: 'hidden', name: 'hidden' },
    ],
    occasions: [
      { value: { form: 1 }, name: 'comes by the form “…”' },
      { value: { form: null }, name: 'comes by any form' },
      { value: 'added', name: 'is added by one of the team' },
      { value: { changed: [] }, name: 'has something changed' },
      { value: 'fits', name: 'begins to fulfil the condition' },
      { value: { date: { field: 1, days: 0, at: 420, working: false } }, name: 'comes to a day of its own' },
      { value: { every: { round: 'daily', at: 420 } }, name: 'is due by a timetable' },
      { value: 'pressed', name: 'has its button pressed' },
      { value: 'chosen', name: 'is chosen, and this is run by hand' },
    ],
    unmatched: [
      { value: 'create', name: 'is made' },
      { value: 'leave', name: 'is left empty' },
      { value: 'flag', name: 'is refused and listed' },
    ],
    rests: [
      { value: 'create', name: 'becomes a new record' },
      { value: 'spare', name: 'is kept in a text field beside it' },
      { value: 'empty', name: 'is left empty' },
    ],
    restarts: [
      { value: 'never', name: 'never' },
      { value: 'yearly', name: 'every year' },
    ],
    mail_parts: [
      { value: 'subject', name: 'the subject' },
      { value: 'text', name: 'the text' },
      { value: 'sender', name: 'the sender’s address' },
      { value: 'name', name: 'the sender’s name' },
    ],
  }
  const draws = [
    { value: 'table', name: 'a table' },
    { value: 'parts', name: 'parts of a whole' },
  ]
  client.setQueryData(VOCABULARY, { kinds, draws, periods, figures, hues: ['heather', 'gorse', 'sky'], ...chosen })
  return client
}

/** Addresses that lead nowhere: links are drawn, and where one is sent can be asked. */
export function makeRouter() {
  const names = [
    'view',
    'form',
    'forms',
    'record',
    'calculation',
    'summary',
    'automations',
    'documents',
    'access',
    'groundplan',
    'design',
    'post-room',
    'poster',
    'import',
    'answers',
    'start',
    'tracker',
    'sign-in',
    'people',
    'own',
    'pages',
    'highlights',
    'hangs',
    'find',
    'find-all',
    'bin',
    'doubles',
    'inbox',
    'rounds',
  ]
  const routes = names.map((name) => ({ name, path: `/${name}/:tracker?/:table?/:rest*`, component: { template: '<i />' } }))
  return createRouter({
    history: createMemoryHistory(),
    routes: [
      ...routes,
      { name: 'document', path: '/documents/:tracker/:document', component: { template: '<i />' } },
      { name: 'page', path: '/page/:tracker/:page', component: { template: '<i />' } },
      { name: 'dashboard', path: '/d/:dashboard', component: { template: '<i />' } },
      { name: 'home', path: '/', component: { template: '<i />' } },
    ],
  })
}

/** A component on the page, with Vuetify, an open tracker and addresses about it. */
export function put<T extends Component>(
  component: T,
  options: Parameters<typeof mount<T>>[1] = {},
  tracker = opened(),
  router = makeRouter(),
) {
  const plugins = [makeVuetify(), router, [VueQueryPlugin, { queryClient: queries() }] as const]
  const global = { plugins, provide: { [TRACKER as symbol]: tracker }, ...options?.global }
  return mount(component, { attachTo: document.body, ...options, global } as typeof options)
}

/** Runs a composable where an open tracker is given. */
export function within<T>(tracker: TrackerContext, runs: () => T): T {
  const app = createApp({})
  app.provide(TRACKER, tracker)
  app.use(VueQueryPlugin, { queryClient: queries() })
  return app.runWithContext(runs)
}

/** Waits until what was asked for has been drawn. */
export async function settled() {
  for (let turn = 0; turn < 5; turn++) await new Promise((done) => setTimeout(done))
  await nextTick()
}

/** The list that one chooses from, by where it stands. */
function list(shown: VueWrapper, css: string) {
  // A component that is generic in what it offers has no type of its own to be found by.
  const found = shown.findAllComponents(PickOne as never) as unknown as VueWrapper[]
  const one = found.find(({ element }) => (element as Element).matches(css) || (element as Element).querySelector(css))
  if (!one) throw new Error(`nothing is chosen at ${css}`)
  return {
    emit: one.vm.$emit,
    chosen: one.props('modelValue' as never) as unknown,
    items: one.props('items' as never) as readonly PickItem<unknown>[],
  }
}

/** What one can choose there, in order. */
export const offered = (shown: VueWrapper, css: string) => list(shown, css).items.map((item) => item.title)

/** What is chosen there, by its name. */
export function chosen(shown: VueWrapper, css: string) {
  const { chosen, items } = list(shown, css)
  return items.find((item) => item.value === chosen)?.title
}

/** Chooses one of a list by its name. */
export async function choose(shown: VueWrapper, css: string, title: string) {
  const { emit, items } = list(shown, css)
  const item = items.find((one) => one.title === title)
  if (!item) throw new Error(`“${title}” is not offered at ${css}`)
  emit('update:modelValue', item.value)
  await nextTick()
}

export function field(kind: Kind, over: Partial<Field> = {}): Field {
  return {
    id: 40,
    name: 'Severity',
    within: 'severity',
    kind,
    shows: kind,
    writes: true,
    required: false,
    unique: false,
    help: '',
    ...over,
  } as Field
}

export function table(fields: Field[], over: Partial<Table> = {}): Table {
  return {
    id: 3,
    name: 'Faults',
    one: 'fault',
    many: 'faults',
    standing: 41,
    fields,
    adds: true,
    removes: true,
    count: 0,
    lists: [],
    recipes: [],
    views: [],
    ...over,
  } as Table
}

export interface Asked {
  method: string
  path: string
  body: unknown
}

/**
 * A server that answers as a test says, by method and path (`GET /api/trackers/1/roles`); what is not said is not found. Gives
 * what it was asked, in order.
 */
export function answering(answers: Record<string, unknown>): Asked[] {
  const asked: Asked[] = []
  vi.stubGlobal('fetch', async (input: RequestInfo | URL, init?: RequestInit) => {
    const request = input instanceof Request ? input : new Request(new URL(String(input), 'http://localhost'), init)
    const { pathname: path, searchParams } = new URL(request.url)
    const text = await request.clone().text()
    const isJson = request.headers.get('content-type')?.includes('json')
    asked.push({ method: request.method, path, body: text && isJson ? JSON.parse(text) : text || undefined })
    const known = answers[`${request.method} ${path}`]
    const answer: unknown = typeof known === 'function' ? (known as (query: URLSearchParams) => unknown)(searchParams) : known
    if (answer instanceof Response) return answer.clone()
    if (answer !== undefined) return Response.json(answer)
    return refusing(404, 'There is no such address.')
  })
  return asked
}

/** A refusal of the server. */
export function refusing(status: number, detail: string, faults: { pointer: string; message: string; kind?: string }[] = []) {
  const body = { type: 'about:blank', title: '', status, detail, faults }
  return Response.json(body, { status, headers: { 'content-type': 'application/problem+json' } })
}

/** What was asked for by something other than reading. */
export const changes = (asked: Asked[]) => asked.filter((one) => one.method !== 'GET')
