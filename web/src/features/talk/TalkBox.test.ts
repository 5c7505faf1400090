import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, put, refusing, settled } from '@/testing'
import TalkBox from './TalkBox.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  sessionStorage.clear()
  localStorage.clear()
  vi.unstubAllGlobals()
})

const PEOPLE = [
  { whom: { person: 2 }, name: 'Tamsin Oake', sees: true, says: 'may see this' },
  { whom: { person: 3 }, name: 'Tamara Idle', sees: false, says: 'may not see this record, and is not told' },
]

let drafts = 0
function box(over: object = {}) {
  const send = vi.fn(() => Promise.resolve())
  const page = put(TalkBox, { props: { at: { tracker: 1, table: 3, record: 7 }, draft: `test-${++drafts}`, label: 'Say something', does: 'Say it', send, ...over } }) // prettier-ignore
  const area = page.get<HTMLTextAreaElement>('[data-test=talk-box]')
  const type = async (text: string) => {
    area.element.value = text
    area.element.setSelectionRange(text.length, text.length)
    await area.trigger('input')
    await settled()
  }
  return { page, area, send, type }
}

describe('the box in which one speaks', () => {
  it('proposes people with whether they are reached, and sends the one that was picked', async () => {
    answering({ 'GET /api/trackers/1/tables/3/records/7/whom': PEOPLE })
    const { page, area, send, type } = box()
    await type('Can you, @tam')
    expect(page.findAll('[role=option]').map((one) => one.text())).toEqual([
      'Tamsin Oake may see this',
      'Tamara Idle may not see this record, and is not told',
    ])
    await area.trigger('keydown', { key: 'Enter' })
    await settled()
    expect(area.element.value).toBe('Can you, @Tamsin Oake ')
    await area.trigger('keydown', { key: 'Enter', ctrlKey: true })
    await settled()
    expect(send).toHaveBeenCalledWith([{ text: 'Can you, ' }, { person: 2 }, { text: ' ' }], { tokens: [], files: [] })
    expect(area.element.value).toBe('')
  })

  it('says before it is sent who of those named would not be told', async () => {
    answering({ 'GET /api/trackers/1/tables/3/records/7/whom': PEOPLE })
    const { page, area, type } = box()
    await type('@tam')
    await area.trigger('keydown', { key: 'ArrowDown' })
    await area.trigger('keydown', { key: 'Tab' })
    await settled()
    expect(page.get('[data-test=not-reached]').text()).toBe('Tamara Idle: may not see this record, and is not told.')
  })

  it('keeps what was typed when the page is loaded anew, and nothing once it was said', async () => {
    const first = box({ draft: 'kept' })
    await first.type('The gate is o')
    await settled()
    first.page.unmount()
    const second = box({ draft: 'kept' })
    expect(second.area.element.value).toBe('The gate is o')
    await second.page.get('[data-test=talk-say]').trigger('click')
    await settled()
    second.page.unmount()
    expect(box({ draft: 'kept' }).area.element.value).toBe('')
  })

  it('keeps what was typed where it is refused, and says why', async () => {
    const { page, area, type } = box({ send: () => Promise.reject(new Error('The tracker is closed.')) })
    await type('Once more')
    await area.trigger('keydown', { key: 'Enter', ctrlKey: true })
    await settled()
    expect(page.get('[role=alert]').text()).not.toBe('')
    expect(area.element.value).toBe('Once more')
  })

  const coming = (at: number) => ({ token: 't-1', at, size: 9, piece: 1000 })
  const chooses = async (page: ReturnType<typeof box>['page']) => {
    const input = page.get<HTMLInputElement>('[data-test=talk-files]')
    Object.defineProperty(input.element, 'files', { value: [new File(['a picture'], 'gate.png', { lastModified: 1 })] })
    await input.trigger('change')
    await settled()
  }

  it('brings a file, which alone is something said, and sends it once it is there', async () => {
    answering({ 'POST /api/files/coming': coming(0), 'PUT /api/files/coming/t-1': coming(9) })
    const { page, send } = box()
    expect(page.find('[data-test=talk-say]').exists()).toBe(false)
    await chooses(page)
    expect(page.get('.sends').text()).toContain('gate.png')
    await page.get('[data-test=talk-say]').trigger('click')
    await settled()
    expect(send).toHaveBeenCalledWith([], { tokens: ['t-1'], files: [] })
    expect(page.find('.sends').exists()).toBe(false)
    expect(localStorage.length).toBe(0)
  })

  it('says why a file did not come, and sends the rest without it', async () => {
    answering({ 'POST /api/files/coming': refusing(413, '“gate.png” is too large.') })
    const { page, send, type } = box()
    await chooses(page)
    expect(page.get('[role=alert]').text()).toBe('“gate.png” is too large.')
    expect(page.get('[data-test=talk-say]').attributes('disabled')).toBeDefined()
    await type('It is off')
    await page.get('[data-test=talk-say]').trigger('click')
    await settled()
    expect(send).toHaveBeenCalledWith([{ text: 'It is off' }], { tokens: [], files: [] })
  })

  it('takes out a file of what was said before', async () => {
    const brought = [1, 2].map((n) => ({ id: `f${n}`, name: `${n}.pdf`, media: 'application/pdf', size: 9 }))
    const { page, send } = box({ before: [{ part: { text: 'See' }, text: 'See' }], brought })
    await page.get('[aria-label="Take out 1.pdf"]').trigger('click')
    await page.get('[data-test=talk-say]').trigger('click')
    await settled()
    expect(send).toHaveBeenCalledWith([{ text: 'See' }], { tokens: [], files: ['f2'] })
  })

  it('sends nothing that says nothing, and leaves a change by Escape', async () => {
    const before = [{ part: { text: 'The gate' }, text: 'The gate' }]
    const { page, area, send, type } = box({ before, small: true })
    expect(area.element.value).toBe('The gate')
    await type('   ')
    await area.trigger('keydown', { key: 'Enter', ctrlKey: true })
    expect(send).not.toHaveBeenCalled()
    await area.trigger('keydown', { key: 'Escape' })
    expect(page.emitted('leave')).toHaveLength(1)
  })
})
