// What component tests share: components as they stand on a page, and fields and records as the server tells them.
import { mount } from '@vue/test-utils'
import { nextTick, type Component } from 'vue'
import type { Field, Kind, Table } from '@/api/types'
import { makeVuetify } from '@/theme/vuetify'

// The stand-in for a browser draws nothing: it knows no part of the window that is in sight, and no colours.
Object.assign(globalThis, {
  visualViewport: Object.assign(new EventTarget(), { width: 1280, height: 800, offsetLeft: 0, offsetTop: 0, scale: 1 }),
})
for (const name of ['stone', 'sheet', 'moss', 'moss-ink', 'copper', 'fault', 'ink'])
  document.documentElement.style.setProperty(`--${name}`, '#777777')

/** A component on the page, with Vuetify about it. */
export function put<T extends Component>(component: T, options: Parameters<typeof mount<T>>[1] = {}) {
  return mount(component, { attachTo: document.body, ...options, global: { plugins: [makeVuetify()], ...options?.global } })
}

/** Waits until what was asked for has been drawn. */
export async function settled() {
  for (let turn = 0; turn < 5; turn++) await new Promise((done) => setTimeout(done))
  await nextTick()
}

export function field(kind: Kind, over: Partial<Field> = {}): Field {
  return { id: 40, name: 'Severity', kind, shows: kind, writes: true, required: false, unique: false, help: '', ...over } as Field
}

export function table(fields: Field[], over: Partial<Table> = {}): Table {
  return { id: 3, name: 'Faults', one: 'fault', many: 'faults', standing: 41, fields, adds: true, count: 0, ...over } as Table
}
