import { beforeEach, expect, it, vi } from 'vitest'
import { answering, changes, opened, put, refusing, settled } from '@/testing'
import { useSession } from '@/features/session/session'
import BandTop from './BandTop.vue'

const route = vi.hoisted(() => ({ name: 'view', params: { tracker: '1', table: '3' }, fullPath: '/t/1/3?record=5' }))
const pushed = vi.hoisted(() => vi.fn(async () => undefined))
vi.mock('vue-router', async (original) => ({
  ...(await original<typeof import('vue-router')>()),
  useRoute: () => route,
  useRouter: () => ({ push: pushed }),
}))
beforeEach(() => {
  document.body.innerHTML = ''
  sessionStorage.clear()
  pushed.mockClear()
  vi.unstubAllGlobals()
})

const nadia = { person: { id: 1, name: 'Nadia Ferreira-Holt', initials: 'NF' }, mail: 'nadia@orrindale-paths.example' }
const tamsin = { id: 2, name: 'Tamsin Oake', initials: 'TO' }

async function band(me: object, steward = true, more: Record<string, unknown> = {}) {
  const asked = answering({ 'GET /api/session': { stands_in: null, ...me }, 'POST /api/demo/session': {}, 'PUT /api/session/stand-in': {}, 'DELETE /api/session': {}, ...more }) // prettier-ignore
  await useSession().choose(1)
  const tracker = opened({
    tables: [{ id: 3, name: 'Faults', heading: '', count: 3, views: [] }],
    people: [nadia.person, tamsin],
    steward,
  } as never)
  const shown = put(BandTop, {}, tracker)
  await settled()
  const panel = async () => {
    await shown.get('.me').trigger('click')
    await settled()
    return document.querySelector('.panel')!
  }
  const press = async (text: string) => {
    ;[...document.querySelectorAll<HTMLButtonElement>('.panel button')].find((one) => one.textContent === text)!.click()
    await settled()
  }
  return { shown, panel, press, sent: () => changes(asked).filter((one) => !one.path.includes('demo')) }
}

it('says where one is and who one is', async () => {
  const { shown, panel } = await band(nadia)
  expect(shown.get('.place').text()).toBe('Faults')
  expect((await panel()).textContent).toContain('nadia@orrindale-paths.example')
})

it('lets a steward stand in for any other, and nobody else', async () => {
  expect((await (await band(nadia, false)).panel()).textContent).not.toContain('Stand in for')
  document.body.innerHTML = ''
  const { panel, press, sent } = await band(nadia)
  expect((await panel()).textContent).toContain('Stand in forTamsin Oake')
  await press('Tamsin Oake')
  expect(sent()).toEqual([{ method: 'PUT', path: '/api/session/stand-in', body: { person: 2, group: null } }])
  expect(pushed).toHaveBeenLastCalledWith('/')
})

it('ends standing in where one was before it', async () => {
  const first = await band(nadia)
  await first.panel()
  await first.press('Tamsin Oake')
  document.body.innerHTML = ''
  const { shown, sent } = await band({ ...nadia, stands_in: tamsin })
  expect(shown.get('[role=status]').text()).toContain('Standing in for Tamsin Oake: you see what they see, and change nothing.')
  await shown.get('.stop').trigger('click')
  await settled()
  expect(sent().at(-1)!.body).toEqual({ person: null, group: null })
  expect(pushed).toHaveBeenLastCalledWith('/t/1/3?record=5')
})

it('says what was refused beneath it', async () => {
  const { shown, panel, press } = await band(nadia, true, { 'PUT /api/session/stand-in': refusing(403, 'Only stewards can stand in.') })
  await panel()
  await press('Tamsin Oake')
  expect(shown.get('[role=alert]').text()).toBe('Only stewards can stand in.')
})
