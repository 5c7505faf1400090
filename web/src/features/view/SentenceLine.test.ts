import { afterEach, expect, it } from 'vitest'
import { h } from 'vue'
import type { Phrase } from '@/api/types'
import { put, settled } from '@/testing'
import SentenceLine from './SentenceLine.vue'

const STATUS = '/condition/all/0'
const PHRASES: Phrase[] = [
  { text: '42 of 318 faults', tone: 'strong' },
  { text: ' where ', tone: 'plain' },
  { text: 'status is not made good', tone: 'edit', at: STATUS },
  { text: ' and ', tone: 'plain' },
  { text: 'due is this week', tone: 'edit', at: '/condition/all/1' },
  { text: ', ', tone: 'plain' },
  { text: '+ group', tone: 'offer', at: '/groups' },
]

const line = (props: object = {}) =>
  put(SentenceLine, {
    props: { phrases: PHRASES, ...props },
    slots: { editor: ({ at, close }) => h('button', { id: 'editor', onClick: close }, at) },
  })
const at = (place: string) => `[data-at="${place}"]`

afterEach(() => (document.body.innerHTML = ''))

it('reads as the core wrote it: no space before a comma, none lost', () => {
  expect(line().get('p').element.textContent).toBe('42 of 318 faults where status is not made good and due is this week, + group')
})

it('makes a button of what can be edited and of nothing else', () => {
  expect(
    line()
      .findAll('p button')
      .map((one) => one.text()),
  ).toEqual(['status is not made good', 'due is this week', '+ group'])
})

it('opens the editor of the phrase that is pressed, and gives the focus back to it', async () => {
  const shown = line()
  const phrase = shown.get<HTMLButtonElement>(at(STATUS))
  await phrase.trigger('click')
  await settled()
  // The whole condition is edited, so every phrase of it is open.
  expect(shown.findAll('[aria-expanded=true]').map((one) => one.text())).toEqual(['status is not made good', 'due is this week'])
  const editor = document.querySelector<HTMLButtonElement>('#editor')!
  expect(editor.textContent).toBe(STATUS)
  editor.click()
  await settled()
  expect(phrase.attributes('aria-expanded')).toBe('false')
  expect(document.activeElement).toBe(phrase.element)
})

it('gives the focus to the rule where the phrase itself is gone', async () => {
  const shown = line()
  await shown.get(at('/condition/all/1')).trigger('click')
  await settled()
  await shown.setProps({ phrases: PHRASES.filter((phrase) => phrase.at !== '/condition/all/1') })
  document.querySelector<HTMLButtonElement>('#editor')!.click()
  await settled()
  expect(document.activeElement?.textContent).toBe('status is not made good')
})

it('marks the phrase that a fault is about, and no other', () => {
  const message = 'Choose at least one of the options of “Status”.'
  const shown = line({ faults: [{ pointer: `${STATUS}/test`, message }] })
  expect(shown.findAll('.wrong').map((one) => [one.text(), one.attributes('title')])).toEqual([['status is not made good', message]])
  // The tenth is not the first.
  expect(
    line({ faults: [{ pointer: '/condition/all/01', message }] })
      .find('.wrong')
      .exists(),
  ).toBe(false)
})

it('drops what is set by Delete, and nothing that is only offered', async () => {
  const shown = line()
  await shown.get(at('/groups')).trigger('keydown', { key: 'Delete' })
  await shown.get(at(STATUS)).trigger('keydown', { key: 'Delete' })
  expect(shown.emitted('drop')).toEqual([[STATUS]])
})
