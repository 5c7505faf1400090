// The page at the foot of a message: looking changes nothing, each press says one thing, and how it is then is told.
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { OptOutView } from '@/api/types'
import OptOutPage from './OptOutPage.vue'

const VIEW: OptOutView = {
  team: 'Orrindale Paths Trust',
  title: 'Which messages you get',
  says: 'wynn@walkers.example gets messages such as “We have it” from Orrindale Paths Trust.',
  offers: [
    { says: 'notthese', words: 'No more of these' },
    { says: 'none', words: 'No messages at all' },
  ],
  small: 'This is about what is sent by itself.',
}
const DONE: OptOutView = { ...VIEW, says: 'wynn@walkers.example gets no more.', offers: [{ says: 'again', words: 'Send these again' }] }

let sent: unknown[]
function server(get: [number, unknown], post: [number, unknown] = [200, DONE]) {
  sent = []
  vi.stubGlobal(
    'fetch',
    vi.fn(async (address: string, init?: RequestInit) => {
      expect(address).toBe('/api/public/opt-outs/abc')
      const [status, body] = init ? post : get
      if (init) sent.push(JSON.parse(String(init.body)))
      return new Response(JSON.stringify(body), { status })
    }),
  )
}
async function page() {
  history.replaceState({}, '', '/opt-out/abc')
  const shown = mount(OptOutPage, { attachTo: document.body })
  await flushPromises()
  return shown
}
beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

it('says how it is, and sends nothing by being opened', async () => {
  server([200, VIEW])
  const shown = await page()
  expect(shown.get('[data-test=says]').text()).toBe(VIEW.says)
  expect(shown.findAll('button').map((one) => one.text())).toEqual(['No more of these', 'No messages at all'])
  expect(document.title).toBe(VIEW.title)
  expect(sent).toEqual([])
})

it('says one thing by a press, tells how it is then, and offers the way back', async () => {
  server([200, VIEW])
  const shown = await page()
  await shown.get('[data-test=say-notthese]').trigger('click')
  await flushPromises()
  expect(sent).toEqual([{ says: 'notthese' }])
  expect(shown.get('[data-test=says]').text()).toBe(DONE.says)
  expect(shown.findAll('button').map((one) => one.text())).toEqual(['Send these again'])
})

it('tells what is refused, and keeps what was offered', async () => {
  server([200, VIEW], [503, { detail: 'The database does not answer. Try again in a moment.' }])
  const shown = await page()
  await shown.get('[data-test=say-none]').trigger('click')
  await flushPromises()
  expect(shown.get('[role=alert]').text()).toContain('does not answer')
  expect(shown.findAll('button')).toHaveLength(2)
})

it('says so where no message has this address', async () => {
  server([404, { detail: 'No message has this address. Check it: it is the one in your message.' }])
  const shown = await page()
  expect(shown.get('[role=alert]').text()).toContain('it is the one in your message')
})
