import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, choose, field, offered, opened, put, refusing, settled, table } from '@/testing'
import MailEditor from './MailEditor.vue'
import TextsList from './TextsList.vue'
import { alsoWritten } from './texts'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const faults = table([field({ type: 'text', limit: 99 }, { id: 41, name: 'Title', within: 'title' })])
const THANKS = {
  id: 460,
  table: 3,
  name: 'Thanks',
  subject: 'About {Title}',
  body: 'Thank you.',
  used_by: ['Tell who reported it', 'Other'],
}
const TEXTS = 'GET /api/trackers/1/texts'
const step = { to: { address: 'a@out.example' }, subject: 'Own {Title}', body: 'Own words', digest: false }

async function editor(texts: unknown[], more: object = {}, over: object = {}) {
  const asked = answering({ [TEXTS]: texts, 'GET /api/trackers/1/roles': [], 'GET /api/trackers/1/documents': [], ...more })
  const props = { table: faults, step: { ...step, ...over }, at: '/steps/0', readonly: false }
  const shown = put(MailEditor, { props } as never, opened({ tables: [faults], forms: [] } as never))
  await settled()
  return { shown, asked, kept: () => (shown.emitted('keep')?.at(-1) as [object] | undefined)?.[0] }
}

describe('a message', () => {
  it('is written by a text of the team, shown as it is, and by its own words again', async () => {
    const { shown, kept } = await editor([THANKS, { ...THANKS, id: 461, table: 9, name: 'Other table' }])
    expect(offered(shown, '[data-test=mail-text]')).toEqual(['its own words', 'the text “Thanks”'])
    await choose(shown, '[data-test=mail-text]', 'the text “Thanks”')
    expect(shown.get('[data-test=stored-text]').text()).toContain('About {Title}')
    expect(shown.find('[data-test=mail-subject]').exists()).toBe(false)
    await shown.get('[data-test=keep-mail]').trigger('click')
    expect(kept()).toMatchObject({ text: 460, subject: 'Own {Title}' })
    await choose(shown, '[data-test=mail-text]', 'its own words')
    await shown.get('[data-test=keep-mail]').trigger('click')
    expect(kept()).toMatchObject({ text: null, subject: 'Own {Title}' })
  })

  it('gives its own words to the team as a text, and is written by that from then on', async () => {
    const { shown, asked, kept } = await editor([], { 'POST /api/trackers/1/parts': { seq: 9, made: 470, did: 'made the text Own' } })
    expect(shown.find('[data-test=mail-text]').exists()).toBe(false)
    await shown.get('[data-test=store-text]').trigger('click')
    await shown.get('[data-test=store-name] input').setValue('Own')
    await shown.get('[data-test=store-yes]').trigger('click')
    await settled()
    expect(changes(asked)[0]!.body).toEqual({ text: { table: 3, name: 'Own', subject: 'Own {Title}', body: 'Own words' } })
    await shown.get('[data-test=keep-mail]').trigger('click')
    expect(kept()).toMatchObject({ text: 470 })
  })

  it('says why its words can’t be kept as a text', async () => {
    const told = 'There is a text “Own” already.'
    const { shown } = await editor([], { 'POST /api/trackers/1/parts': refusing(422, told, [{ pointer: '/name', message: told }]) })
    await shown.get('[data-test=store-text]').trigger('click')
    await shown.get('[data-test=store-name] input').setValue('Own')
    await shown.get('[data-test=store-yes]').trigger('click')
    await settled()
    expect(shown.text()).toContain(told)
  })
})

describe('the texts of a tracker', () => {
  async function list(texts: unknown[], more: object = {}) {
    const asked = answering({ [TEXTS]: texts, ...more })
    const shown = put(TextsList, { props: { tracker: 1, readonly: false } } as never, opened({ tables: [faults], forms: [] } as never))
    await settled()
    return { shown, asked }
  }

  it('say what is written by them, and are changed for all of it', async () => {
    const { shown, asked } = await list([THANKS], { 'PUT /api/trackers/1/parts/text/460': { seq: 9, did: 'changed the text Thanks' } })
    const line = shown.get('[data-text=Thanks]')
    expect(line.text()).toContain('Written by it: “Tell who reported it”, “Other”.')
    await line.get('button').trigger('click')
    await shown.get('[data-test=text-subject] input').setValue('News of {Title}')
    await shown.get('form').trigger('submit')
    await settled()
    expect(changes(asked)[0]!.body).toEqual({ text: { table: 3, name: 'Thanks', subject: 'News of {Title}', body: 'Thank you.' } })
  })

  it('are made, with what is wrong at its place, and taken away unless something is written by them', async () => {
    const told = 'There is a text “Thanks” already.'
    const used = '“Thanks” can’t be removed yet: “Other” is written by it. Change that first.'
    const { shown } = await list([THANKS], {
      'POST /api/trackers/1/parts': refusing(422, told, [{ pointer: '/name', message: told }]),
      'DELETE /api/trackers/1/parts/text/460': refusing(409, used),
    })
    await shown.get('[data-text=Thanks]').findAll('button')[1]!.trigger('click')
    await settled()
    expect(shown.get('[role=alert]').text()).toBe(used)
    await shown.get('[data-test=new-text]').trigger('click')
    expect(shown.get('[data-test=keep-text]').attributes('disabled')).toBeDefined()
    await shown.get('[data-test=text-name] input').setValue('Thanks')
    await shown.get('form').trigger('submit')
    await settled()
    expect(shown.get('[data-test=text-name]').text()).toContain(told)
  })

  it('tell of others than the one that one is at', () => {
    expect(alsoWritten(THANKS, 'Other')).toBe('Also written by it: “Tell who reported it”.')
    expect(alsoWritten({ ...THANKS, used_by: [] })).toBe('')
  })
})
