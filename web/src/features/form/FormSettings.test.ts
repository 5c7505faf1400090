import { afterEach, describe, expect, it, vi } from 'vitest'
import { reactive } from 'vue'
import { Problem } from '@/api/client'
import type { Form } from '@/api/types'
import { choose, chosen, field, offered, opened, put, settled, table } from '@/testing'
import FormSettings from './FormSettings.vue'

const server = vi.hoisted(() => ({ send: vi.fn() }))
vi.mock('@/api/client', async (original) => ({ ...(await original<typeof import('@/api/client')>()), send: server.send }))
afterEach(() => {
  document.body.innerHTML = ''
  server.send.mockReset()
})
URL.createObjectURL = () => 'blob:shown'

const title = field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' })
const mail = field({ type: 'email' } as never, { id: 42, name: 'Mail' })
const other = field({ type: 'email' } as never, { id: 43, name: 'Office' })
const pictures = field({ type: 'files' } as never, { id: 44, name: 'Pictures' })
const home = table([title, mail, other, pictures])

function settings(over: Partial<Form> = {}, faults: Record<string, string> = {}) {
  const questions = [41, 42, 44].map((id) => ({ field: id, label: '', help: '', required: false, hidden: false }))
  const form = reactive({
    id: 120,
    table: 3,
    questions,
    audience: 'anyone',
    limits: {},
    appearance: {},
    link: 'tell-us',
    embed: [],
    ...over,
  })
  const props = { tracker: 1, table: home, faults, modelValue: form as unknown as Form, confirmation: 'Thank you.' }
  return { shown: put(FormSettings, { props }, opened({ tables: [home] } as never)), form: form as unknown as Form }
}
type Shown = ReturnType<typeof settings>['shown']
const marked = (shown: Shown, summary: string) =>
  shown.findAll('details').find((one) => one.get('summary').text().includes(summary))!.findAll('label').map((one) => one.text()) // prettier-ignore

describe('a form as a whole', () => {
  it('is for whom one says', async () => {
    const { shown, form } = settings()
    expect(chosen(shown, '[data-test=audience]')).toBe('everyone who has the link')
    await choose(shown, '[data-test=audience]', 'people who are signed in, each once')
    expect(form.audience).toBe('once')
  })

  it('takes as many answers as one says, or any number', async () => {
    const { shown, form } = settings()
    await shown.get('[data-test=most]').setValue('40')
    expect(form.limits!.most).toBe(40)
    await shown.get('[data-test=most]').setValue('')
    expect(form.limits!.most).toBeNull()
  })

  it('sends a copy only to an address that is asked for', () => {
    const { shown } = settings()
    const copies = shown
      .findAllComponents({ name: 'PickOne' })
      .map((one) => (one.props('items') as { title: string }[]).map((i) => i.title))
    expect(copies).toContainEqual(['goes to nobody', 'goes to the address in Mail'])
    expect(offered(shown, '[data-test=audience]')).toHaveLength(3)
  })

  it('says what is wrong where it is wrong', () => {
    const { shown } = settings({}, { '/limits': 'It ends before it begins.', '/link': 'Another form has this address.', '/embed/0': 'Sites begin with https://.' }) // prettier-ignore
    const faults = shown.findAll('.fault-text').map((one) => [one.element.closest('section')!.querySelector('h2')!.textContent, one.text()])
    expect(faults).toEqual([
      ['When and for whom', 'It ends before it begins.'],
      ['Where it is', 'Another form has this address.'],
      ['Where it is', 'Sites begin with https://.'],
    ])
  })

  it('may be shown by sites that are given one a line', async () => {
    const { shown, form } = settings()
    await shown.get('[placeholder="https://www.paths.example"]').setValue(' https://a.example \n\nhttps://b.example')
    expect(form.embed).toEqual(['https://a.example', 'https://b.example'])
  })
})

describe('a private address for whoever answered', () => {
  it('begins with the name of the record, and ends with nothing', async () => {
    const { shown, form } = settings()
    await shown.get('[data-test=following]').setValue(true)
    expect(form.following).toEqual({ shows: [41], adds: [], while_: { all: [] } })
    await shown.get('[data-test=following]').setValue(false)
    expect(form.following).toBeNull()
  })

  it('shows any field, and lets be changed only what is asked and is no file', async () => {
    const { shown, form } = settings({ following: { shows: [41], adds: [], while_: { all: [] } } as never })
    expect(marked(shown, 'they see')).toEqual(['Title', 'Mail', 'Office', 'Pictures'])
    expect(marked(shown, 'can change')).toEqual(['Title', 'Mail'])
    await shown.findAll('details')[1]!.findAll('input[type=checkbox]')[1]!.setValue(true)
    await shown.findAll('details')[0]!.findAll('input[type=checkbox]')[0]!.setValue(false)
    expect([form.following!.adds, form.following!.shows]).toEqual([[42], []])
  })
})

describe('how a form looks', () => {
  it('says which colour is shown where white text could not be read on the one that is chosen', async () => {
    const { shown } = settings({ appearance: { colour: '#ffee88' } as never })
    expect(shown.text()).toMatch(/shown as #[0-9a-f]{6}, so that white text on it can be read/)
    await shown.get('input.short').setValue('#333333')
    expect(shown.text()).not.toContain('shown as')
    await shown.get('input.short').setValue('')
    expect(shown.text()).not.toContain('shown as')
  })

  const give = async (shown: Shown) => {
    const input = shown.get<HTMLInputElement>('[data-test=mark]')
    Object.defineProperty(input.element, 'files', { value: [new File(['x'], 'mark.png', { type: 'image/png' })] })
    await input.trigger('change')
  }

  it('takes a mark, shows it at once, and lets it go again', async () => {
    const { shown, form } = settings()
    server.send.mockResolvedValueOnce('m1')
    await give(shown)
    await settled()
    expect(server.send.mock.calls[0]![0]).toBe('/api/trackers/1/forms/120/picture')
    expect([form.appearance!.mark, shown.emitted('chosen')]).toEqual(['m1', [['m1', 'blob:shown']]])
    const none = shown.findAll('button').find((one) => one.text() === 'no mark')!
    await none.trigger('click')
    expect(form.appearance!.mark).toBeNull()
  })

  it('says why a mark was not taken, and keeps the one that was', async () => {
    const { shown, form } = settings({ appearance: { mark: 'm0' } as never })
    server.send.mockRejectedValueOnce(new Problem('“mark.png” can’t be taken. Send a picture (JPEG, PNG, WebP or GIF).', 415))
    await give(shown)
    await settled()
    expect(shown.get('[role=alert]').text()).toContain('“mark.png” can’t be taken.')
    expect([form.appearance!.mark, shown.emitted('chosen')]).toEqual(['m0', undefined])
  })
})
