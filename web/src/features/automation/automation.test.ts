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
const automation = (over: object = {}): Automation =>
  ({
    automation: { id: 121, table: 3, name: 'Tell the warden', on: true, when: { form: 120 }, condition: { all: [] }, steps: [], ...over },
    clauses: [
      [
        { text: 'When a fault ', tone: 'plain' },
        { text: 'comes by the form', tone: 'edit', at: '/when' },
      ],
      [{ text: 'send a mail', tone: 'edit', at: '/steps/0/mail/to' }],
    ],
    steps: [{ to: { field: [44] }, subject: 'New', body: 'Look.' }],
  }) as unknown as Automation
const run = {
  at_text: '18 Nov, 09:00',
  automation: '',
  table: 3,
  record: 5,
  record_name: 'FR-5',
  log: [{ text: 'It was sent.', outcome: 'yes' }],
  mails: [{ to: 'a@b.example', state: 'sent', note: '' }],
}

async function paragraph(answers: Record<string, unknown>, one = automation()) {
  const asked = answering({ 'GET /api/trackers/1/automations/121/runs': [run], ...answers })
  const shown = put(AutomationParagraph, { props: { tracker: 1, one } }, tracker())
  await settled()
  return { shown, asked }
}

describe('an automation', () => {
  it('tells what it did, and to whom', async () => {
    const { shown } = await paragraph({})
    expect(shown.get('[data-test=run]').text()).toContain('FR-5')
    expect(shown.get('[data-test=run]').text()).toContain('To a@b.example: sent.')
  })

  it('says that it did nothing yet', async () => {
    const { shown } = await paragraph({ 'GET /api/trackers/1/automations/121/runs': [] })
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
        when: { form: 120 },
        condition: { all: [] },
        steps: [{ to: { field: [44] }, subject: 'New', body: 'Look.' }],
      },
    })
    expect(shown.emitted('changed')).toHaveLength(1)
  })

  it('offers the forms of its own table, and keeps another occasion', async () => {
    const { shown, asked } = await paragraph({ 'PUT /api/trackers/1/parts/automation/121': { seq: 9 } })
    await shown
      .findAll('button')
      .find((b) => b.text() === 'comes by the form')!
      .trigger('click')
    await settled()
    expect(offered(shown, '.when .pick')).toEqual([
      'comes by the form “Report a fault”',
      'comes by any form',
      'is added by one of the team',
      'has its button pressed',
    ])
    await choose(shown, '.when .pick', 'has its button pressed')
    await settled()
    expect((changes(asked)[0]!.body as { automation: { when: unknown } }).automation.when).toBe('pressed')
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

describe('to whom a mail can go', () => {
  it('is people of the record first, near ones before those along links, then addresses', () => {
    const district = table([field({ type: 'person' }, { id: 80, name: 'Keeper' })], { id: 9, name: 'Districts' })
    const link = field({ type: 'link', to: 9, back: 81, one: true, holds: true } as never, { id: 45, name: 'District' })
    const home = table([...faults.fields].reverse().concat(link, field({ type: 'text', limit: 9 }, { id: 46 })))
    const names = recipients(opened({ tables: [home, district] } as never).tracker.value!, home).map((one) => one.name)
    expect(names).toEqual(['Warden', 'District → Keeper', 'Mail'])
  })
})

describe('a new automation', () => {
  it('writes to somebody of the record unless one says otherwise', async () => {
    const { shown, asked } = await begin()
    expect(offered(shown, '[data-test=new-to]')).toEqual(['Warden', 'Mail', 'another address'])
    await shown.get('form').trigger('submit')
    await settled()
    const to = (one: number) => (changes(asked)[one]!.body as { automation: { steps: { to: unknown }[] } }).automation.steps[0]!.to
    expect(to(0)).toEqual({ field: [44] })
    await choose(shown, '[data-test=new-to]', 'another address')
    await shown.get('[aria-label=Address]').setValue(' office@paths.example ')
    await shown.get('form').trigger('submit')
    await settled()
    expect(to(1)).toEqual({ address: 'office@paths.example' })
  })

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
  ])('begins switched off, when a record %s', async (choice, when) => {
    const { shown, asked } = await begin()
    await choose(shown, '[data-test=new-when]', choice)
    await shown.get('form').trigger('submit')
    await settled()
    expect((changes(asked)[0]!.body as { automation: object }).automation).toMatchObject({ table: 3, on: false, when })
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
