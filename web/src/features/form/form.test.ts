import { beforeEach, describe, expect, it } from 'vitest'
import type { Form, Question, ScriptLine as Line } from '@/api/types'
import { answering, changes, choose, field, opened, put, settled, table } from '@/testing'
import NotAsked from './NotAsked.vue'
import ScriptLine from './ScriptLine.vue'
import ShareForm from './ShareForm.vue'

beforeEach(() => (document.body.innerHTML = ''))

const question = (over: Partial<Question> = {}): Question =>
  ({
    field: 40,
    label: 'Can one get past?',
    help: '',
    required: true,
    hidden: false,
    shown: { condition: { all: [] } },
    offers: { all: [] },
    ...over,
  }) as Question
const line: Line = { how: 'must be answered', lands: 'Severity', of: 'one of 4', stranger: 'Everybody comes to it.' }

describe('a line of a script', () => {
  const drawn = (over: object = {}) =>
    put(ScriptLine, {
      props: { question: question(), place: 3, line, phrases: [], opened: 212, open: false, fault: '', first: false, last: true, ...over },
      slots: { default: '<i class="settings" />' },
    })

  it('says how it is asked and where the answer lands', () => {
    expect(drawn().get('.words').text()).toBe('Can one get past? must be answered')
    expect(drawn().get('.lands').text()).toContain('Severity one of 4')
  })

  it('tells when it is asked, only where it is not always', () => {
    const offer = { text: 'asked only when …', tone: 'offer' }
    expect(
      drawn({ phrases: [offer] })
        .find('.direction')
        .exists(),
    ).toBe(false)
    const when = [{ text: 'asked when ', tone: 'plain' }, { text: 'kind is not signage', tone: 'edit' }, offer]
    expect(drawn({ phrases: when }).get('.direction').text()).toBe('asked when kind is not signage')
  })

  it('shows who is still there to scale, and who left in words', () => {
    const shown = drawn({ still: { here: 106, left: 23 } })
    expect(shown.get('.here').attributes('style')).toContain('50%')
    expect(shown.text()).toContain('23 left here')
    expect(drawn().find('.stream').exists()).toBe(false)
  })

  it('opens what is set of it beneath itself, and moves by its own keys', async () => {
    const shown = drawn({ open: true })
    expect(shown.find('.settings').exists()).toBe(true)
    expect(drawn().find('.settings').exists()).toBe(false)
    await shown.get('[aria-label="Can one get past? earlier"]').trigger('click')
    expect(shown.emitted('shift')).toEqual([[-1]])
    expect(shown.get('[aria-label="Can one get past? later"]').attributes('disabled')).toBeDefined()
  })
})

describe('what nobody is asked', () => {
  it('offers what could be asked too, to whoever may change the form', async () => {
    const severity = field({ type: 'text', limit: 9 }, { id: 40, name: 'Severity' })
    const script = { lines: [], quietly: ['Status: “reported” is put in.'], itself: 'Due comes by itself.', free: [40] }
    const drawn = (readonly: boolean) => put(NotAsked, { props: { script, table: table([severity]), readonly } })
    const shown = drawn(false)
    expect(shown.text()).toContain('Status: “reported” is put in.')
    await shown.get('[data-ask=Severity]').trigger('click')
    expect(shown.emitted('ask')).toEqual([[severity]])
    expect(drawn(true).find('button').exists()).toBe(false)
  })
})

describe('handing a form out', () => {
  const places = [{ name: 'from', value: 'poster', answers: 8, last: 'today' }, { name: 'from', value: 'post', answers: 2, last: 'May' }, { name: 'from', value: 'stile', answers: 0, last: '', kept: [{ name: 'section', value: 'PS-009' }] }] // prettier-ignore
  async function drawn(questions: Question[]) {
    const asked = answering({
      'GET /api/trackers/1/forms/120/answers': { fields: [], rows: [], total: 10, places },
      'PUT /api/trackers/1/parts/form/120': { seq: 2 },
    })
    const link = field({ type: 'link', to: 2, back: 9, one: true, holds: true } as never, { id: 40, name: 'Section' })
    const home = table([link])
    const other = table([field({ type: 'text', limit: 9 })], { id: 2, one: 'section' })
    const hangs = [{ name: 'stile', parameters: [{ name: 'section', value: 'PS-009' }] }]
    const form = { id: 120, link: 'report', title: 'Report', questions, places: hangs } as unknown as Form
    const tracker = opened({ tables: [home, other] } as never)
    const shown = put(
      ShareForm,
      { props: { tracker: 1, form, table: home, address: 'http://w.example/f/report', confirmation: 'Thank you.' } },
      tracker,
    )
    await settled()
    return Object.assign(shown, { asked })
  }

  it('writes what one says into the link and its code', async () => {
    const shown = await drawn([question({ parameter: 'section' } as never)])
    await shown.get('[data-test=share-section]').setValue('PS-001')
    await shown.get('[data-test=share-place]').setValue('car park')
    expect(shown.get('[data-test=form-address]').text()).toBe('http://w.example/f/report?section=PS-001&from=car+park')
    expect(shown.get('img').attributes('src')).toContain('?section=PS-001&from=car+park')
  })

  it('keeps where it hangs, lists it though nothing came, and says again what its link says', async () => {
    const shown = await drawn([question({ parameter: 'section' } as never)])
    await shown.get('[data-test=share-section]').setValue('PS-001')
    await shown.get('[data-test=share-place]').setValue('car park')
    await shown.get('[data-test=keep-place]').trigger('click')
    await settled()
    const body = changes(shown.asked).at(-1)!.body as { form: { form: Form; confirmation: string } }
    expect(body.form.confirmation).toBe('Thank you.')
    expect(body.form.form.places).toEqual([
      { name: 'stile', parameters: [{ name: 'section', value: 'PS-009' }] },
      { name: 'car park', parameters: [{ name: 'section', value: 'PS-001' }] },
    ])
    const kept = shown.findAll('.place').at(-1)!
    expect(kept.text()).toContain('nothing yet')
    await kept.get('.link').trigger('click')
    expect(shown.get('[data-test=form-address]').text()).toBe('http://w.example/f/report?section=PS-009&from=stile')
    expect(shown.find('[data-test=keep-place]').exists()).toBe(false)
  })

  it('offers a sheet of codes where the link fills in a record', async () => {
    const shown = await drawn([question({ parameter: 'section' } as never)])
    expect(shown.get('[data-test=sheet-of-codes]').text()).toBe('A sheet of codes, one for each section')
    expect((await drawn([question()])).find('[data-test=sheet-of-codes]').exists()).toBe(false)
  })

  it('makes a bookmark that takes the page along, its title where the link fills in a text', async () => {
    const about = field({ type: 'text', limit: 80 }, { id: 41, name: 'About' })
    const page = field({ type: 'web' }, { id: 43, name: 'Page' })
    answering({ 'GET /api/trackers/1/forms/120/answers': { fields: [], rows: [], total: 0, places: [] } })
    const questions = [question({ field: 41, label: 'What about?', parameter: 'about' } as never), question({ field: 43, label: 'Which page?', parameter: 'page' } as never)] // prettier-ignore
    const form = { id: 120, link: 'report', title: 'Report', questions } as unknown as Form
    const home = table([about, page])
    const shown = put(
      ShareForm,
      { props: { tracker: 1, form, table: home, address: 'http://w.example/f/report', confirmation: 'Thank you.' } },
      opened({ tables: [home] } as never),
    )
    await settled()
    const href = () => shown.get('[data-test=bookmarklet]').attributes('href')!
    expect(href()).toBe(
      'javascript:void(open("http://w.example/f/report?from=bookmark"+\'&\'+new URLSearchParams({"page":location.href,"about":document.title})))',
    )
    // It runs elsewhere: here it is only dragged.
    const click = new MouseEvent('click', { cancelable: true, bubbles: true })
    shown.get('[data-test=bookmarklet]').element.dispatchEvent(click)
    expect(click.defaultPrevented).toBe(true)
    await choose(shown, '[aria-label="Where the title goes"]', 'nothing')
    expect(href()).toContain('URLSearchParams({"page":location.href})')
  })

  it('says how to begin where the link fills in nothing', async () => {
    const shown = await drawn([question()])
    expect(shown.get('[data-test=bookmark]').text()).toContain('First let the link fill something in')
  })

  it('draws what came by each place at one scale', async () => {
    const shown = await drawn([question()])
    expect(shown.findAll('.bar i').map((bar) => bar.attributes('style'))).toEqual([
      expect.stringContaining('100%'),
      expect.stringContaining('25%'),
      expect.stringContaining('0%'),
    ])
  })
})
