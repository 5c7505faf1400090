import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Query, View } from '@/api/types'
import OwnCalendars from '@/features/session/OwnCalendars.vue'
import { answering, changes, choose, field, offered, opened, put, refusing, settled, table } from '@/testing'
import CalendarAddress from './CalendarAddress.vue'
import ExportSheet from './ExportSheet.vue'
import { formatsOf, keeps } from './exporting'

beforeEach(() => {
  document.body.innerHTML = ''
  URL.createObjectURL = vi.fn(() => 'blob:file')
  URL.revokeObjectURL = vi.fn()
  // Where it leads is the browser's to keep, and none of a test's.
  HTMLAnchorElement.prototype.click = vi.fn()
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

const NAME = field({ type: 'text', limit: 80 } as never, { id: 10, name: 'Number' })
const FILES = field({ type: 'files' } as never, { id: 11, name: 'Pictures' })
const home = table([NAME, FILES], { id: 1, one: 'fault', many: 'faults', standing: 10 } as never)
const tracker = opened({ tables: [home] } as never)
const query = (over: Partial<Query> = {}): Query => ({
  fields: [
    { field: 10, width: 100 },
    { field: 11, width: 100 },
  ],
  groups: [],
  ...over,
})
const CALENDAR = query({ shape: { as: 'calendar', dates: [{ start: 10 }] } as never })
const view = { id: 7, table: 1, name: 'Open faults', query: query() } as unknown as View

function sheet(over: object = {}) {
  return put(ExportSheet, { props: { tracker: 1, table: home, view, query: query(), count: 42, standing: false, ...over } }, tracker)
}

/** What is sent for a file; it comes at once, or never. */
function sending(never = false) {
  const sent: { body: Record<string, unknown>; signal?: AbortSignal | null }[] = []
  vi.stubGlobal('fetch', (address: string | Request, given: RequestInit) => {
    if (typeof address !== 'string') return Promise.resolve(new Response(JSON.stringify({ done: 2000, of: 8000 }), { status: 200 }))
    sent.push({ body: JSON.parse(String(given.body)) as Record<string, unknown>, signal: given.signal })
    if (!never) return Promise.resolve(new Response(new Blob(['x'])))
    return new Promise((_, refuse) => given.signal?.addEventListener('abort', () => refuse(new Error('stopped'))))
  })
  return sent
}

describe('the files that a view can become', () => {
  it('offers a calendar where there are days, and says what becomes of groups', () => {
    expect(formatsOf(query()).map((one) => one.value)).toEqual(['xlsx', 'ods', 'csv', 'json', 'markdown'])
    expect(formatsOf(CALENDAR)[0]!.value).toBe('ics')
    const grouped = query({ groups: [{ field: 10 }] as never })
    expect(keeps('xlsx', grouped)).toContain('can be closed')
    expect(keeps('csv', grouped)).toContain('stands in its line')
    expect(keeps('markdown', grouped)).toContain('has a heading')
    expect(keeps('xlsx', query())).not.toContain('group')
    // Lanes are groups, too; days are none.
    expect(keeps('csv', query({ shape: { as: 'lanes', by: 10 } as never }))).toContain('stands in its line')
    expect(keeps('csv', { ...CALENDAR, groups: [{ field: 10 }] as never })).not.toContain('stands in its line')
  })
})

describe('exporting', () => {
  it('says what goes out, and asks of each file what it can be asked', async () => {
    const sent = sending()
    const shown = sheet()
    expect(shown.find('.says').text()).toContain('42 faults with 2 fields, as they stand here, as')
    expect(shown.find('[data-test=export-pictures]').exists()).toBe(true)
    await shown.find('[data-test=export-looks] input').setValue(false)
    await shown.find('[data-test=export-pictures] input').setValue(true)
    await shown.find('[data-test=make-export]').trigger('click')
    await settled()
    expect(sent[0]!.body).toMatchObject({ format: 'xlsx', name: 'Open faults', view: 7, plain: true, pictures: true })
    expect(shown.emitted('close')).toHaveLength(1)
    await choose(shown, '[data-test=export-as]', 'plain lines (CSV)')
    expect(shown.find('[data-test=export-looks]').exists()).toBe(false)
    await choose(shown, '[data-test=export-separator]', 'semicolons')
    await shown.find('[data-test=export-mark] input').setValue(false)
    await shown.find('[data-test=make-export]').trigger('click')
    await settled()
    expect(sent[1]!.body).toMatchObject({ format: 'csv', separator: 'semicolon', unmarked: true })
  })

  it('says one record as one, and a cross-tab as what it is', () => {
    expect(sheet({ count: 1 }).find('.says').text()).toContain('1 fault with')
    const crossed = sheet({ query: query({ shape: { as: 'cross-tab', down: [] } as never }) })
    expect(crossed.find('.says').text()).toContain('This cross-tab as')
    expect(crossed.find('[data-test=export-looks]').exists()).toBe(false)
  })

  it('tells how far a long one has come, and stops it', async () => {
    vi.useFakeTimers()
    const sent = sending(true)
    const shown = sheet()
    await shown.find('[data-test=make-export]').trigger('click')
    expect(shown.find('[data-test=being-written]').text()).toBe('Being written …')
    await vi.advanceTimersByTimeAsync(500)
    expect(shown.find('[data-test=being-written]').text()).toContain('2,000 of 8,000')
    await shown.find('[data-test=stop-export]').trigger('click')
    await vi.advanceTimersByTimeAsync(10)
    expect(sent[0]!.signal?.aborted).toBe(true)
    expect(shown.find('[role=alert]').exists()).toBe(false)
    expect(shown.find('[data-test=being-written]').exists()).toBe(false)
    expect(shown.emitted('close')).toBeUndefined()
  })

  it('says why there is no file', async () => {
    vi.stubGlobal('fetch', () =>
      Promise.resolve(new Response(JSON.stringify({ detail: 'Too many pictures.', status: 422 }), { status: 422 })),
    )
    const shown = sheet()
    await shown.find('[data-test=make-export]').trigger('click')
    await settled()
    expect(shown.find('[role=alert]').text()).toBe('Too many pictures.')
  })
})

const LINE = { number: 5, tracker: 1, tracker_name: 'Paths', view: 7, table: 1, view_name: 'Open faults', made: '3 Nov', looked: '' }

describe('live addresses', () => {
  it('makes one, shows it this once, and withdraws it', async () => {
    const asked = answering({
      'GET /api/calendars': [LINE],
      'POST /api/trackers/1/views/7/calendar': { address: 'https://paths.example/api/public/calendars/ab.ics' },
      'DELETE /api/calendars/5': null,
    })
    const shown = put(CalendarAddress, { props: { tracker: 1, view } }, tracker)
    await settled()
    expect(shown.text()).toContain('You made one 3 Nov; nobody has looked at it yet.')
    expect(shown.find('[data-test=make-calendar]').text()).toContain('the old one ends')
    await shown.find('[data-test=make-calendar]').trigger('click')
    await settled()
    const made = shown.find<HTMLInputElement>('[data-test=calendar-made]')
    expect(made.element.value).toBe('https://paths.example/api/public/calendars/ab.ics')
    await shown.find('[data-test=withdraw-calendar]').trigger('click')
    await settled()
    expect(shown.find('[data-test=calendar-made]').exists()).toBe(false)
    expect(changes(asked).map((one) => `${one.method} ${one.path}`)).toEqual([
      'POST /api/trackers/1/views/7/calendar',
      'DELETE /api/calendars/5',
    ])
  })

  it('stand in the export of a calendar as kept, for oneself alone', async () => {
    answering({ 'GET /api/calendars': [] })
    const has = (over: object) =>
      sheet({ query: CALENDAR, ...over })
        .find('[data-test=calendar-address]')
        .exists()
    await settled()
    expect([has({}), has({ standing: true }), has({ view: undefined }), has({ query: query() })]).toEqual([true, false, false, false])
    const shown = sheet({ query: CALENDAR })
    expect(offered(shown, '[data-test=export-as]')[0]).toBe('a calendar (iCalendar)')
  })

  it('says why one could not be made', async () => {
    answering({ 'GET /api/calendars': [], 'POST /api/trackers/1/views/7/calendar': refusing(422, 'Only a calendar has a live address.') })
    const shown = put(CalendarAddress, { props: { tracker: 1, view } }, tracker)
    await settled()
    await shown.find('[data-test=make-calendar]').trigger('click')
    await settled()
    expect(shown.find('[role=alert]').text()).toBe('Only a calendar has a live address.')
  })

  it('are listed with oneself, also those that lead nowhere any more', async () => {
    const gone = { ...LINE, number: 6, table: null, view_name: '', tracker_name: '', looked: 'today, 08:10' }
    const asked = answering({ 'GET /api/calendars': [LINE, gone], 'DELETE /api/calendars/6': null })
    const shown = put(OwnCalendars, { props: { readonly: false } })
    await settled()
    const lines = shown.findAll('[data-test=own-calendar]').map((line) => line.text())
    expect(lines[0]).toContain('Open faults')
    expect(lines[1]).toContain('not open to you any more')
    expect(lines[1]).toContain('last looked at today, 08:10')
    await shown.findAll('button')[1]!.trigger('click')
    await settled()
    expect(changes(asked)[0]!.path).toBe('/api/calendars/6')
    expect(
      put(OwnCalendars, { props: { readonly: true } })
        .find('button')
        .exists(),
    ).toBe(false)
  })
})
