import { afterEach, expect, it } from 'vitest'
import { h } from 'vue'
import type { Node, Phrase } from '@/api/types'
import { put, settled } from '@/testing'
import SentenceLine from './SentenceLine.vue'

const node = (part: string) => ({ part }) as unknown as Node
const PHRASES = [
  { text: '42 of 318 faults', tone: 'strong', node: null },
  { text: ' where ', tone: 'plain', node: null },
  { text: 'status is not made good', tone: 'edit', node: node('condition') },
  { text: ', ', tone: 'plain', node: null },
  { text: '+ group', tone: 'offer', node: node('group') },
] as unknown as Phrase[]

const line = () =>
  put(SentenceLine, {
    props: { phrases: PHRASES },
    slots: { editor: ({ node, close }) => h('button', { id: 'editor', onClick: close }, JSON.stringify(node)) },
  })

afterEach(() => (document.body.innerHTML = ''))

it('reads as the core wrote it: no space before a comma, none lost', () => {
  expect(line().get('p').element.textContent).toBe('42 of 318 faults where status is not made good, + group')
})

it('makes a button of what can be edited and of nothing else', () => {
  expect(
    line()
      .findAll('p button')
      .map((one) => one.text()),
  ).toEqual(['status is not made good', '+ group'])
})

it('opens the editor of the phrase that is pressed, and gives the focus back to it', async () => {
  const shown = line()
  const phrase = shown.get<HTMLButtonElement>('[data-part=condition]')
  await phrase.trigger('click')
  await settled()
  expect(phrase.attributes('aria-expanded')).toBe('true')
  const editor = document.querySelector<HTMLButtonElement>('#editor')!
  expect(editor.textContent).toBe('{"part":"condition"}')
  editor.click()
  await settled()
  expect(phrase.attributes('aria-expanded')).toBe('false')
  expect(document.activeElement).toBe(phrase.element)
})

it('drops what is set by Delete, and nothing that is only offered', async () => {
  const shown = line()
  await shown.get('[data-part=group]').trigger('keydown', { key: 'Delete' })
  await shown.get('[data-part=condition]').trigger('keydown', { key: 'Delete' })
  expect(shown.emitted('drop')).toEqual([[node('condition')]])
})
