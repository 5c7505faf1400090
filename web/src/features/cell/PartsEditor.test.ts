import { afterEach, describe, expect, it } from 'vitest'
import type { Cell, Kind, Value } from '@/api/types'
import { field, put, settled } from '@/testing'
import PartsEditor from './PartsEditor.vue'

const cell = (value: Value) => ({ value, text: '', links: [] }) as unknown as Cell

function editor(kind: Kind, value: Value = 'empty') {
  const shown = put(PartsEditor, { props: { field: field(kind), cell: cell(value) } })
  return {
    shown,
    keep: () => shown.get('[data-test=keep-parts]').trigger('click'),
    given: () => shown.emitted('commit')?.map(([input]) => input),
  }
}

afterEach(() => (document.body.innerHTML = ''))

describe('a rating', () => {
  const kind = { type: 'rating', most: 5 } as Kind
  it('is given by its star, and taken back by the same star', async () => {
    const { shown, given } = editor(kind, { number: '3' })
    expect(shown.get('[aria-checked=true]').attributes('aria-label')).toBe('3 of 5')
    await shown.get('[aria-label="4 of 5"]').trigger('click')
    await shown.get('[aria-label="3 of 5"]').trigger('click')
    expect(given()).toEqual([{ value: { number: '4' } }, { value: 'empty' }])
  })
})

describe('a range', () => {
  const kind = { type: 'range' } as Kind
  it('of one day ends on the day on which it begins', async () => {
    const { shown, keep, given } = editor(kind)
    await shown.get('input').setValue('2026-11-18')
    await keep()
    expect(given()).toEqual([{ value: { range: ['2026-11-18', '2026-11-18'] } }])
  })
  it('without a beginning is empty', async () => {
    const { shown, keep, given } = editor(kind, { range: ['2026-11-18', '2026-11-20'] })
    await shown.get('input').setValue('')
    await keep()
    expect(given()).toEqual([{ value: 'empty' }])
  })
})

describe('a location', () => {
  const kind = { type: 'place' } as Kind
  it('needs both numbers, and is then read by the server as it would be typed', async () => {
    const { shown, keep, given } = editor(kind, { place: { label: 'Hob Gate', latitude: '54.1', longitude: '-2.4' } } as Value)
    await keep()
    await shown.findAll('input')[2]!.setValue('')
    await keep()
    expect(given()).toEqual([{ text: 'Hob Gate (54.1, -2.4)' }, { value: 'empty' }])
  })
})

describe('a checklist', () => {
  const kind = { type: 'checklist' } as Kind
  const items: Value = { checklist: [{ text: 'Gate', done: true, person: null, due: null }] }
  it('keeps what was typed last though Enter was not pressed', async () => {
    const { shown, keep, given } = editor(kind, items)
    await shown.get('[aria-label="One more thing to do"]').setValue('  Stile ')
    await keep()
    expect(given()).toEqual([
      {
        value: {
          checklist: [
            { text: 'Gate', done: true, person: null, due: null },
            { text: 'Stile', done: false, person: null, due: null },
          ],
        },
      },
    ])
  })
  it('adds with Enter and goes on', async () => {
    const { shown, given } = editor(kind, items)
    const more = shown.get('[aria-label="One more thing to do"]')
    await more.setValue('Stile')
    await more.trigger('keydown.enter')
    await settled()
    expect(shown.findAll('.item').length).toBe(2)
    expect(given()).toBeUndefined()
  })
  it('loses items that are taken out or emptied, and without any is empty', async () => {
    const { shown, keep, given } = editor(kind, { checklist: [...(items as { checklist: [] }).checklist, { text: 'Stile' }] } as Value)
    await shown.get('[aria-label="Take out Gate"]').trigger('click')
    await shown.get('[aria-label="Item 1"]').setValue(' ')
    await keep()
    expect(given()).toEqual([{ value: 'empty' }])
  })
  it('does not change the cell it was given', async () => {
    const given = cell({ checklist: [{ text: 'Gate', done: false, person: null, due: null }] })
    const shown = put(PartsEditor, { props: { field: field(kind), cell: given } })
    await shown.get('[aria-label="Gate is done"]').setValue(true)
    expect(given.value).toEqual({ checklist: [{ text: 'Gate', done: false, person: null, due: null }] })
  })
})

it('is left as it was by Escape', async () => {
  const { shown, given } = editor({ type: 'web' } as Kind)
  await shown.get('input').setValue('https://paths.example')
  await shown.get('input').trigger('keydown', { key: 'Escape' })
  expect([given(), shown.emitted('cancel')?.length]).toEqual([undefined, 1])
})
