import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Discovery } from '@/api/types'
import { makeRouter, opened, put, settled } from '@/testing'
import FindPage from './FindPage.vue'

const hit = (of: string, text: string) => [{ of, text: [{ text, hit: true }] }]
const FOUND: Discovery = {
  words: [{ text: 'gate', alone: 3 }],
  cut: false,
  count: 3,
  says: '2 and 1 left out',
  tables: [
    {
      table: 3,
      name: 'Faults',
      count: 3,
      left_out: 1,
      says: '2, and 1 this view leaves out',
      only: { all: [] },
      lines: [
        { record: 7, name: 'Gate off', beside: 'FR-7', says: hit('what is wrong', 'Gate') },
        { record: 8, name: 'Gate stuck', beside: 'FR-8', says: hit('what is wrong', 'Gate') },
        { record: 9, name: 'Gate gone', beside: 'FR-9', says: hit('what is wrong', 'Gate'), left_out: 'status is made good' },
      ],
    },
  ],
  places: [{ sort: 'Views', name: 'Gates', beside: 'Faults', says: hit('name', 'Gates'), leads: { to: 'view', table: 3, view: 104 } }],
}

const PEOPLE = [{ id: 2, name: 'Tamsin Oake', initials: 'TO', left: false }] as never

const asked: { url: string; body: unknown }[] = []

beforeEach(() => {
  document.body.innerHTML = ''
  asked.length = 0
  vi.unstubAllGlobals()
  vi.stubGlobal('fetch', async (request: Request) => {
    asked.push({ url: new URL(request.url).pathname, body: request.method === 'POST' ? await request.clone().json() : undefined })
    const answer = request.url.endsWith('/find') ? (request.url.includes('/trackers/') ? FOUND : []) : { fields: [], row: { cells: [] } }
    return new Response(JSON.stringify(answer), { headers: { 'content-type': 'application/json' } })
  })
  Object.assign(Element.prototype, { scrollIntoView: () => undefined })
})

async function finding(query = '') {
  const router = makeRouter()
  router.addRoute({ name: 'find', path: '/t/:tracker/find', component: { template: '<i />' } })
  await router.push(`/t/1/find${query}`)
  const page = put(FindPage, {}, opened({ people: PEOPLE }), router)
  await pause()
  return { page, router }
}

/** Types who it is, and takes them. */
async function pickPerson(typed: string) {
  const input = document.querySelector<HTMLInputElement>('[role=dialog] [role=combobox]')!
  input.value = typed
  input.dispatchEvent(new Event('input'))
  await settled()
  expect(document.querySelectorAll('[role=dialog] [role=option]')).toHaveLength(1)
  input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
  await settled()
}

/** Longer than one may pause between letters. */
async function pause() {
  await new Promise((go) => setTimeout(go, 200))
  await settled()
}

describe('finding', () => {
  it('says where each word stands, and what the view leaves out with why', async () => {
    const { page } = await finding('?words=gate')
    expect(page.findAll('[data-found]').map((one) => one.attributes('data-found'))).toEqual([
      'Gate off',
      'Gate stuck',
      'Gate gone',
      'Gates',
    ])
    expect(page.get('[data-found="Gate gone"]').text()).toContain('left out: status is made good')
    expect(page.get('[data-test=find-all-says]').text()).toContain('2 and 1 left out')
    expect(page.get('[data-found="Gate off"] mark').text()).toBe('Gate')
  })

  it('narrows to a person, whom the address names', async () => {
    const { page, router } = await finding('?words=gate')
    const of = page.get('[data-test=find-of]')
    expect(of.text()).toBe('of anybody')
    await of.trigger('click')
    await settled()
    await pickPerson('tam')
    await pause()
    expect(router.currentRoute.value.query).toMatchObject({ words: 'gate', of: '2' })
    expect(asked.at(-1)?.body).toMatchObject({ text: 'gate', person: 2 })
    expect(page.get('[data-test=find-of]').text()).toBe('of Tamsin Oake')
    await page.get('[data-test=find-of]').trigger('click')
    await settled()
    await pickPerson('any')
    await pause()
    expect(router.currentRoute.value.query.of).toBeUndefined()
    expect(asked.at(-1)?.body).toMatchObject({ text: 'gate', person: null })
  })

  it('is walked by arrows, leaps by headings, and goes back into the words at the top', async () => {
    const { page } = await finding('?words=gate')
    const words = page.get<HTMLInputElement>('[data-test=find-all-words]')
    await words.trigger('keydown', { key: 'ArrowDown' })
    await settled()
    expect(document.activeElement?.textContent).toBe('Gate off')
    await page.get('#found-1-3-7').trigger('keydown', { key: 'PageDown' })
    await settled()
    expect(document.activeElement?.textContent).toBe('Gates')
    await page.get('#found-1-Views-0').trigger('keydown', { key: 'PageUp' })
    await settled()
    expect(document.activeElement?.textContent).toBe('Gate off')
    await page.get('#found-1-3-7').trigger('keydown', { key: 'ArrowUp' })
    await settled()
    expect(document.activeElement).toBe(words.element)
  })

  it('looks into one table alone where its heading is pressed', async () => {
    const { page, router } = await finding('?words=gate')
    await page.get('[data-into="3"]').trigger('click')
    await pause()
    expect(router.currentRoute.value.query.in).toBe('3')
    expect(asked.at(-1)).toMatchObject({ body: { text: 'gate', table: 3, lines: 100 } })
  })

  it('asks other trackers only once one wants it', async () => {
    const { page } = await finding('?words=gate')
    expect(asked.some((one) => one.url === '/api/find')).toBe(false)
    await page.get('[data-test=find-everywhere]').trigger('click')
    await pause()
    expect(asked.find((one) => one.url === '/api/find')?.body).toMatchObject({ text: 'gate', beside: 1 })
    expect(page.text()).toContain('No other tracker that you may open holds it.')
  })

  it('says what can be typed before anything is', async () => {
    const { page } = await finding()
    expect(page.text()).toContain('Parts of words are enough')
    expect(asked).toEqual([])
  })
})

describe('whoever is quicker than the answer', () => {
  it('opens what they typed, and not what was found before', async () => {
    const { page, router } = await finding('?words=gate')
    const words = page.get<HTMLInputElement>('[data-test=find-all-words]')
    await words.setValue('gate o')
    await words.trigger('keydown', { key: 'Enter' })
    await settled()
    expect(asked.filter((one) => one.url.endsWith('/trackers/1/find')).at(-1)).toMatchObject({ body: { text: 'gate o' } })
    await pause()
    expect(router.currentRoute.value).toMatchObject({ name: 'view', query: { record: '7' } })
  })
})
