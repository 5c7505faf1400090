import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { reactive } from 'vue'
import type { QuestionView } from '@/api/types'
import { blank, type Answer } from './answer'
import FormQuestion from './FormQuestion.vue'

const options = [
  { id: 1, name: 'passable', hue: 'lichen' },
  { id: 2, name: 'grave', hue: 'rowan' },
]

function asked(answer: object, over: Partial<QuestionView> = {}, props: object = {}) {
  const question = { field: 46, label: 'How bad is it', required: true, answer, ...over } as QuestionView
  const given: Answer = reactive(blank())
  const shown = mount(FormQuestion, { attachTo: document.body, props: { question, modelValue: given, ...props } })
  return { shown, given }
}

describe('a question', () => {
  it('is named by its label, for those who hear it too', () => {
    const { shown } = asked({ type: 'text', limit: 80 })
    const box = shown.get('input')
    expect(shown.get(`label[for="${box.attributes('id')}"]`).text()).toBe('How bad is it')
    expect([box.attributes('maxlength'), box.attributes('aria-required')]).toEqual(['80', 'true'])
  })

  it('says what need not be answered', () => {
    expect(asked({ type: 'text', limit: 80 }, { required: false }).shown.get('.label').text()).toMatch(/^How bad is it\s+if you like$/)
  })

  it('says its fault beside its help, both where a screen reader finds them', () => {
    const { shown } = asked({ type: 'number', unit: 'km' }, { help: 'About.' }, { fault: 'Please answer this.' })
    const box = shown.get('input')
    const told = box
      .attributes('aria-describedby')!
      .split(' ')
      .map((id) => document.getElementById(id)!.textContent)
    expect(told).toEqual(['About.', 'Please answer this.'])
    expect([box.attributes('aria-invalid'), box.attributes('inputmode')]).toEqual(['true', 'decimal'])
    expect(shown.text()).toContain('in km')
  })

  it.each([
    [{ type: 'choice', options }, 'radiogroup'],
    [{ type: 'yes' }, 'radiogroup'],
    [{ type: 'rating', most: 5 }, 'radiogroup'],
    [{ type: 'choices', options }, 'group'],
    [{ type: 'range' }, 'group'],
  ])('of kind %j is a %s under its label', (answer, role) => {
    const { shown } = asked(answer)
    const group = shown.get(`[role=${role}]`)
    expect(document.getElementById(group.attributes('aria-labelledby')!)!.textContent?.trim()).toContain('How bad is it')
  })

  it('of a choice takes one, of several takes several', async () => {
    const one = asked({ type: 'choice', options })
    await one.shown.findAll('input')[1]!.setValue(true)
    expect(one.given.choice).toBe(2)
    const several = asked({ type: 'choices', options })
    for (const box of several.shown.findAll('input')) await box.setValue(true)
    expect(several.given.choices).toEqual([1, 2])
  })

  it('of a choice that follows another says so while there is nothing to choose', () => {
    expect(asked({ type: 'choice', options: [] }).shown.text()).toContain('Answer what stands before this first.')
  })

  it('tells no from nothing', async () => {
    const { shown, given } = asked({ type: 'yes' })
    expect(given.yes).toBeUndefined()
    await shown.findAll('input')[1]!.setValue(true)
    expect(given.yes).toBe(false)
  })

  it('of a mail address or a phone brings its keyboard and what the browser knows', () => {
    const box = (type: string) => asked({ type }).shown.get('input').attributes()
    expect([box('mail').type, box('mail').autocomplete, box('phone').type, box('phone').autocomplete]).toEqual([
      'email',
      'email',
      'tel',
      'tel',
    ])
  })

  it('in a line has no words above it', () => {
    const above = { heading: 'Where', text: 'As near as you can.' }
    expect(
      asked({ type: 'yes' }, { above } as never)
        .shown.find('h2')
        .text(),
    ).toBe('Where')
    expect(
      asked({ type: 'yes' }, { above } as never, { line: true })
        .shown.find('h2')
        .exists(),
    ).toBe(false)
  })
})
