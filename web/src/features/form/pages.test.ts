import { beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, reactive, ref } from 'vue'
import type { Field, Form, Kind, Question, Value } from '@/api/types'
import { answering, changes, choose, field, offered, opened, put, refusing, settled, table } from '@/testing'
import AnswersPage from './AnswersPage.vue'
import BeginsWith from './BeginsWith.vue'
import { useForm } from './form'
import FormsPage from './FormsPage.vue'
import QuestionSettings from './QuestionSettings.vue'
import WaysIn from './WaysIn.vue'

vi.mock('vue-router', async (original) => ({
  ...(await original<typeof import('vue-router')>()),
  useRoute: () => ({ params: { tracker: '1', form: '120' }, query: {} }),
}))
beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const title = field({ type: 'text', limit: 80 }, { id: 41, name: 'What is wrong' })
const faults = table([title, field({ type: 'email' }, { id: 52, name: 'Reporter’s mail' })])
const tracker = (over: object = {}) =>
  opened({ tables: [faults], forms: [{ id: 120, title: 'Report a fault', table: 3, open: true }], ...over } as never)

describe('the forms of a tracker', () => {
  const row = { id: 120, title: 'Report a fault', table: 3, state: 'closed', running: 'It is closed by hand.', address: 'http://w.example/f/r', came: { number: 1, counted: '1 answer', last: 'the last 3 Jan 2026' } } // prettier-ignore

  async function page(list: unknown[], over: object = {}, more: Record<string, unknown> = {}) {
    const asked = answering({ 'GET /api/trackers/1/forms': list, ...more })
    const shown = put(FormsPage, {}, tracker(over))
    await settled()
    return { shown, asked }
  }

  it('tells of each how it stands and what came', async () => {
    const { shown } = await page([row, { ...row, id: 121, title: 'Order', came: { number: 0, counted: '0 answers', last: null } }])
    const [first, second] = shown.findAll('article').map((one) => one.text().replace(/\s+/g, ' '))
    expect(first).toContain('It is closed by hand. It puts faults in. 1 answer, the last 3 Jan 2026.')
    expect(second).toContain('0 answers.')
    expect(shown.get('b').classes()).toContain('closed')
  })

  it('makes one only for whoever builds, of the first table unless another is chosen', async () => {
    expect((await page([row], { builds: false })).shown.find('[data-test=make-form]').exists()).toBe(false)
    const { shown, asked } = await page([], {}, { 'POST /api/trackers/1/parts': { seq: 5, made: 130 } })
    expect(shown.text()).toContain('people put records in who never see the table')
    expect(shown.get('[data-test=make-form]').attributes('disabled')).toBeDefined()
    await shown.get<HTMLInputElement>('[data-test=new-form-title]').setValue('A new way')
    await shown.get('form').trigger('submit')
    await settled()
    expect(changes(asked)[0]!.body).toEqual({ form: { table: 3, title: 'A new way' } })
  })
})

describe('the answers of a form', () => {
  const answers = (over: object = {}) => ({
    fields: [41],
    rows: [{ at_text: '3 Jan 2026, 09:44', parameters: [{ name: 'from', value: 'poster' }], by: 'Bex', row: { id: 7, version: 1, cells: [{ text: 'Gate', value: { text: 'Gate' } }] } }],
    total: 212,
    says: ['212 answers came.', 'Since it is counted, it was opened 300 times and sent 212 times.'],
    places: [],
    visits: { opened: 300, sent: 212, left: [] },
    ...over,
  }) // prettier-ignore

  async function page(answer: unknown) {
    answering({ 'GET /api/trackers/1/forms/120/answers': answer })
    const shown = put(AnswersPage, {}, tracker())
    await settled()
    return shown
  }

  it('reads as core wrote it, and says that it keeps nothing of who it was', async () => {
    const shown = await page(answers())
    expect(shown.get('[data-test=funnel]').text()).toContain(
      '212 answers came. Since it is counted, it was opened 300 times and sent 212 times.',
    )
    expect(shown.get('[data-test=funnel]').text()).toContain('nothing of who it was')
    expect(shown.get('tbody tr').text()).toContain('from=poster')
    expect(shown.text()).toContain('The latest 1 are shown.')
    expect((await page(answers({ visits: null }))).get('[data-test=funnel]').text()).not.toContain('nothing of who it was')
  })

  it('says that nothing came, and what went wrong', async () => {
    expect((await page(answers({ rows: [], total: 0 }))).text()).toContain('Nothing came yet.')
    expect((await page(refusing(404, 'There is no such form here.'))).get('[role=alert]').text()).toContain('no such form')
  })
})

describe('a form being designed', () => {
  const question = (over: Partial<Question> = {}): Question => ({ field: 41, label: 'What is wrong?', help: '', required: true, hidden: false, shown: { condition: { all: [] } }, offers: { all: [] }, ...over }) as Question // prettier-ignore
  const form = (over: Partial<Form> = {}) => ({ id: 120, table: 3, title: 'Report', open: true, questions: [question()], ...over }) as Form
  const design = (over: object = {}) => ({ form: form(), confirmation: 'Thank you.', address: '', view: { questions: [] }, sentences: { shown: [] }, script: {}, came: { number: 0, counted: '' }, ...over }) // prettier-ignore
  const AT = 'GET /api/trackers/1/forms/120'
  const LOOK = 'POST /api/trackers/1/parts/look'
  const SAVE = 'PUT /api/trackers/1/parts/form/120'

  async function designing(answers: Record<string, unknown>) {
    const asked = answering({ [AT]: design(), [LOOK]: { view: null, faults: [] }, ...answers })
    let used!: ReturnType<typeof useForm>
    put(defineComponent({ setup: () => ((used = useForm(ref({ tracker: 1, form: 120 }))), () => null) }), {}, tracker()) // prettier-ignore
    await settled()
    return { used, asked }
  }

  it('is changed only once something differs, and not any more when it is put back', async () => {
    const { used } = await designing({})
    expect(used.changed.value).toBe(false)
    used.draft.value!.form.title = 'Report a fault'
    expect(used.changed.value).toBe(true)
    used.draft.value!.form.title = 'Report'
    expect(used.changed.value).toBe(false)
  })

  it('keeps what is said against it until it is answered, though it is looked at meanwhile', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    const message = 'The table requires “What is wrong”, so the form must ask it and require an answer.'
    const fault = { pointer: '/questions', message }
    const { used, asked } = await (async () => {
      const started = designing({ [SAVE]: refusing(422, message, [fault]), [LOOK]: { view: null, faults: [fault] } })
      await vi.advanceTimersByTimeAsync(50)
      return started
    })()
    used.draft.value!.form.questions = []
    const kept = used.keep()
    await vi.advanceTimersByTimeAsync(50)
    expect(await kept).toBe(false)
    expect(used.faults.value).toEqual({ '/questions': message })
    // What is looked at a moment later answers that it is still so.
    await vi.advanceTimersByTimeAsync(400)
    expect(asked.some((one) => one.path.endsWith('/parts/look'))).toBe(true)
    expect([used.faults.value, used.trouble.value]).toEqual([{ '/questions': message }, message])
    vi.useRealTimers()
  })

  it('lets a fault go once it is answered, and tells no new one while one types', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    const old = { pointer: '/title', message: 'Give the form a title.' }
    const fresh = { pointer: '/limits', message: 'It would close before it opens.' }
    const started = designing({ [SAVE]: refusing(422, old.message, [old]), [LOOK]: { view: null, faults: [fresh] } })
    await vi.advanceTimersByTimeAsync(50)
    const { used } = await started
    const kept = used.keep()
    await vi.advanceTimersByTimeAsync(50)
    await kept
    expect(used.faults.value).toEqual({ '/title': old.message })
    used.draft.value!.form.title = 'Report a fault'
    await vi.advanceTimersByTimeAsync(400)
    expect([used.faults.value, used.trouble.value]).toEqual([{}, ''])
    vi.useRealTimers()
  })
})

describe('the settings of a question', () => {
  const question = (over: Partial<Question> = {}): Question => ({ field: 41, label: 'What is wrong?', help: '', required: true, hidden: false, shown: { condition: { all: [] } }, offers: { all: [] }, ...over }) as Question // prettier-ignore
  const sections = table([field({ type: 'text', limit: 9 }, { id: 21, name: 'Name' })], {
    id: 2,
    name: 'Sections',
    one: 'section',
    many: 'sections',
  })
  const link = field({ type: 'link', to: 2, back: 9, one: false, holds: true } as never, { id: 42, name: 'Section' })

  function settings(over: Partial<Question> = {}, own: Field = title) {
    const home = table([title, link])
    const props = {
      modelValue: reactive(question({ field: own.id, ...over })),
      table: home,
      field: own,
      before: [41],
      phrases: [],
      offers: '',
      parameters: [],
    }
    return put(QuestionSettings, { props }, opened({ tables: [home, sections] } as never))
  }

  it('asks nobody what is put in quietly, so it requires nothing', async () => {
    const shown = settings()
    expect(shown.findAll<HTMLInputElement>('input[type=checkbox]')[0]!.element.disabled).toBe(false)
    await shown.get<HTMLInputElement>('[data-test=hidden]').setValue(true)
    expect((shown.props('modelValue') as Question).hidden).toBe(true)
    expect(shown.findAll<HTMLInputElement>('input[type=checkbox]')[0]!.element.disabled).toBe(true)
  })

  it('of several records offers to enter new ones, and asks in the order of their table', async () => {
    const shown = settings({}, link)
    const own = () => shown.props('modelValue') as Question
    const enter = shown.findAll('label').find((one) => one.text().includes('Enter new sections'))!
    await enter.get<HTMLInputElement>('input').setValue(true)
    expect(own().lines).toEqual({ questions: [], most: 20 })
    await shown.get<HTMLInputElement>('[data-test="line-Name"]').setValue(true)
    expect(own().lines!.questions).toEqual([{ field: 21, label: 'Name', required: false }])
    await enter.get<HTMLInputElement>('input').setValue(false)
    expect(own().lines).toBeNull()
  })

  it('words above it come and go as one', async () => {
    const shown = settings()
    await shown.get<HTMLInputElement>('[data-test=above-heading]').setValue('About you')
    expect((shown.props('modelValue') as Question).above).toEqual({ heading: 'About you', text: '' })
    await shown
      .findAll('button')
      .find((one) => one.text() === 'Take them out')!
      .trigger('click')
    expect((shown.props('modelValue') as Question).above).toBeNull()
  })
})

describe('what a question begins with', () => {
  const READ = 'GET /api/trackers/1/tables/3/fields/40/read'
  function begins(kind: Kind, modelValue: Value | null = null, answers: Record<string, unknown> = {}, given?: string) {
    const asked = answering(answers)
    const shown = put(
      BeginsWith,
      { props: { field: field(kind), table: 3, modelValue, given } },
      opened({ people: [{ id: 2, name: 'Tamsin', initials: 'T' }] } as never),
    )
    return { shown, asked, now: () => shown.emitted('update:modelValue')?.at(-1)?.[0] }
  }

  it('is read by the server as a cell would be, and what it does not take is said there', async () => {
    const { shown, now } = begins({ type: 'duration' }, null, { [READ]: { value: { number: '5400' } } })
    await shown.get('[data-test=begins]').setValue('1:30')
    await shown.get('[data-test=begins]').trigger('change')
    await settled()
    expect(now()).toEqual({ number: '5400' })
    const other = begins({ type: 'number', decimals: 0, unit: '' }, null, { [READ]: refusing(422, '“soon” is not a number.') })
    await other.shown.get('[data-test=begins]').setValue('soon')
    await other.shown.get('[data-test=begins]').trigger('change')
    await settled()
    expect(other.shown.get('.fault-text').text()).toBe('“soon” is not a number.')
    expect(other.now()).toBeUndefined()
    expect(other.shown.get<HTMLInputElement>('[data-test=begins]').element.value).toBe('soon')
  })

  it('emptied, it is nothing', async () => {
    const { shown, now } = begins({ type: 'text', limit: 9 }, { text: 'x' }, {}, 'x')
    await shown.get('[data-test=begins]').setValue(' ')
    await shown.get('[data-test=begins]').trigger('change')
    expect(now()).toBeNull()
  })

  it('is one option, several, or none', async () => {
    const options = [{ id: 7, name: 'wall', hue: 'clay' }, { id: 8, name: 'gate', hue: 'sky' }] as never // prettier-ignore
    const one = begins({ type: 'choice', options })
    expect(offered(one.shown, '[data-test=begins]')).toEqual(['nothing', 'wall', 'gate'])
    await choose(one.shown, '[data-test=begins]', 'gate')
    expect(one.now()).toEqual({ choice: 8 })
    const many = begins({ type: 'choices', options }, { choices: [7] })
    await many.shown.findAll<HTMLInputElement>('input')[1]!.setValue(true)
    expect(many.now()).toEqual({ choices: [7, 8] })
    await many.shown.findAll<HTMLInputElement>('input')[0]!.setValue(false)
    expect(many.now()).toEqual({ choices: [8] })
    await many.shown.findAll<HTMLInputElement>('input')[1]!.setValue(false)
    expect(many.now()).toBeNull()
  })
})

describe('other ways in', () => {
  const known = { call_address: 'http://w.example/api/x/calls', mail_address: 'x@in.w.example', fresh_secret: 's3cret', log: [{ at_text: 'today', way: 'mail', record: null, note: 'It names no section.' }] } // prettier-ignore
  const form = (): Form => ({ id: 120, table: 3, questions: [{ field: 41, label: 'W', hidden: false }], ways: {} }) as unknown as Form

  async function ways(more: Record<string, unknown> = {}) {
    const asked = answering({ 'GET /api/trackers/1/forms/120/ways': known, ...more })
    const shown = put(WaysIn, { props: { tracker: 1, table: faults, kept: 0, modelValue: reactive(form()) } }, tracker())
    await settled()
    return { shown, asked, now: () => shown.props('modelValue') as Form }
  }

  it('a call comes with a secret of its own, and each value goes into a field that is asked', async () => {
    const { shown, now } = await ways()
    await shown.get<HTMLInputElement>('[data-test=take-calls]').setValue(true)
    expect(now().ways.call).toEqual({ secret: 's3cret', fields: [] })
    await shown.get('[data-test=add-call]').trigger('click')
    await shown.get<HTMLInputElement>('[data-test=call-from]').setValue('contact.name')
    expect(now().ways.call!.fields).toEqual([{ from: 'contact.name', field: 41 }])
    await shown.get<HTMLInputElement>('[data-test=take-calls]').setValue(false)
    expect(now().ways.call).toBeNull()
  })

  it('a sample is rehearsed: what would be put in, or why it would be refused', async () => {
    const { shown } = await ways({
      'POST /api/trackers/1/forms/120/try': { puts: [{ name: 'What is wrong', text: 'Gate will not open' }] },
    })
    await shown.get<HTMLInputElement>('[data-test=take-calls]').setValue(true)
    await shown.get('[data-test=try-call]').trigger('click')
    await settled()
    expect(shown.get('[data-test=tried]').text()).toContain('What is wrong Gate will not open')
    await shown.get<HTMLTextAreaElement>('[data-test=sample]').setValue('{ not json')
    await shown.get('[data-test=try-call]').trigger('click')
    await settled()
    expect(shown.get('[data-test=tried]').text()).toBe('It would be refused: The sample is not JSON.')
  })

  it('tells what came and why it was refused', async () => {
    expect((await ways()).shown.text()).toContain('refused: It names no section.')
  })
})
