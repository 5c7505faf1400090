// The page at a message's link: looking changes nothing, one press answers, and what is refused is said.
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { ReplyView } from '@/api/types'
import ReplyPage from './ReplyPage.vue'

const plain = (text: string) => ({ text, tone: 'plain' as const })
const VIEW = {
  team: 'Orrindale Paths Trust',
  title: 'Gate will not open',
  facts: [{ field: 47, label: 'Status', text: 'reported', hue: 'flint' }],
  choices: [
    { words: 'I’ll go and look', says: [plain('sets the status to checked')] },
    { words: 'Call the crew', says: [plain('sets the status to scheduled')] },
  ],
  small: 'This link was sent to Tamsin Oake.',
} as ReplyView
const DONE = {
  ...VIEW,
  choices: [],
  facts: [{ field: 47, label: 'Status', text: 'checked', was: 'reported' }],
  answered: { says: [plain('Tamsin Oake answered')], changed: ['status, from reported to checked'], told: ['Nadia Ferreira-Holt'] },
} as ReplyView

let sent: { method: string; body: unknown }[]
function server(get: [number, unknown], post: [number, unknown] = [200, DONE]) {
  sent = []
  vi.stubGlobal(
    'fetch',
    vi.fn(async (_: string, init?: RequestInit) => {
      const [status, body] = init ? post : get
      if (init) sent.push({ method: init.method ?? '', body: JSON.parse(String(init.body)) })
      return new Response(JSON.stringify(body), { status })
    }),
  )
}
async function page(path: string) {
  history.replaceState({}, '', path)
  const shown = mount(ReplyPage, { attachTo: document.body })
  await flushPromises()
  return shown
}
beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

it('begins with the choice whose link was pressed, and sends nothing by being opened', async () => {
  server([200, VIEW])
  const shown = await page('/reply/abc?with=2')
  expect(shown.get('[data-test=press]').text()).toBe('Call the crew')
  expect(shown.text()).toContain('sets the status to scheduled')
  expect(sent).toEqual([])
  await shown.get('.link').trigger('click')
  expect(shown.get('[data-test=press]').text()).toBe('I’ll go and look')
  expect(sent).toEqual([])
})

it('asks which where one link stands for all of them, as in a text, and shows what one would do before it counts', async () => {
  server([200, VIEW])
  const shown = await page('/reply/abc')
  expect(shown.find('[data-test=press]').exists()).toBe(false)
  expect(shown.text()).not.toContain('sets the status')
  expect(shown.findAll('[data-choice]').map((one) => one.text())).toEqual(['I’ll go and look', 'Call the crew'])
  await shown.get('[data-choice="Call the crew"]').trigger('click')
  expect(sent).toEqual([])
  expect(shown.text()).toContain('sets the status to scheduled')
  await shown.get('[data-test=press]').trigger('click')
  await flushPromises()
  expect(sent).toEqual([{ method: 'POST', body: { choice: 1 } }])
})

it('asks nothing where there is one answer alone', async () => {
  server([200, { ...VIEW, choices: VIEW.choices.slice(0, 1) }])
  expect((await page('/reply/abc')).get('[data-test=press]').text()).toBe('I’ll go and look')
})

it('answers by one press, and tells what was answered, what changed and who was told', async () => {
  server([200, VIEW])
  const shown = await page('/reply/abc?with=1')
  await shown.get('[data-test=press]').trigger('click')
  await flushPromises()
  expect(sent).toEqual([{ method: 'POST', body: { choice: 0 } }])
  expect(shown.find('[data-test=press]').exists()).toBe(false)
  expect(shown.get('[data-test=answered]').text()).toContain('status, from reported to checked')
  expect(shown.text()).toContain('was reported')
  expect(shown.text()).toContain('Nadia Ferreira-Holt')
})

it('takes what is typed, and keeps it where it is refused', async () => {
  const typed = { ...VIEW, choices: [], typed: { asks: 'When?', says: [plain('becomes the day')], sort: 'text' } }
  server([200, typed], [422, { detail: 'This is no day.', faults: [{ pointer: '/typed', message: 'This is no day.' }] }])
  const shown = await page('/reply/abc')
  await shown.get('[data-test=typed]').setValue('some day')
  await shown.get('form').trigger('submit')
  await flushPromises()
  expect(sent).toEqual([{ method: 'POST', body: { typed: 'some day' } }])
  expect(shown.get('[role=alert]').text()).toBe('This is no day.')
  expect((shown.get('[data-test=typed]').element as HTMLInputElement).value).toBe('some day')
})

it('says why it can’t be answered, and where there is nothing at all', async () => {
  server([200, { ...VIEW, choices: [], facts: [], closed: 'This could be answered until yesterday.' }])
  const over = await page('/reply/abc?with=1')
  expect(over.get('[data-test=closed]').text()).toContain('until yesterday')
  expect(over.find('[data-test=press]').exists()).toBe(false)
  server([404, { detail: 'There is nothing to answer at this address.' }])
  const none = await page('/reply/x')
  expect(none.get('[role=alert]').text()).toContain('nothing to answer at this address')
})
