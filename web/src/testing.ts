// What component tests share: components as they stand on a page, and fields and records as the server tells them.
import { VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { createApp, nextTick, type Component } from 'vue'
import type { Field, Kind, KindWords, Table, Tracker } from '@/api/types'
import { makeQueries } from '@/app/asking'
import { VOCABULARY } from '@/features/condition/vocabulary'
import { makeTracker, TRACKER, type TrackerContext } from '@/features/tracker/tracker'
import { makeVuetify } from '@/theme/vuetify'

// The stand-in for a browser draws nothing: it knows no part of the window that is in sight, and no colours.
Object.assign(globalThis, {
  visualViewport: Object.assign(new EventTarget(), { width: 1280, height: 800, offsetLeft: 0, offsetTop: 0, scale: 1 }),
})
Object.assign(document, { elementsFromPoint: () => [] })
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
    forms: [],
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
      checks: [
        { name: 'contains', begins: { is: 'text', how: 'contains', text: '' } },
        { name: 'is', begins: { is: 'text', how: 'is', text: '' } },
        { name: 'is empty', begins: { is: 'empty' } },
      ],
      orders: ['from A to Z', 'from Z to A'],
    },
    {
      type: 'number',
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
  client.setQueryData(VOCABULARY, { kinds, periods, hues: ['heather', 'gorse', 'sky'] })
  return client
}

/** A component on the page, with Vuetify and an open tracker about it. */
export function put<T extends Component>(component: T, options: Parameters<typeof mount<T>>[1] = {}, tracker = opened()) {
  const plugins = [makeVuetify(), [VueQueryPlugin, { queryClient: queries() }] as const]
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
  return { id: 3, name: 'Faults', one: 'fault', many: 'faults', standing: 41, fields, adds: true, count: 0, ...over } as Table
}
