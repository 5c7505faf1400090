// The answers that are more than one box: records by name, lines, places, files; and an answer at its private address.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, reactive } from 'vue'
import type { QuestionView } from '@/api/types'
import { answering, changes, put, refusing, settled } from '@/testing'
import { blank, type Answer } from './answer'
import FilesAnswer from './FilesAnswer.vue'
import FollowAnswer from './FollowAnswer.vue'
import LinesAnswer from './LinesAnswer.vue'
import LinkAnswer from './LinkAnswer.vue'
import { NAMES as ASKING, namesOfForm } from './names'
import PlaceAnswer from './PlaceAnswer.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const NAMES = 'POST /api/public/forms/report/questions/42/names'
const named = (id: number, name: string) => ({ id, name })

describe('a record by its name', () => {
  async function link(many = false, names = [named(1, 'Esker Ridge'), named(2, 'Tarn Foot')]) {
    const asked = answering({ [NAMES]: names })
    const soFar = namesOfForm('report', () => ({ answers: { 41: { text: 'Gate' } } }))
    const props = {
      id: 'q',
      field: 42,
      label: 'Which path?',
      many,
      required: true,
      faulty: false,
      modelValue: [] as { id: number; name: string }[],
    }
    const shown = put(LinkAnswer, { props, global: { provide: { [ASKING as symbol]: soFar } } })
    const box = () => shown.get<HTMLInputElement>('input')
    return {
      shown,
      asked,
      box,
      taken: () => shown.emitted('update:modelValue')?.at(-1)?.[0],
      key: (key: string) => box().trigger('keydown', { key }),
    }
  }

  it('is looked for with what was answered so far, and taken by keys', async () => {
    const { shown, asked, box, key, taken } = await link()
    await box().setValue('es')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({ search: 'es', so_far: { answers: { 41: { text: 'Gate' } } } })
    expect(shown.findAll('[role=option]').map((one) => one.text())).toEqual(['Esker Ridge', 'Tarn Foot'])
    await key('ArrowDown')
    expect(shown.get('[aria-selected=true]').text()).toBe('Tarn Foot')
    await key('ArrowDown')
    await key('ArrowUp')
    await key('Enter')
    expect(taken()).toEqual([named(1, 'Esker Ridge')])
    // Of one, another is chosen once this is taken out.
    expect(shown.find('input').exists()).toBe(false)
    await shown.get('[aria-label="Take out Esker Ridge"]').trigger('click')
    expect(taken()).toEqual([])
  })

  it('of several, each is there once', async () => {
    const { box, key, taken } = await link(true)
    for (const _ of [0, 1]) {
      await box().trigger('focus')
      await settled()
      await key('Enter')
    }
    expect(taken()).toEqual([named(1, 'Esker Ridge')])
  })

  it('says that nothing is called so, and Enter sends no form meanwhile', async () => {
    const { shown, box, key } = await link(false, [])
    await box().setValue('zzz')
    await settled()
    expect(shown.text()).toContain('Nothing is called like that.')
    const event = new KeyboardEvent('keydown', { key: 'Enter', cancelable: true, bubbles: true })
    box().element.dispatchEvent(event)
    expect(event.defaultPrevented).toBe(true)
    await key('Escape')
    expect(shown.find('[role=listbox]').exists()).toBe(false)
  })

  it('an answer that comes after one has left opens nothing', async () => {
    const { shown, box } = await link()
    await box().trigger('focus')
    await box().trigger('blur')
    await settled()
    expect(shown.find('[role=listbox]').exists()).toBe(false)
  })
})

describe('several items in one answer', () => {
  const question = (field: number, label: string): QuestionView =>
    ({ field, label, help: '', required: true, answer: { type: 'text', limit: 80 } }) as never
  const view = (over: object = {}) =>
    ({ one: 'material line', questions: [question(71, 'What'), question(72, 'How many')], most: 2, total: null, ...over }) as never
  const lines = (modelValue: Record<number, Answer>[], props: object = {}) =>
    put(LinesAnswer, { props: { field: 60, view: view(), modelValue: reactive(modelValue), ...props } })

  it('begins with one, takes as many as it may, and lets one go', async () => {
    const model: Record<number, Answer>[] = []
    const shown = lines(model)
    await nextTick()
    expect(shown.findAll('fieldset')).toHaveLength(1)
    await shown.get('[data-test=add-line]').trigger('click')
    expect(shown.findAll('legend').map((one) => one.text())).toEqual(['material line 1 take out', 'material line 2 take out'])
    expect(shown.find('[data-test=add-line]').exists()).toBe(false)
    await shown.findAll('legend button')[0]!.trigger('click')
    expect(shown.findAll('fieldset')).toHaveLength(1)
  })

  it('tells each fault at its line', () => {
    const model = [
      { 71: blank(), 72: blank() },
      { 71: blank(), 72: blank() },
    ]
    const shown = lines(model, { faults: { '/lines/60/1/72': 'Please answer this.' } })
    expect(shown.findAll('[data-line]').map((line) => line.text().includes('Please answer this.'))).toEqual([false, true])
  })

  it('says what they come to, as far as it is known', () => {
    expect(
      lines([], { view: view({ total: { name: 'Cost', text: '£12.50' } }) })
        .get('[data-test=total]')
        .text(),
    ).toBe('Cost: £12.50')
    expect(
      lines([], { view: view({ total: { name: 'Cost', text: '' } }) })
        .get('[data-test=total]')
        .text(),
    ).toBe('Cost: —')
  })

  it('in a preview it only says what would be asked', () => {
    const shown = lines([], { preview: true })
    expect(shown.findAll('fieldset')).toHaveLength(0)
    expect(shown.text()).toContain('In each line: What, How many.')
  })
})

describe('where something is', () => {
  const place = () => put(PlaceAnswer, { props: { id: 'q', faulty: false, required: false, modelValue: reactive(blank()) } })
  const say = (finds: (found: (at: object) => void, not: () => void) => void) =>
    Object.defineProperty(navigator, 'geolocation', { configurable: true, value: { getCurrentPosition: finds } })
  afterEach(() => Reflect.deleteProperty(navigator, 'geolocation'))

  it('is put in by the device, about as exact as a step', async () => {
    say((found) => found({ coords: { latitude: 54.123456789, longitude: -2.43 } }))
    const shown = place()
    await shown.get('[data-test=where-i-am]').trigger('click')
    const now = shown.props('modelValue') as Answer
    expect([now.latitude, now.longitude]).toEqual(['54.12346', '-2.43000'])
  })

  it('says what to do where the device does not tell', async () => {
    say((_, not) => not())
    const shown = place()
    await shown.get('[data-test=where-i-am]').trigger('click')
    expect(shown.get('[role=status]').text()).toContain('type the two numbers')
    expect(shown.get('[data-test=where-i-am]').attributes('disabled')).toBeUndefined()
  })
})

describe('files to send along', () => {
  it('are added to those chosen before, ten at most, with their sizes', async () => {
    const before = Array.from({ length: 9 }, (_, n) => new File(['x'], `${n}.jpg`))
    const shown = put(FilesAnswer, { props: { id: 'q', modelValue: before } })
    const input = shown.get<HTMLInputElement>('input[type=file]')
    const large = new File([new Uint8Array(2_400_000)], 'large.jpg')
    Object.defineProperty(input.element, 'files', { configurable: true, value: [large, new File(['y'], 'late.jpg')] })
    await input.trigger('change')
    const now = shown.emitted('update:modelValue')!.at(-1)![0] as File[]
    expect(now.map((file) => file.name)).toEqual([...before.map((file) => file.name), 'large.jpg'])
    expect(shown.text()).toContain('2.4 MB')
    expect(shown.text()).toContain('1 kB')
    await shown.get('[aria-label="Take out 0.jpg"]').trigger('click')
    expect((shown.emitted('update:modelValue')!.at(-1)![0] as File[])[0]!.name).toBe('1.jpg')
  })
})

describe('an answer at its private address', () => {
  const ADDRESS = '/api/public/answers/s3cret'
  const followed = (over: object = {}) => ({
    title: 'Report',
    link: 'report',
    sent: '3 Jan 2026',
    gone: false,
    appearance: {},
    facts: [{ field: 47, label: 'Status', text: '' }],
    questions: [],
    ...over,
  })
  class Events {
    static last: Events
    heard: Record<string, () => void> = {}
    closed = false
    constructor(readonly address: string) {
      Events.last = this
    }
    addEventListener(name: string, does: () => void) {
      this.heard[name] = does
    }
    close() {
      this.closed = true
    }
  }

  async function follow(answers: Record<string, unknown>) {
    const asked = answering(answers)
    vi.stubGlobal('EventSource', Events)
    const shown = put(FollowAnswer, { props: { secret: 's3cret' } })
    await settled()
    return { shown, asked }
  }

  it('says how it stands, looks again when it is told to, and lets go when it is left', async () => {
    const { shown, asked } = await follow({ [`GET ${ADDRESS}`]: followed() })
    expect(shown.get('dl').text()).toBe('Status—')
    expect(Events.last.address).toBe(`${ADDRESS}/events`)
    const before = asked.length
    Events.last.heard.look!()
    await settled()
    expect(asked).toHaveLength(before + 1)
    shown.unmount()
    expect(Events.last.closed).toBe(true)
  })

  it('tells of an address that leads nowhere, and of a record that was taken out', async () => {
    expect((await follow({})).shown.get('[role=alert]').text()).toContain('There is no answer at this address.')
    expect((await follow({ [`GET ${ADDRESS}`]: followed({ gone: true }) })).shown.text()).toContain('It was taken out since.')
  })

  it('keeps what may still be changed, or says why not', async () => {
    const question = { field: 52, label: 'Your mail address', help: '', required: false, answer: { type: 'email' }, given: null }
    const answers: Record<string, unknown> = {
      [`GET ${ADDRESS}`]: followed({ questions: [question] }),
      [`POST ${ADDRESS}`]: followed({ questions: [question] }),
    }
    const { shown, asked } = await follow(answers)
    await shown.get<HTMLInputElement>('form input').setValue('wynn@walkers.example')
    await shown.get('form').trigger('submit')
    await settled()
    expect(changes(asked)[0]!.body).toEqual({ 52: { text: 'wynn@walkers.example' } })
    expect(shown.get('form [role=status]').text()).toBe('Kept.')
    answers[`POST ${ADDRESS}`] = refusing(422, 'One answer needs another look.', [
      { pointer: '/answers/52', message: 'This is not a mail address.' },
    ])
    await shown.get('form').trigger('submit')
    await settled()
    expect(shown.text()).toContain('One answer needs another look.')
    expect(shown.text()).toContain('This is not a mail address.')
    expect(shown.get<HTMLInputElement>('form input').element.value).toBe('wynn@walkers.example')
  })
})
