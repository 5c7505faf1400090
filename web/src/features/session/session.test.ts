import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, choose, chosen, put, refusing, settled } from '@/testing'
import { useOwn } from '@/theme/own'
import OwnSettings from './OwnSettings.vue'
import { useSession } from './session'
import SignIn from './SignIn.vue'

const route = vi.hoisted(() => ({ query: {} as Record<string, string>, params: {} }))
const pushed = vi.hoisted(() => vi.fn(async () => undefined))
vi.mock('vue-router', async (original) => ({
  ...(await original<typeof import('vue-router')>()),
  useRoute: () => route,
  useRouter: () => ({ push: pushed }),
}))
beforeEach(() => {
  document.body.innerHTML = ''
  route.query = {}
  pushed.mockClear()
  vi.unstubAllGlobals()
})

const ME = { person: { id: 2, name: 'Tamsin Oake', initials: 'TO' }, mail: 'tamsin@orrindale-paths.example', stands_in: null }

async function door(answers: Record<string, unknown>) {
  const asked = answering(answers)
  const shown = put(SignIn)
  await settled()
  return { shown, asked }
}

describe('the door', () => {
  it('shows whom one can walk in as only where the server names them', async () => {
    const people = [{ person: { id: 2, name: 'Tamsin Oake', initials: 'TO' }, about: 'warden of Eskermoor' }]
    expect((await door({})).shown.text()).not.toContain('walk in')
    const { shown, asked } = await door({ 'GET /api/demo/people': people, 'POST /api/demo/session': {}, 'GET /api/session': ME })
    await shown.get('.demo button').trigger('click')
    await settled()
    expect(changes(asked).map((one) => one.body)).toEqual([{ person: 2 }])
    expect(pushed).toHaveBeenCalledWith('/')
    expect(useSession().me.value?.person.name).toBe('Tamsin Oake')
  })

  it('goes where one wanted to, and to no place elsewhere', async () => {
    const answers = { 'POST /api/session': {}, 'GET /api/session': ME }
    route.query = { then: '/t/1/3' }
    const { shown } = await door(answers)
    await shown.get('form').trigger('submit')
    await settled()
    expect(pushed).toHaveBeenLastCalledWith('/t/1/3')
    route.query = { then: 'https://elsewhere.example/' }
    const other = await door(answers)
    await other.shown.get('form').trigger('submit')
    await settled()
    expect(pushed).toHaveBeenLastCalledWith('/')
  })

  it('says why one is not let in, and waits at the password', async () => {
    const { shown } = await door({ 'POST /api/session': refusing(401, 'Address and password do not go together.') })
    await shown.get<HTMLInputElement>('[name=mail]').setValue('tamsin@orrindale-paths.example')
    await shown.get('form').trigger('submit')
    await settled()
    expect(shown.get('.fault-text').text()).toContain('do not go together')
    expect(document.activeElement?.getAttribute('name')).toBe('password')
    expect(shown.get<HTMLInputElement>('[name=mail]').element.value).toBe('tamsin@orrindale-paths.example')
    expect(pushed).not.toHaveBeenCalled()
  })
})

describe('what one chooses for oneself', () => {
  it('changes how days and numbers are written at once, and stays', async () => {
    const shown = put(OwnSettings)
    await choose(shown, '[data-test=own-locale]', 'as in Germany')
    expect(shown.text()).toContain('1.234,5')
    await choose(shown, '[data-test=own-locale]', 'as in America')
    expect(shown.text()).toContain('1,234.5')
    expect(useOwn().value.locale).toBe('en-US')
    expect(chosen(put(OwnSettings), '[data-test=own-locale]')).toBe('as in America')
    await choose(shown, '[data-test=own-locale]', 'as this browser does')
  })

  it('begins the week on the day that is said', async () => {
    const shown = put(OwnSettings)
    await choose(shown, '[data-test=own-week]', 'Sunday')
    expect(useOwn().value.week).toBe(0)
    await choose(shown, '[data-test=own-week]', 'Monday')
  })
})
