import { beforeEach, expect, it, vi } from 'vitest'
import { answering, put, settled } from '@/testing'
import PostRoom from './PostRoom.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const mail = (id: number, body: string, by: string | null = 'mail') => ({
  id,
  by,
  at_text: 'today',
  sender: 's@w.example',
  recipient: `r${id}@w.example`,
  subject: `S${id}`,
  body,
})

async function room(messages: unknown[], answers: Record<string, unknown> = {}) {
  answering({ 'GET /api/post-room': messages, ...answers })
  const shown = put(PostRoom)
  await settled()
  return shown
}

it('opens the latest mail, and another when it is pressed', async () => {
  const shown = await room([mail(2, 'Second'), mail(1, 'First')])
  expect(shown.get('[data-test=open-message]').text()).toContain('Second')
  await shown.findAll('[data-test=message]')[1]!.trigger('click')
  expect(shown.get('[data-test=open-message] h2').text()).toBe('S1')
  expect(shown.text()).toContain('So far: 2.')
})

it('makes links of our own addresses alone', async () => {
  const shown = await room([mail(1, `See ${location.origin}/t/1/3/5 or https://elsewhere.example/x <b>now</b>`)])
  expect(shown.findAll('.body a').map((a) => a.attributes('href'))).toEqual([`${location.origin}/t/1/3/5`])
  // What a stranger wrote is text.
  expect(shown.get('.body').text()).toContain('https://elsewhere.example/x <b>now</b>')
  expect(shown.find('.body b').exists()).toBe(false)
})

it('shows a chat as it looks and a mail as its text, and says by which way each came', async () => {
  const shown = await room([mail(3, 'Answer', 'chat'), mail(2, 'Called', null), mail(1, 'Dear', 'mail')])
  expect(shown.findAll('.to').map((one) => one.text())).toEqual(['chat, r3@w.example', 'web call, r2@w.example', 'r1@w.example'])
  expect(shown.get('[data-test=mail-page]').attributes('src')).toBe('/api/post-room/3/page')
  await shown.findAll('[data-test=message]')[2]!.trigger('click')
  expect(shown.find('[data-test=mail-page]').exists()).toBe(false)
  await shown.get('[data-test=as-page]').trigger('click')
  expect(shown.get('[data-test=mail-page]').attributes('src')).toBe('/api/post-room/1/page')
})

it('says what would bring the first mail', async () => {
  expect((await room([])).text()).toContain('An invitation that is mailed appears here')
})

it('shows what is enclosed, to be kept', async () => {
  const enclosed = { 'GET /api/post-room/4/enclosed': ['FR-2026-0001.pdf'] }
  const shown = await room([mail(4, 'With a sheet'), mail(3, 'Without')], enclosed)
  const link = shown.get('[data-test=enclosed] a')
  expect([link.text(), link.attributes('href')]).toEqual(['FR-2026-0001.pdf', '/api/post-room/4/enclosed/0'])
  await shown.findAll('[data-test=message]')[1]!.trigger('click')
  await settled()
  expect(shown.find('[data-test=enclosed]').exists()).toBe(false)
})
