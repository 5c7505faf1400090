// People’s pictures: given and taken away by themselves, and shown before their names.
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { Problem } from '@/api/client'
import type { Cell } from '@/api/types'
import { answering, changes, field, opened, put, settled } from '@/testing'
import CellText from '@/features/cell/CellText.vue'
import OwnPicture from '@/features/session/OwnPicture.vue'
import { useSession } from '@/features/session/session'

const server = vi.hoisted(() => ({ send: vi.fn() }))
vi.mock('@/api/client', async (original) => ({ ...(await original<typeof import('@/api/client')>()), send: server.send }))

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const me = (picture?: string) => ({ person: { id: 1, name: 'Nadia Ferreira-Holt', initials: 'NF', picture }, stands_in: null })

/** Picks a file, as the browser hands it over. */
async function pick(shown: ReturnType<typeof put>) {
  const picker = shown.get<HTMLInputElement>('[data-test=own-picture]')
  Object.defineProperty(picker.element, 'files', { value: [new File(['x'], 'me.jpg')], configurable: true })
  await picker.trigger('change')
  await settled()
}

it('stands for oneself by initials until one gives a picture, which can be taken away again', async () => {
  answering({ 'GET /api/session': me() })
  await useSession().again()
  const shown = put(OwnPicture, { props: { readonly: false } })
  expect(shown.get('.face').attributes('data-initials')).toBe('NF')
  expect(shown.find('[data-test=no-own-picture]').exists()).toBe(false)
  server.send.mockResolvedValueOnce({})
  answering({ 'GET /api/session': me('/api/people/1/picture?abc') })
  await pick(shown)
  expect(server.send.mock.calls[0]?.[0]).toBe('/api/session/picture')
  expect((server.send.mock.calls[0]?.[1] as FormData).get('file')).toBeInstanceOf(File)
  expect(shown.get('img').attributes('src')).toBe('/api/people/1/picture?abc')
  const asked = answering({ 'GET /api/session': me(), 'DELETE /api/session/picture': {} })
  await shown.get('[data-test=no-own-picture]').trigger('click')
  await settled()
  expect(shown.find('img').exists()).toBe(false)
  expect(changes(asked).map((one) => one.method)).toEqual(['DELETE'])
})

it('says why something is no picture, and gives nothing while one stands in for somebody', async () => {
  answering({ 'GET /api/session': me() })
  server.send.mockRejectedValueOnce(new Problem('“me.jpg” can’t be taken.', 422))
  await useSession().again()
  const shown = put(OwnPicture, { props: { readonly: false } })
  await pick(shown)
  expect(shown.get('[role=alert]').text()).toBe('“me.jpg” can’t be taken.')
  await shown.setProps({ readonly: true })
  expect(shown.find('[data-test=own-picture]').exists()).toBe(false)
})

it('shows a face before the name of whoever stands in a cell, which adds nothing to its text', () => {
  const people = [
    { id: 1, name: 'Nadia', initials: 'N', picture: '/api/people/1/picture?abc' },
    { id: 2, name: 'Tamsin', initials: 'T' },
  ]
  const tracker = opened({ people } as never)
  const cell = { text: 'Nadia, Tamsin', value: { people: [1, 2] } } as Cell
  const shown = put(CellText, { props: { field: field({ type: 'people' }), cell } }, tracker)
  expect(shown.findAll('.face').map((one) => one.attributes('src') ?? one.attributes('data-initials'))).toEqual([
    '/api/people/1/picture?abc',
    'T',
  ])
  expect(shown.text()).toBe('Nadia, Tamsin')
  const one = put(
    CellText,
    { props: { field: field({ type: 'person' }), cell: { text: 'Tamsin', value: { person: 2 } } as Cell } },
    tracker,
  )
  expect(one.findAll('.face')).toHaveLength(1)
  expect(put(CellText, { props: { field: field({ type: 'text', limit: 80 }), cell: { text: 'Tamsin', value: { text: 'Tamsin' } } as Cell } }, tracker).find('.face').exists()).toBe(false) // prettier-ignore
})
