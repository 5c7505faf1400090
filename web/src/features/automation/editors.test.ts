import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import { VAutocomplete } from 'vuetify/components'
import type { Problem } from '@/api/client'
import type { Step } from '@/api/types'
import { answering, choose, chosen, field, offered, opened, put, settled, table } from '@/testing'
import OccasionEditor from './OccasionEditor.vue'
import type { Occasion } from './occasions'
import StepEditor from './StepEditor.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const section = { type: 'link', to: 2, back: 30, one: true, holds: true } as never
const faults = table([
  field({ type: 'text', limit: 99 }, { id: 41, name: 'Title', within: 'title' }),
  field({ type: 'date' }, { id: 43, name: 'Due', within: 'due' }),
  field(section, { id: 42, name: 'Section', within: 'section' }),
])
const parties = table(
  [
    field({ type: 'text', limit: 99 }, { id: 61, name: 'What', within: 'what' }),
    field(section, { id: 62, name: 'Where', within: 'where' }),
    field({ type: 'link', to: 3, back: 44, one: false, holds: true } as never, { id: 63, name: 'Faults', within: 'faults' }),
  ],
  { id: 6, name: 'Parties', one: 'party', many: 'parties' },
)
const tracker = () => opened({ tables: [faults, parties], forms: [] } as never)

async function editor(step: Step, problem?: Partial<Problem>) {
  answering({ 'GET /api/trackers/1/roles': [] })
  const props = { step, at: '/steps/0', table: faults, own: faults, problem: problem as Problem, readonly: false }
  const shown = put(StepEditor, { props }, tracker())
  await settled()
  return shown
}
const kept = (shown: Awaited<ReturnType<typeof editor>>) => shown.emitted('keep')?.[0]?.[0]

describe('a step', () => {
  it('that adds takes only what a new record can begin with, and the record itself where a field links to it', async () => {
    const shown = await editor({ add: { table: 3, alter: [] } })
    await choose(shown, '[data-test=add-into]', 'party')
    await choose(shown, '[data-test=bulk-field]', 'Faults')
    expect(offered(shown, '[data-test=bulk-way]')).toEqual(['becomes', 'becomes what stands in, along links,'])
    await choose(shown, '[data-test=bulk-way]', 'becomes what stands in, along links,')
    expect(offered(shown, '[data-test=bulk-along]')[0]).toBe('this fault')
    await choose(shown, '[data-test=bulk-along]', 'this fault')
    await shown.get('[data-test=keep-alter]').trigger('click')
    expect(kept(shown)).toEqual({ add: { table: 6, alter: [{ field: 63, to: { along: [] } }], lines: [] } })
  })

  it('that adds puts lines under what it adds, each of the table that its list holds', async () => {
    const shown = await editor({ add: { table: 6, alter: [{ field: 63, to: { along: [] } }] } })
    expect(offered(shown, '[data-test=add-line]')).toEqual(['faults'])
    await choose(shown, '[data-test=add-line]', 'faults')
    // A line that says nothing yet is not kept.
    expect(shown.get('[data-test=keep-alter]').attributes('disabled')).toBeDefined()
    await choose(shown, '[data-under="0"] [data-test=bulk-field]', 'Title')
    await choose(shown, '[data-under="0"] [data-test=bulk-way]', 'becomes what stands in, along links,')
    await choose(shown, '[data-under="0"] [data-test=bulk-along]', 'Title')
    await shown.get('[data-test=keep-alter]').trigger('click')
    const lines = [{ under: 63, alter: [{ field: 41, to: { along: [41] } }] }]
    expect(kept(shown)).toEqual({ add: { table: 6, alter: [{ field: 63, to: { along: [] } }], lines } })
    const begun = await editor({ add: { table: 6, alter: [], lines } })
    await begun.get('[data-under="0"] button.link').trigger('click')
    expect(begun.findAll('[data-under]')).toHaveLength(0)
  })

  it('that starts another offers those of the same records that others start, and says where there is none', async () => {
    const automations = [
      { automation: { id: 7, name: 'Tell the crew', table: 3, when: 'started', on: true } },
      { automation: { id: 8, name: 'Close it', table: 3, when: 'started', on: false } },
      { automation: { id: 9, name: 'Other', table: 6, when: 'started', on: true } },
      { automation: { id: 10, name: 'Each morning', table: 3, when: 'added', on: true } },
    ]
    answering({ 'GET /api/trackers/1/automations': automations })
    const props = { step: { start: { automation: 0 } }, at: '/steps/0', table: faults, own: faults, readonly: false }
    const shown = put(StepEditor, { props } as never, tracker())
    await settled()
    expect(offered(shown, '[data-test=start-which]')).toEqual(['Tell the crew', 'Close it (rests)'])
    expect(shown.get('[data-test=keep-start]').attributes('disabled')).toBeDefined()
    await choose(shown, '[data-test=start-which]', 'Tell the crew')
    await shown.get('[data-test=keep-start]').trigger('click')
    expect(kept(shown as never)).toEqual({ start: { automation: 7 } })
    answering({ 'GET /api/trackers/1/automations': [] })
    const none = put(StepEditor, { props } as never, tracker())
    await settled()
    expect(none.get('[data-test=none-to-start]').text()).toContain('There is none yet that others start for faults.')
  })

  it('that says something takes values of the record into its text, and can’t be kept while it says nothing', async () => {
    const shown = await editor({ say: { text: '' } }, { at: () => 'There is no field {X}.' } as never)
    expect(shown.get('[data-test=keep-say]').attributes('disabled')).toBeDefined()
    expect(shown.text()).toContain('There is no field {X}.')
    await shown.get('textarea').setValue('Look at ')
    const values = shown.findAllComponents(VAutocomplete).at(-1)!
    const key = (values.props('items') as { key: string; name: string }[]).find((one) => one.name === 'Section')!.key
    values.vm.$emit('update:modelValue', key)
    await shown.get('[data-test=keep-say]').trigger('click')
    expect(kept(shown)).toEqual({ say: { text: 'Look at {Section}' } })
  })

  it('that sets begins with what it says, and can’t be kept while it says nothing', async () => {
    const shown = await editor({ set: { along: [], alter: [{ field: 43, to: 'now' }] } })
    expect([chosen(shown, '[data-test=bulk-field]'), chosen(shown, '[data-test=bulk-way]')]).toEqual(['Due', 'becomes today'])
    await shown.get('[data-test=keep-alter]').trigger('click')
    expect(kept(shown)).toEqual({ set: { along: [], alter: [{ field: 43, to: 'now' }] } })
    const empty = await editor({ set: { along: [], alter: [] } })
    expect(empty.get('[data-test=keep-alter]').attributes('disabled')).toBeDefined()
  })

  it('that goes through others finds what they have alike with this one, the link first', async () => {
    const shown = await editor({ each: { table: 6, condition: { all: [] }, same: [], first: false, steps: [], otherwise: [] } })
    await shown.get('[data-test=each-same]').trigger('click')
    await shown.get('[data-test=keep-each]').trigger('click')
    expect(kept(shown)).toMatchObject({ each: { table: 6, same: [{ theirs: 62, ours: 42 }], condition: { all: [] } } })
  })

  it('that waits keeps what follows on both ends', async () => {
    const shown = await editor({ wait: { pause: { days: 2 }, steps: ['stop'], otherwise: [] } })
    await shown.get('[data-test=wait-count]').setValue('0')
    await choose(shown, '[data-test=wait-sort]', 'so many hours')
    await shown.get('[data-test=keep-wait]').trigger('click')
    expect(kept(shown)).toEqual({ wait: { pause: { hours: 1 }, steps: ['stop'], otherwise: [] } })
  })

  it('says what is wrong with it where it is', async () => {
    const at = (pointer: string) => (pointer === '/steps/0/if/condition' ? 'Say what must hold.' : undefined)
    const shown = await editor({ if: { condition: { all: [] }, steps: [], otherwise: [] } }, { at })
    expect(shown.get('[role=alert]').text()).toBe('Say what must hold.')
  })
})

describe('what sets it going', () => {
  async function occasion(begun: Occasion) {
    answering({})
    const when = ref(begun)
    const props = { table: faults, modelValue: begun, 'onUpdate:modelValue': (now: Occasion) => (when.value = now) }
    const shown = put(OccasionEditor, { props }, tracker())
    await settled()
    return { shown, when }
  }

  it('is a day of the record, so many days before it', async () => {
    const { shown, when } = await occasion({ date: { field: 43, days: 2, at: 420, working: false } })
    await choose(shown, '[data-test=occasion-side]', 'days before')
    expect(when.value).toEqual({ date: { field: 43, days: -2, at: 420, working: false } })
    await shown.get('[data-test=occasion-at]').setValue('08:30')
    await shown.get('[data-test=occasion-at]').trigger('change')
    expect(when.value).toMatchObject({ date: { at: 510 } })
  })

  it('is a timetable, on at least one day of the week', async () => {
    const { shown, when } = await occasion({ every: { round: { weekly: [1] }, at: 420 } })
    const day = (name: string) => shown.findAll('.week button').find((one) => one.text() === name)!
    await day('Mon').trigger('click')
    expect(when.value, 'the only one stays').toEqual({ every: { round: { weekly: [1] }, at: 420 } })
    await day('Thu').trigger('click')
    expect(when.value).toEqual({ every: { round: { weekly: [1, 4] }, at: 420 } })
  })
})

describe('a mail', () => {
  const mail = (over: object = {}) =>
    ({ mail: { to: { address: 'office@paths.example' }, subject: 'Look', body: '', digest: false, ...over } }) as Step
  const documents = [
    { id: 7, table: faults.id, title: 'Fault slip', of: 'each', keeps: false },
    { id: 8, table: parties.id, title: 'Party sheet', of: 'each', keeps: false },
  ]
  async function writing(step: Step, problem?: Partial<Problem>) {
    answering({ 'GET /api/trackers/1/roles': [], 'GET /api/trackers/1/documents': documents })
    const props = { step, at: '/steps/0', table: faults, own: faults, gathers: true, problem: problem as Problem, readonly: false }
    const shown = put(StepEditor, { props }, tracker())
    await settled()
    return shown
  }
  it('encloses a document of its table, or nothing', async () => {
    const shown = await writing(mail())
    expect(offered(shown, '[data-test=mail-encloses]')).toEqual(['nothing', '“Fault slip”'])
    await choose(shown, '[data-test=mail-encloses]', '“Fault slip”')
    expect(shown.text()).toContain('printed when it is sent')
    await shown.find('[data-test=keep-mail]').trigger('click')
    expect(kept(shown)).toMatchObject({ mail: { encloses: 7 } })
  })
  it('of many records encloses none', async () => {
    const shown = await writing(mail({ encloses: 7 }))
    await shown.find('[data-test=mail-digest]').setValue(true)
    expect(shown.find('[data-test=mail-encloses]').exists()).toBe(false)
    await shown.find('[data-test=keep-mail]').trigger('click')
    expect(kept(shown)).toMatchObject({ mail: { encloses: null, digest: true } })
  })
  it.each([
    ['address', 'office@paths.example', { address: 'office@paths.example' }, undefined],
    [
      'phone',
      ' 01632 960123 ',
      { phone: '01632 960123' },
      'It goes as a text: the heading, and as much of the text as fits in three parts.',
    ],
    ['room', 'yard', { room: 'yard' }, 'It goes into that room, with its answers as buttons.'],
  ])('goes to a typed %s, and says by which way', async (key, typed, to, goes) => {
    const shown = await writing(mail({ to: { field: [44] } }))
    expect(shown.find('[data-test=mail-address]').exists()).toBe(false)
    shown.getComponent(VAutocomplete).vm.$emit('update:modelValue', key)
    await settled()
    await shown.get('[data-test=mail-address] input').setValue(typed)
    expect(shown.find('[data-test=mail-goes]').exists() ? shown.get('[data-test=mail-goes]').text() : undefined).toBe(goes)
    await shown.find('[data-test=keep-mail]').trigger('click')
    expect(kept(shown)).toMatchObject({ mail: { to } })
  })
  it('takes whoever kept it to what is wrong with it', async () => {
    const shown = await writing(mail({ to: { phone: 'call me' } }))
    document.body.append(shown.element)
    const at = (pointer: string) => (pointer === '/steps/0/mail/to' ? 'This is not a phone number.' : undefined)
    await shown.setProps({ problem: { at } as Problem })
    await settled()
    expect(document.activeElement).toBe(shown.get('[data-test=mail-address] input').element)
  })
  it('shows what is wrong with a number where it was typed', async () => {
    const at = (pointer: string) => (pointer === '/steps/0/mail/to' ? 'This is not a phone number.' : undefined)
    const shown = await writing(mail({ to: { phone: 'call me' } }), { at } as Partial<Problem>)
    expect(shown.get('[data-test=mail-address] .v-messages').text()).toBe('This is not a phone number.')
  })
  it('says what is wrong with what it encloses', async () => {
    const at = (pointer: string) => (pointer === '/steps/0/mail/encloses' ? 'It is not there any more.' : undefined)
    const shown = await writing(mail({ encloses: 9 }), { at } as Partial<Problem>)
    expect(shown.find('.fault-text').text()).toBe('It is not there any more.')
  })
})
