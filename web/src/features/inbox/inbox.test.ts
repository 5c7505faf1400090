// The inbox: what is unread, answering in place, and messages that wait for their answer.
import { beforeEach, expect, it, vi } from 'vitest'
import { answering, changes, choose, offered, put, settled } from '@/testing'
import AskedMessage from './AskedMessage.vue'
import InboxPage from './InboxPage.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const says = (text: string) => [{ text, tone: 'plain' }]
const notice = (number: number, over: object = {}) => ({
  number,
  at_text: '08:52',
  read: false,
  says: says('Nadia names you on '),
  quote: null,
  comment: null,
  why: 'You are told since you are named in it.',
  ...over,
})
const group = (notices: object[], over: object = {}) => ({
  tracker: 1,
  tracker_name: 'Path upkeep',
  table: 3,
  record: 7,
  name: 'Gate',
  notices,
  ...over,
})
const inbox = (groups: object[], asks: object[] = []) => ({
  unread: 1,
  asks,
  groups,
  wishes: [{ word: 'given', says: 'when something is given to you', elsewhere: 'never', ways: ['never', 'at_once', 'daily'] }],
})
const page = {
  title: 'Gate',
  team: 'T',
  facts: [],
  small: '',
  choices: [
    { words: 'Go', says: says('sets it to checked') },
    { words: 'Wait', says: says('tells it') },
  ],
}
const ask = { number: 12, at_text: '08:12', tracker: 1, table: 3, record: 7, page, why: 'You get this since you are warden of it.' }

async function shown(answers: Record<string, unknown>) {
  const asked = answering({ 'GET /api/inbox/unread': { unread: 1 }, 'POST /api/inbox/read': {}, ...answers })
  const box = put(InboxPage)
  await settled()
  return { asked, box }
}

it('says why one is told where one asks, and why one has a message', async () => {
  const { box } = await shown({ 'GET /api/inbox': inbox([group([notice(5)])], [ask]) })
  const whys = () => box.findAll('.why').map((one) => one.text())
  expect(whys()).toEqual([])
  for (const why of box.findAll('[data-test=why-told]')) await why.trigger('click')
  expect(whys()).toEqual(['You get this since you are warden of it.', 'You are told since you are named in it.'])
  await box.findAll('[data-test=why-told]')[1]!.trigger('click')
  expect(whys()).toEqual(['You get this since you are warden of it.'])
})

it('says what is unread by record, and marks it as read, one or all', async () => {
  const { asked, box } = await shown({ 'GET /api/inbox': inbox([group([notice(5), notice(4, { read: true })])]) })
  expect(box.get('[data-test=notices]').classes()).toContain('unread')
  await box.findAll('[data-test=read]')[0]!.trigger('click')
  await settled()
  await box.findAll('[data-test=read]')[1]!.trigger('click')
  await settled()
  await box.get('[data-test=read-all]').trigger('click')
  await settled()
  expect(changes(asked).map((one) => one.body)).toEqual([
    { notices: [5], read: true },
    { notices: [4], read: false },
    { notices: null, read: true },
  ])
})

it('answers what was said in place', async () => {
  const path = '/api/trackers/1/tables/3/records/7/talk'
  const { asked, box } = await shown({
    'GET /api/inbox': inbox([group([notice(5, { quote: 'Can the crew come?', comment: 2 })])]),
    [`POST ${path}`]: { seq: 3 },
  })
  expect(box.get('blockquote').text()).toBe('Can the crew come?')
  await box.get('[data-test=answer]').trigger('click')
  await box.get('[data-test=answer-words]').setValue(' Yes. ')
  await box.get('form').trigger('submit')
  await settled()
  expect(changes(asked).map((one) => [one.path, one.body])).toEqual([
    [path, { said: [{ text: 'Yes.' }], answers: 2 }],
    ['/api/inbox/read', { notices: [5], read: true }],
  ])
})

it('lets one say when what reaches one elsewhere, too', async () => {
  const { asked, box } = await shown({ 'GET /api/inbox': inbox([]), 'PUT /api/inbox/wishes': {} })
  expect(box.text()).toContain('Here stands what others say to you')
  expect(offered(box, '[data-test=wish-given]')).toEqual(['not at all', 'at once', 'each morning'])
  await choose(box, '[data-test=wish-given]', 'each morning')
  await settled()
  expect(changes(asked)[0]?.body).toEqual({ word: 'given', elsewhere: 'daily' })
})

it('says what an answer does before it is pressed', async () => {
  const asked = answering({ 'POST /api/inbox/asks/12': page })
  const box = put(AskedMessage, { props: { ask: ask as never, readonly: false } })
  expect(box.find('[data-test=press-answer]').exists()).toBe(false)
  await box.get("[data-choice='Go']").trigger('click')
  expect(box.text()).toContain('sets it to checked')
  expect(changes(asked)).toEqual([])
  await box.get('[data-test=press-answer]').trigger('click')
  await settled()
  expect(changes(asked)[0]?.body).toEqual({ choice: 0 })
  expect(box.emitted('answered')).toHaveLength(1)
  await box.setProps({ readonly: true })
  expect(box.find("[data-choice='Go']").exists()).toBe(false)
})
