import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Automation } from '@/api/types'
import { choose, offered, answering, changes, field, opened, put, refusing, settled, table } from '@/testing'
import AutomationParagraph from './AutomationParagraph.vue'
import NewAutomation from './NewAutomation.vue'
import { recipients } from './recipients'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const faults = table([
  field({ type: 'person' }, { id: 44, name: 'Warden', within: 'warden' }),
  field({ type: 'email' }, { id: 52, name: 'Mail', within: 'mail' }),
])
const forms = [
  { id: 120, table: 3, title: 'Report a fault', open: true },
  { id: 123, table: 6, title: 'Order materials', open: true },
]
const tracker = () => opened({ tables: [faults], forms } as never)
const mail = { mail: { to: { field: [44] }, subject: 'New', body: 'Look.', digest: false } }
const automation = (over: object = {}): Automation =>
  ({
    automation: { id: 121, table: 3, name: 'Tell the warden', on: true, when: { form: 120 }, condition: { all: [] }, steps: [], ...over },
    clauses: [
      {
        word: 'when',
        phrases: [
          { text: 'a fault ', tone: 'plain' },
          { text: 'comes by the form', tone: 'edit', at: '/when' },
        ],
        branches: [],
      },
      { word: 'then', at: '/steps/0', phrases: [{ text: 'send a mail', tone: 'edit', at: '/steps/0/mail/to' }], branches: [] },
    ],
    steps: [mail],
  }) as unknown as Automation
const run = {
  at_text: '18 Nov, 09:00',
  automation: '',
  table: 3,
  record: 5,
  record_name: 'FR-5',
  log: [{ text: 'It was sent.', outcome: 'yes' }],
  mails: [{ by: 'mail', by_text: 'Mail', to: 'a@b.example', state: 'sent', note: '' }],
  state: 'ended',
  days_ago: 3,
}
const ran = { says: '1 ran in 30 days: 1 ended.', runs: [run] }

async function paragraph(answers: Record<string, unknown>, one = automation()) {
  const asked = answering({ 'GET /api/trackers/1/automations/121/runs': ran, ...answers })
  const shown = put(AutomationParagraph, { props: { tracker: 1, one } }, tracker())
  await settled()
  return { shown, asked }
}

async function open(shown: Awaited<ReturnType<typeof paragraph>>['shown'], phrase: string) {
  await shown
    .findAll('button')
    .find((b) => b.text() === phrase)!
    .trigger('click')
  await settled()
}

describe('an automation', () => {
  it('tells what it did, and to whom', async () => {
    const { shown } = await paragraph({})
    expect(shown.get('[data-test=run]').text()).toContain('FR-5')
    expect(shown.get('[data-test=run]').text()).toContain('Mail to a@b.example: sent.')
  })

  it('says that it did nothing yet', async () => {
    const { shown } = await paragraph({ 'GET /api/trackers/1/automations/121/runs': { says: '', runs: [] } })
    expect(shown.get('.log').text()).toContain('Nothing yet.')
  })

  it('is switched off whole, with all that it had', async () => {
    const { shown, asked } = await paragraph({
      'PUT /api/trackers/1/parts/automation/121': { seq: 9, did: 'changed the automation Tell the warden' },
    })
    await shown.get('[data-test=automation-on]').trigger('click')
    await settled()
    expect(changes(asked)[0]!.body).toEqual({
      automation: {
        table: 3,
        name: 'Tell the warden',
        on: false,
        unsaid: false,
        when: { form: 120 },
        condition: { all: [] },
        before: { all: [] },
        steps: [mail],
        draft: null,
      },
    })
    expect(shown.emitted('changed')).toHaveLength(1)
  })

  it('asks what held before, and keeps it beside what holds now', async () => {
    const before = { all: [{ test: { path: [44], of: 'any', check: { is: 'empty' } } }] }
    const clauses = [
      { word: 'if', at: null, phrases: [{ text: 'what held before', tone: 'offer', at: '/before' }], branches: [] },
      { word: 'before', at: null, phrases: [{ text: 'warden is empty', tone: 'edit', at: '/before/all/0' }], branches: [] },
    ]
    const one = { ...automation({ on: false, when: { changed: [] }, before } as object), clauses } as unknown as Automation
    const { shown, asked } = await paragraph({ 'PUT /api/trackers/1/parts/automation/121': { seq: 9 } }, one)
    const phrase = (text: string) => shown.findAll('button').find((b) => b.text().includes(text))!
    await phrase('warden is empty').trigger('keydown', { key: 'Delete' })
    await settled()
    const kept = () => (changes(asked).at(-1)!.body as { automation: object }).automation
    expect(kept()).toMatchObject({ before: { all: [] }, condition: { all: [] }, when: { changed: [] } })
    await phrase('what held before').trigger('click')
    await settled()
    expect(document.body.textContent).toContain('Only if, before it changed, this held of the fault:')
  })

  it.each([
    ['b of its answer', '/takes/1', { takes: [{ path: 'a', field: 52 }] }],
    ['hours', '/sends', { sends: [] }],
    ['signed', '/secret', { secret: '' }],
  ])('takes out of a call what the phrase “%s” says, and nothing else of it', async (text, part, left) => {
    const calls = {
      method: 'post',
      address: 'https://rates.example/',
      seconds: 20,
      secret: 's'.repeat(64),
      sends: [{ name: 'hours', value: '{Hours}' }],
      takes: [
        { path: 'a', field: 52 },
        { path: 'b', field: 52 },
      ],
    }
    const phrases = [{ text, tone: 'edit', at: `/steps/0/call/calls${part}` }]
    const one = {
      ...automation({ on: false }),
      clauses: [{ word: 'then', at: '/steps/0', phrases, branches: [] }],
      steps: [{ call: { calls, steps: [], otherwise: [] } }],
    } as unknown as Automation
    const { shown, asked } = await paragraph({ 'PUT /api/trackers/1/parts/automation/121': { seq: 9 } }, one)
    const phrase = shown.findAll('button').find((b) => b.text() === text)!
    await phrase.trigger('keydown', { key: 'Delete' })
    await settled()
    const kept = (changes(asked)[0]!.body as { automation: { steps: object[] } }).automation.steps
    expect(kept).toEqual([{ call: { calls: { ...calls, ...left }, steps: [], otherwise: [] } }])
  })

  it('offers the forms of its own table, and of one that rests keeps another occasion', async () => {
    const { shown, asked } = await paragraph({ 'PUT /api/trackers/1/parts/automation/121': { seq: 9 } }, automation({ on: false }))
    await open(shown, 'comes by the form')
    const named = offered(shown, '[data-test=occasion]')
    expect(named.slice(0, 2)).toEqual(['comes by the form “Report a fault”', 'comes by any form'])
    expect(named).not.toContain('comes to a day of its own')
    await choose(shown, '[data-test=occasion]', 'has its button pressed')
    expect(changes(asked)).toEqual([])
    document.querySelector<HTMLElement>('[data-test=keep-when]')!.click()
    await settled()
    expect((changes(asked)[0]!.body as { automation: object }).automation).toMatchObject({ on: false, when: 'pressed' })
  })

  it('that runs is changed beside what runs, until that takes over', async () => {
    const { shown, asked } = await paragraph({ 'PUT /api/trackers/1/parts/automation/121': { seq: 9 } })
    await shown.get('[data-test="add-step /steps"]').trigger('click')
    await settled()
    expect([...document.querySelectorAll('[data-test^=step-]')].map((one) => one.getAttribute('data-test'))).toContain('step-wait')
    document.querySelector<HTMLElement>('[data-test=step-wait]')!.click()
    await settled()
    await shown.get('[data-test=keep-wait]').trigger('click')
    await settled()
    const { automation: sent } = changes(asked)[0]!.body as { automation: { steps: unknown; draft: { steps: unknown[] } } }
    expect(sent.steps).toEqual([mail])
    expect(sent.draft.steps).toEqual([mail, { wait: { pause: { days: 1 }, steps: [], otherwise: [] } }])
  })

  it('shows what its draft does otherwise, and drops it whole', async () => {
    const draft = {
      when: { form: 120 },
      condition: { all: [] },
      steps: [mail, 'stop'],
      clauses: [],
      differs: ['New: then nothing further is done.'],
    }
    const { shown, asked } = await paragraph({ 'PUT /api/trackers/1/parts/automation/121': { seq: 9 } }, {
      ...automation(),
      draft,
    } as unknown as Automation)
    expect(shown.text()).toContain('New: then nothing further is done.')
    await shown.get('[data-test=drop-draft]').trigger('click')
    await settled()
    const { automation: sent } = changes(asked)[0]!.body as { automation: { steps: unknown; draft?: unknown } }
    expect([sent.steps, sent.draft]).toEqual([[mail], undefined])
  })

  it('tells whether what it would do is said beforehand, where somebody sets it going, and is told otherwise by one press', async () => {
    const changed = automation({ when: { changed: [47] } } as never)
    const { shown, asked } = await paragraph({ 'PUT /api/trackers/1/parts/automation/121': { seq: 9 } }, changed)
    expect(shown.get('[data-test=beforehand]').text()).toContain('What it would do is said before a change')
    await shown.get('[data-test=unsaid]').trigger('click')
    await settled()
    // It goes on as it is: no draft comes of it.
    expect((changes(asked)[0]!.body as { automation: object }).automation).toMatchObject({ on: true, unsaid: true, draft: null })
    const byForm = await paragraph({})
    expect(byForm.shown.find('[data-test=beforehand]').exists()).toBe(false)
  })

  it('is let run only once what it would have done was seen', async () => {
    const told = { says: ['It would have run for 3 faults.'], happened: [], left_out: 0 }
    const { shown, asked } = await paragraph(
      {
        'POST /api/trackers/1/automations/rehearsal': told,
        'GET /api/trackers/1/tables/3/names': [],
        'PUT /api/trackers/1/parts/automation/121': { seq: 9 },
      },
      automation({ on: false }),
    )
    await shown.get('[data-test=automation-on]').trigger('click')
    await settled()
    expect(shown.get('[data-test=trial-says]').text()).toBe('It would have run for 3 faults.')
    const puts = () => changes(asked).filter(({ method }) => method === 'PUT')
    expect(puts()).toEqual([])
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    expect((puts()[0]!.body as { automation: object }).automation).toMatchObject({ on: true, steps: [mail] })
  })

  it('says why it could not be taken away, and stays', async () => {
    const { shown } = await paragraph({
      'DELETE /api/trackers/1/parts/automation/121': refusing(409, '“Tell the warden” can’t be removed yet: a button needs it.'),
    })
    await shown.get('.away').trigger('click')
    await settled()
    expect(shown.get('[role=alert]').text()).toContain('a button needs it')
    expect(shown.emitted('changed')).toBeUndefined()
  })
})

describe('to whom a message can go', () => {
  it('is people of the record first, near ones before those along links, then addresses and numbers', () => {
    const district = table([field({ type: 'person' }, { id: 80, name: 'Keeper' })], { id: 9, name: 'Districts' })
    const link = field({ type: 'link', to: 9, back: 81, one: true, holds: true } as never, { id: 45, name: 'District' })
    const phone = field({ type: 'phone' }, { id: 47, name: 'Phone' })
    const home = table([phone, ...faults.fields].reverse().concat(link, field({ type: 'text', limit: 9 }, { id: 46 })))
    const names = recipients(opened({ tables: [home, district] } as never).tracker.value!, home).map((one) => one.name)
    expect(names).toEqual(['Warden', 'District → Keeper', 'Mail', 'Phone'])
  })
})

describe('a new automation', () => {
  async function begin(answers: Record<string, unknown> = { 'POST /api/trackers/1/parts': { seq: 4, made: 300 } }) {
    const asked = answering(answers)
    const shown = put(NewAutomation, { props: { tracker: 1 } }, tracker())
    await settled()
    expect(document.activeElement?.matches('input[role=combobox]')).toBe(true)
    await settled()
    return { shown, asked }
  }

  it.each([
    ['comes by any form', { form: null }],
    ['is added by one of the team', 'added'],
    ['has its button pressed', 'pressed'],
    ['has something changed', { changed: [] }],
    ['is due by a timetable', { every: { round: 'working_days', at: 420 } }],
  ])('begins switched off, when a record %s', async (choice, when) => {
    const { shown, asked } = await begin()
    await choose(shown, '[data-test=occasion]', choice)
    await shown.get('form').trigger('submit')
    await settled()
    expect((changes(asked)[0]!.body as { automation: object }).automation).toMatchObject({ table: 3, on: false, when, steps: [] })
    expect(shown.emitted('made')).toHaveLength(1)
  })

  it('stays open with what was typed where it is refused', async () => {
    const { shown } = await begin({ 'POST /api/trackers/1/parts': refusing(422, 'Give it a name.') })
    await shown.get('form').trigger('submit')
    await settled()
    expect(shown.text()).toContain('Give it a name.')
    expect(shown.emitted('made')).toBeUndefined()
  })
})
