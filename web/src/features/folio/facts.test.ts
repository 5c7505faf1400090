import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Cell, Field } from '@/api/types'
import CellEditor from '@/features/cell/CellEditor.vue'
import { field, put } from '@/testing'
import FolioFact from './FolioFact.vue'
import FolioFiles from './FolioFiles.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const title = field({ type: 'text', limit: 80 }, { id: 41, name: 'Title', help: 'What it is about' })
const gate = { value: { text: 'Gate' }, text: 'Gate', links: [] } as unknown as Cell
const at = { tracker: 1, table: 3, record: 7 }

describe('a fact of a record', () => {
  const fact = (props: object = {}, one: Field = title, cell: Cell | null = gate) =>
    put(FolioFact, { props: { field: one, cell, change: true, labelled: true, at, tracker: 1, ...props } })

  it('is changed by pressing it, and says so to whoever can’t see it', async () => {
    const shown = fact()
    expect(shown.get('button').attributes('aria-label')).toBe('Title: Gate. Change it')
    await shown.get('button').trigger('click')
    expect(shown.emitted('begin')).toHaveLength(1)
    expect(fact({}, title, null).get('button').attributes('aria-label')).toBe('Title: empty. Change it')
  })

  it('is only read by whoever may not change it, and where it is computed', () => {
    expect(fact({ change: false }).find('button').exists()).toBe(false)
    const computed = field({ type: 'calculation', shows: title.kind } as never, { id: 48, name: 'Short', writes: false })
    const buttons = fact({}, computed).findAll('button').map((one) => one.attributes('aria-label')) // prettier-ignore
    expect(buttons).toEqual(['Why is Short Gate?'])
  })

  it('tells why it is what it is when that is asked, and by Alt on the fact itself', async () => {
    const carried = field({ type: 'carried', links: [60], field: 5 } as never, { id: 49, name: 'Warden', writes: false })
    const shown = fact({}, carried)
    expect(shown.get('.note').text()).toBe('carried')
    await shown.get('.ask').trigger('click', { clientX: 4, clientY: 6 })
    await shown.get('.fact').trigger('click', { altKey: true, clientX: 8, clientY: 9 })
    await shown.get('.fact').trigger('click')
    expect(shown.emitted('why')).toEqual([
      [4, 6],
      [8, 9],
    ])
  })

  it('that was copied says what stands there now, and is filled in again with one press', async () => {
    const copied = field({ type: 'money', currency: 'GBP' }, { id: 50, name: 'Price', copies: { links: [60], field: 5 } as never })
    const shown = fact({ source: '£5.00' }, copied, { value: { number: '4' }, text: '£4.00', links: [] } as unknown as Cell)
    expect(shown.get('.moved').text()).toContain('there it is now £5.00')
    await shown.get('[data-test=again]').trigger('click')
    expect(shown.emitted('commit')).toEqual([['again', 'stay']])
    expect(fact({ source: '', change: false }, copied).get('.moved').text()).toBe('there it is now empty')
  })

  it('that names records leads to each of them, and is changed beside them', async () => {
    const link = field({ type: 'link', to: 2, back: 60, one: false, holds: true } as never, { id: 42, name: 'Sections' })
    const cell = { value: { links: [25, 26] }, text: 'Withy Edge, Esker Ridge', links: [{ id: 25, name: 'Withy Edge' }, { id: 26, name: 'Esker Ridge' }] } // prettier-ignore
    const shown = fact({ to: 2 }, link, cell as unknown as Cell)
    expect(shown.findAll('a').map((one) => [one.text(), one.attributes('href')])).toEqual([
      ['Withy Edge', '/record/1/2'],
      ['Esker Ridge', '/record/1/2'],
    ])
    await shown.get('[aria-label="Change Sections"]').trigger('click')
    expect(shown.emitted('begin')).toHaveLength(1)
  })

  it('is edited in its place, with what was wrong', () => {
    const editor = fact({ editing: { fault: 'It is too long.' } }).getComponent(CellEditor)
    expect(editor.props('fault')).toBe('It is too long.')
    editor.vm.$emit('cancel')
  })
})

describe('the files of a record', () => {
  const kind = field({ type: 'files' } as never, { id: 44, name: 'Pictures' })
  const file = (id: string, name: string, media: string) => ({ id, name, media, size: 10 })
  const both = [file('a', 'gate.jpg', 'image/jpeg'), file('b', 'report.pdf', 'application/pdf')]
  const keep = vi.fn()
  const hang = vi.fn(() => () => Promise.resolve())
  beforeEach(() => keep.mockClear())
  const shownOf = (list: object[], change = true, one = kind) => {
    const cell = { value: list.length ? { files: list } : 'empty', text: '', links: [] } as unknown as Cell
    return put(FolioFiles, { props: { at, field: one, cell, change, hang, keep } })
  }

  it('are shown where they are pictures and named where they are not, each whole behind it', () => {
    const shown = shownOf(both)
    expect(shown.findAll('img').map((one) => [one.attributes('src'), one.attributes('alt')])).toEqual([
      ['/api/files/a?small=true', 'gate.jpg'],
    ])
    expect(shown.findAll('button.look, button.name').map((one) => one.attributes('aria-label') ?? one.text())).toEqual([
      'Look at gate.jpg',
      'report.pdf',
    ])
  })

  it('are looked at large by keys, which go back to where they were', async () => {
    const shown = shownOf(both)
    const look = shown.get('.look')
    ;(look.element as HTMLElement).focus()
    await look.trigger('click')
    expect(document.querySelector('.glass h2')?.textContent).toBe('gate.jpg')
    const close = [...document.querySelectorAll<HTMLElement>('.glass button')].find((one) => one.textContent === 'close')!
    close.focus()
    close.click()
    await new Promise((go) => setTimeout(go))
    expect([document.querySelector('.glass'), document.activeElement]).toEqual([null, look.element])
  })

  it('are taken out one by one, until the field is empty', async () => {
    const shown = shownOf(both)
    await shown.get('[aria-label="Take out gate.jpg"]').trigger('click')
    expect(keep.mock.lastCall).toEqual([kind, [both[1]]])
    const last = shownOf([both[0]!])
    await last.get('[aria-label="Take out gate.jpg"]').trigger('click')
    expect(keep.mock.lastCall).toEqual([kind, []])
  })

  it('may have addresses with a title among them, which are opened and not looked at', async () => {
    const shown = shownOf(both)
    await shown
      .findAll('button')
      .find((one) => one.text() === 'add an address')!
      .trigger('click')
    const [address, title] = shown.findAll('form input')
    await address!.setValue(' https://maps.example/1 ')
    await title!.setValue('The map')
    await shown.get('form').trigger('submit')
    const map = { id: 'https://maps.example/1', name: 'The map', media: 'text/uri-list', size: 0 }
    expect(keep.mock.lastCall).toEqual([kind, [...both, map]])
    expect(shownOf([map]).get('a').attributes()).toMatchObject({ href: map.id, rel: 'noreferrer noopener' })
  })

  it('can neither be added to nor taken out by whoever may not change the record or the field', () => {
    for (const shown of [shownOf(both, false), shownOf(both, true, { ...kind, writes: false })])
      expect([shown.find('input[type=file]').exists(), shown.find('.out, .put').exists()]).toEqual([false, false])
  })
})
