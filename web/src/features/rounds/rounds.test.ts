// Rounds: what a line is, how full a day is, and what pressing asks of the server.
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Duty, RoundsView } from '@/api/types'
import { answering, changes, choose, field, opened, put, refusing, settled, table } from '@/testing'
import DutyLine from './DutyLine.vue'
import GiveTask from './GiveTask.vue'
import MovePanel from './MovePanel.vue'
import RoundsPage from './RoundsPage.vue'
import RoundsRule from './RoundsRule.vue'
import { addressOf, fullness, keyOf, ray, targets } from './rounds'
import { begunRule, finishes, finishKey } from './ruling'

beforeEach(() => {
  document.body.innerHTML = ''
  sessionStorage.clear()
  vi.unstubAllGlobals()
})

const duty = (over: Partial<Duty> = {}): Duty => ({
  tracker: 1,
  table: 3,
  record: 7,
  name: 'Gate will not open',
  tells: ['FR-2026-0318'],
  late: 0,
  late_text: '',
  due_text: 'due 30 Nov',
  why: 'as warden of Eskermoor',
  verb: 'made good',
  does: { field: 47, value: { choice: 84 }, was: { choice: 80 } },
  ...over,
})
const task = (over: Partial<Duty> = {}) =>
  duty({
    tracker: undefined,
    table: undefined,
    record: undefined,
    task: 4,
    name: 'Ring the farmer',
    verb: 'done',
    does: undefined,
    ...over,
  })

const section = (sort: string, day: string | null, duties: Duty[], title = 'Monday') => ({ sort, day, title, about: '30 November', duties })
const view = (over: object[] = []) =>
  ({
    person: 2,
    own: true,
    asked: [{ task: 9, who: 'Jonah', what: 'lend the ladder', stands: '2 days late', late: true, done: false }],
    people: [
      { id: 2, name: 'Tamsin Oake' },
      { id: 3, name: 'Idris Pell' },
    ],
    diary: {
      now: 'Tamsin Oake, Sunday 29 November, 09:20',
      today: '2026-11-29',
      says: [{ text: '2 things', tone: 'plain' }],
      count: 2,
      trackers: [],
      sections: over.length
        ? over
        : [
            section('today', '2026-11-29', [duty()], 'Today'),
            section('day', '2026-11-30', []),
            section('day', '2026-12-01', [task(), duty({ record: 8, name: 'B' })]),
          ],
    },
  }) as unknown as RoundsView

describe('a thing on somebody', () => {
  it('is known by its task or its record, and opened only where it is about one', () => {
    expect([keyOf(duty()), keyOf(task())]).toEqual(['1 3 7', 'task 4'])
    expect(addressOf(task())).toBeUndefined()
    expect(addressOf(duty())).toEqual({ name: 'record', params: { tracker: 1, table: 3, record: 7 } })
  })

  it('hangs out as far as it is late, and no further than four weeks', () => {
    expect([ray(0), ray(14), ray(28), ray(160)]).toEqual([0, 0.5, 1, 1])
  })

  it('has the word of its own field, and none once it is done or where one only looks', async () => {
    const props = { duty: duty(), readonly: false, busy: false, undoes: false, held: false }
    const shown = put(DutyLine, { props })
    expect(shown.get('[data-test=finish]').text()).toBe('— made good')
    await shown.setProps({ readonly: true })
    expect(shown.find('[data-test=finish]').exists()).toBe(false)
    await shown.setProps({ readonly: false, undoes: true, duty: duty({ done: 'made good 08:40', verb: undefined }) })
    expect(shown.text()).toContain('made good 08:40')
    await shown.get('button').trigger('click')
    expect(shown.emitted('unfinish')).toHaveLength(1)
  })
})

describe('moving', () => {
  it('says how full each day is', () => {
    expect(fullness([])).toBe('nothing yet')
    expect(fullness([duty({ done: 'made good' })])).toBe('nothing yet')
    expect(fullness([duty()])).toBe('Gate will not open')
    expect(fullness([task(), duty()])).toBe('2 things, Ring the farmer first')
    expect(targets(view()).map((one) => [one.day, one.full])).toEqual([
      ['2026-11-29', 'Gate will not open'],
      ['2026-11-30', 'nothing yet'],
      ['2026-12-01', '2 things, Ring the farmer first'],
    ])
  })

  it('sets down on a chosen day, or hands it on, and nothing before one is chosen', async () => {
    const shown = put(MovePanel, { props: { duty: task({ day: '2026-11-29' }), view: view(), busy: false } })
    expect(shown.find("[data-day='2026-11-29']").exists(), 'where it stands already is no target').toBe(false)
    expect(shown.get('[data-test=set-down]').attributes('disabled')).toBeDefined()
    await shown.get("[data-day='2026-11-30']").trigger('click')
    expect(shown.get('[data-test=set-down]').text()).toBe('Set down on Monday')
    await shown.get('[data-test=set-down]').trigger('click')
    expect(shown.emitted('move')).toEqual([['2026-11-30']])
    await shown.get('[data-test=no-day]').trigger('click')
    await shown.get('[data-test=set-down]').trigger('click')
    expect(shown.emitted('move')?.[1]).toEqual([undefined])
    await choose(shown, '[data-test=hand-to]', 'Idris Pell')
    await shown.get('[data-test=set-down]').trigger('click')
    expect(shown.emitted('give')).toEqual([[3]])
    await shown.get('[data-test=move-panel]').trigger('keydown', { key: 'Escape' })
    expect(shown.emitted('leave')).toHaveLength(1)
  })

  it('says why where it can’t be', () => {
    const shown = put(MovePanel, {
      props: { duty: duty({ fixed: 'Its day is calculated and can’t be moved.' }), view: view(), busy: false },
    })
    expect(shown.text()).toContain('can’t be moved')
    expect(shown.find('[data-test=set-down]').exists()).toBe(false)
  })
})

describe('the page', () => {
  const answers = { 'GET /api/rounds': view(), 'GET /api/session': { person: { id: 2, name: 'Tamsin Oake' }, stands_in: null } }

  it('does a record by its field and a task by its step, and takes them back', async () => {
    const asked = answering({
      ...answers,
      'PATCH /api/trackers/1/tables/3/records/7': { seq: 5, did: 'changed status' },
      'POST /api/tasks/4': {},
      'POST /api/trackers/1/undo': { seq: 6 },
    })
    const shown = put(RoundsPage)
    await settled()
    await shown.get("[data-duty='Gate will not open'] [data-test=finish]").trigger('click')
    await settled()
    await shown.get("[data-duty='Ring the farmer'] [data-test=finish]").trigger('click')
    await settled()
    expect(changes(asked).map((one) => [one.method, one.path, one.body])).toEqual([
      ['PATCH', '/api/trackers/1/tables/3/records/7', { edits: [{ field: 47, input: { value: { choice: 84 } }, was: { choice: 80 } }] }],
      ['POST', '/api/tasks/4', 'done'],
    ])
  })

  it('offers to take back what was done last, and not what something else came after', async () => {
    const done = duty({ done: 'made good 08:40', verb: undefined, does: undefined, moves: undefined })
    const other = duty({ record: 8, name: 'Order', table: 6, moves: 274 })
    const path = '/api/trackers/1/tables'
    const answers = { 'GET /api/session': { person: { id: 2, name: 'Tamsin Oake' }, stands_in: null }, [`PATCH ${path}/3/records/7`]: { seq: 5 }, [`PATCH ${path}/6/records/8`]: { seq: 6 } } // prettier-ignore
    const days = [section('day', '2026-11-30', [])]
    answering({ ...answers, 'GET /api/rounds': view([section('today', '2026-11-29', [duty(), other], 'Today'), ...days]) })
    const shown = put(RoundsPage)
    await settled()
    answering({ ...answers, 'GET /api/rounds': view([section('today', '2026-11-29', [done, other], 'Today'), ...days]) })
    await shown.get("[data-duty='Gate will not open'] [data-test=finish]").trigger('click')
    await settled()
    expect(shown.get("[data-duty='Gate will not open'] button").text()).toBe('Undo')
    await shown.get("[data-duty='Order'] [data-test=move]").trigger('click')
    await shown.get("[data-day='2026-11-30']").trigger('click')
    await shown.get('[data-test=set-down]').trigger('click')
    await settled()
    expect(shown.find("[data-duty='Gate will not open'] button").exists()).toBe(false)
  })

  it('says what was refused, and asks no more what one asked', async () => {
    const asked = answering({ ...answers, 'POST /api/tasks/4': refusing(409, 'It was done meanwhile.'), 'POST /api/tasks/9': {} })
    const shown = put(RoundsPage)
    await settled()
    await shown.get("[data-duty='Ring the farmer'] [data-test=finish]").trigger('click')
    await settled()
    expect(shown.get('[role=alert]').text()).toBe('It was done meanwhile.')
    await shown.get('.asked .link').trigger('click')
    await settled()
    expect(changes(asked).at(-1)?.body).toBe('drop')
  })
})

describe('giving', () => {
  it('asks in one sentence, and keeps what was typed where it is refused', async () => {
    const asked = answering({ 'POST /api/tasks': refusing(422, 'Say it shorter.', [{ pointer: '/what', message: 'Say it shorter.' }]) })
    const shown = put(GiveTask, { props: { people: view().people, me: 2 } })
    await choose(shown, '[data-test=task-who]', 'Idris Pell')
    await shown.get('[data-test=task-what]').setValue('walk the ridge')
    await shown.get('[data-test=task-note]').setValue('after rain')
    await shown.get('form').trigger('submit')
    await settled()
    expect(changes(asked)[0]?.body).toEqual({ who: 3, what: 'walk the ridge', due: null, urgent: false, note: 'after rain', about: null })
    expect(shown.get('[role=alert]').text()).toBe('Say it shorter.')
    expect((shown.get('[data-test=task-what]').element as HTMLInputElement).value).toBe('walk the ridge')
    answering({ 'POST /api/tasks': { task: 1 } })
    await shown.get('form').trigger('submit')
    await settled()
    expect(shown.emitted('given')).toEqual([['Idris Pell']])
    expect((shown.get('[data-test=task-what]').element as HTMLInputElement).value).toBe('')
  })
})

describe('what a table says', () => {
  const status = field({ type: 'choice', options: [{ id: 80, name: 'reported' }, { id: 84, name: 'made good' }] } as never, { id: 47, name: 'Status', within: 'status' }) // prettier-ignore
  const leader = field({ type: 'person' } as never, { id: 48, name: 'Leader', within: 'leader' })
  const finished = field({ type: 'date' } as never, { id: 49, name: 'Finished', within: 'finished' })
  const orders = table([status, leader, finished])

  it('offers what can mean done, the last option first', () => {
    expect(finishes(orders).map((one) => one.value)).toEqual(['options 47', 'filled 49', 'noted 49'])
    expect(finishes(orders)[0]?.finish).toEqual({ options: { field: 47, any: [84] } })
    expect(finishKey({ noted: 49 })).toBe('noted 49')
  })

  it('begins by itself where there are persons and something that means done', () => {
    const tracker = { id: 1, tables: [orders] } as never
    expect(begunRule(tracker, orders)).toEqual({
      who: [48],
      due: 49,
      done: { options: { field: 47, any: [84] } },
      urgency: null,
      tells: [],
    })
    expect(begunRule(tracker, table([status]))).toBeUndefined()
  })

  it('is begun and taken away by a press', async () => {
    const path = '/api/trackers/1/tables/3/rounds'
    const asked = answering({ [`GET ${path}`]: { rounds: null, says: [] }, [`PUT ${path}`]: { seq: 4, did: 'changed it' } })
    const context = opened({ tables: [orders] } as never)
    const shown = put(RoundsRule, { props: { tracker: { id: 1, tables: [orders] } as never, table: orders } }, context)
    await settled()
    expect(shown.text()).toContain('They stand in nobody’s rounds.')
    await shown.get('[data-begin=rounds]').trigger('click')
    await settled()
    expect(changes(asked)[0]?.body).toMatchObject({ rounds: { who: [48], due: 49 } })
  })
})
