import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, choose, chosen, offered, put, refusing, settled } from '@/testing'
import { useOwn } from '@/theme/own'
import OwnSettings from './OwnSettings.vue'
import { useSession } from './session'
import SignIn from './SignIn.vue'
import AddressPage from './AddressPage.vue'
import BeginPage from './BeginPage.vue'
import ComeInPage from './ComeInPage.vue'
import OwnPage from './OwnPage.vue'

const route = vi.hoisted(() => ({ query: {} as Record<string, string>, params: {} as Record<string, string>, name: '' }))
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

const DEMO = { 'GET /api/entrance': { team: 'Orrindale Paths Trust', begun: true, demo: true } }

async function door(answers: Record<string, unknown>) {
  const asked = answering(answers)
  const shown = put(SignIn)
  await settled()
  return { shown, asked }
}

describe('the door', () => {
  it('shows whom one can walk in as only where the server names them', async () => {
    const people = [{ person: { id: 2, name: 'Tamsin Oake', initials: 'TO' }, about: 'warden of Eskermoor' }]
    const own = await door({ 'GET /api/entrance': { team: 'Fellside Repairs', begun: true, demo: false }, 'GET /api/demo/people': people })
    expect(own.shown.text()).toContain('Fellside Repairs')
    expect(own.shown.text()).not.toContain('walk in')
    const { shown, asked } = await door({ ...DEMO, 'GET /api/demo/people': people, 'POST /api/demo/session': {}, 'GET /api/session': ME })
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

describe('other ways in', () => {
  const begun = { 'GET /api/entrance': { team: 'Fellside Repairs', begun: true, demo: false } }

  it('has a code mailed, and signs in with it', async () => {
    const answers = { ...begun, 'POST /api/codes': {}, 'POST /api/codes/session': {}, 'GET /api/session': ME }
    const { shown, asked } = await door(answers)
    await shown.get('[data-test=way-code]').trigger('click')
    await shown.get('[name=mail]').setValue('tamsin@orrindale-paths.example')
    await shown.get('form').trigger('submit')
    await settled()
    // It says the same of an address that nobody has.
    expect(shown.get('[data-test=sent]').text()).toContain('If somebody here has the address tamsin@orrindale-paths.example')
    await shown.get('[name=code]').setValue('1234 5678')
    await shown.get('form').trigger('submit')
    await settled()
    expect(changes(asked).map((one) => [one.path, one.body])).toEqual([
      ['/api/codes', { mail: 'tamsin@orrindale-paths.example' }],
      ['/api/codes/session', { mail: 'tamsin@orrindale-paths.example', code: '1234 5678' }],
    ])
    expect(pushed).toHaveBeenCalledWith('/')
  })

  it('has a way to another password mailed, and says what is no address at its place', async () => {
    const refused = refusing(422, 'This is not a mail address.', [{ pointer: '/mail', message: 'This is not a mail address.' }])
    const { shown } = await door({ ...begun, 'POST /api/forgotten': refused })
    await shown.get('[data-test=way-forgotten]').trigger('click')
    await shown.get('form').trigger('submit')
    await settled()
    expect(shown.get('.v-messages').text()).toBe('This is not a mail address.')
    expect(shown.find('.fault-text').exists()).toBe(false)
    expect(shown.find('[data-test=sent]').exists()).toBe(false)
  })

  it('has no door before somebody has begun the team', async () => {
    const { shown } = await door({ 'GET /api/entrance': { team: '', begun: false, demo: false } })
    expect(shown.text()).toContain('Nobody has begun this team yet.')
    expect(shown.find('form').exists()).toBe(false)
  })

  it('begins a team with what the address says, and says each fault at its place', async () => {
    route.params = { token: 'abc' }
    const wrong = refusing(422, 'Say what the team is called.', [{ pointer: '/team', message: 'Say what the team is called.' }])
    const asked = answering({ 'POST /api/beginning': wrong })
    const shown = put(BeginPage)
    await shown.get('[name=name]').setValue('Ines Lark')
    await shown.get('form').trigger('submit')
    await settled()
    expect(shown.get('.v-messages').text()).toBe('Say what the team is called.')
    expect(document.activeElement?.getAttribute('name')).toBe('team')
    expect(changes(asked)[0]?.body).toEqual({ token: 'abc', team: '', name: 'Ines Lark', mail: '', password: '' })
    expect(pushed).not.toHaveBeenCalled()
    answering({ 'POST /api/beginning': {}, 'GET /api/session': ME })
    await shown.get('form').trigger('submit')
    await settled()
    expect(pushed).toHaveBeenCalledWith('/')
  })

  it('takes up an invitation; one whose address is not known says one', async () => {
    route.params = { token: 'abc' }
    route.name = 'come-in'
    const seen = { team: 'Fellside Repairs', name: 'Pim Reed', mail: '' }
    const asked = answering({ 'GET /api/invitations/abc': seen, 'POST /api/invitations/abc': {}, 'GET /api/session': ME })
    const shown = put(ComeInPage)
    await settled()
    expect(shown.get<HTMLInputElement>('[name=name]').element.value).toBe('Pim Reed')
    await shown.get('[name=mail]').setValue('pim@fellside.example')
    await shown.get('[name=password]').setValue('seven otters by the weir')
    await shown.get('form').trigger('submit')
    await settled()
    expect(changes(asked)[0]?.body).toEqual({ name: 'Pim Reed', mail: 'pim@fellside.example', password: 'seven otters by the weir' })
    // Their address is still to be confirmed: they see where that stands.
    expect(pushed).toHaveBeenCalledWith({ name: 'own' })
  })

  it('says of an address that is used up that it is, and leads to the door', async () => {
    route.params = { token: 'abc' }
    route.name = 'password'
    answering({ 'GET /api/passwords/abc': refusing(404, 'This address was used already, or is over. Ask for another one.') })
    const shown = put(ComeInPage)
    await settled()
    expect(shown.get('[data-test=over]').text()).toContain('was used already')
    expect(shown.find('form').exists()).toBe(false)
  })

  it('confirms an address by a press, not by being opened', async () => {
    route.params = { token: 'abc' }
    const asked = answering({ 'POST /api/addresses/abc': { mail: 'pim@fellside.example', holds: false } })
    const shown = put(AddressPage)
    await settled()
    expect(asked).toEqual([])
    await shown.get('[data-test=confirm]').trigger('click')
    await settled()
    expect(shown.text()).toContain('becomes your address once the other mail was answered too')
  })
})

describe('oneself', () => {
  const me = {
    ...ME,
    team: 'Orrindale Paths Trust',
    about: 'warden',
    phone: '',
    zone: '',
    channel: 'mail',
    channels: ['mail', 'chat', 'text'],
    owns: false,
    lets_in: false,
    post_room: true,
  }
  const sessions = [
    { id: 'a1', device: 'a browser on Linux', begun: '1 Nov 2026, 08:00', used: '27 Nov 2026, 09:00', this: true },
    { id: 'b2', device: 'a phone on Android', begun: '2 Nov 2026, 08:00', used: '26 Nov 2026, 09:00', this: false },
  ]

  async function own(answers: Record<string, unknown>) {
    const asked = answering({ 'GET /api/session': me, 'GET /api/session/all': sessions, 'POST /api/session': {}, ...answers })
    await useSession().again()
    const shown = put(OwnPage)
    await settled()
    return { shown, asked }
  }

  it('keeps what the team knows of one, with the zone in which times are told', async () => {
    const { shown, asked } = await own({ 'PUT /api/session': { seq: 3, did: '' } })
    expect(shown.get('[data-test=keep-own]').attributes('disabled')).toBeDefined()
    await shown.get('[name=zone]').setValue('Europe/Lisbon')
    await shown.get('[data-test=own-known]').trigger('submit')
    await settled()
    expect(changes(asked)[0]?.body).toEqual({
      name: 'Tamsin Oake',
      about: 'warden',
      phone: '',
      zone: 'Europe/Lisbon',
      channel: 'mail',
      quiet: null,
    })
  })

  it('keeps how what comes by itself reaches one, and says what a text needs', async () => {
    const wrong = refusing(422, 'Say its number.', [{ pointer: '/phone', message: 'Texts go to a phone: say its number.' }])
    const { shown, asked } = await own({ 'PUT /api/session': wrong })
    expect(shown.get('.reached').text()).toContain('Codes and other ways in always come by mail.')
    await choose(shown, '[data-test=own-channel]', 'as a text to your phone')
    await shown.get('[data-test=own-known]').trigger('submit')
    await settled()
    expect(changes(asked)[0]?.body).toMatchObject({ channel: 'text', phone: '' })
    expect(shown.get('[data-test=own-known]').text()).toContain('Texts go to a phone: say its number.')
  })

  it('offers no way where there is none but mail, and keeps offering one that was chosen before', async () => {
    const mailed = await own({ 'GET /api/session': { ...me, channels: ['mail'] } })
    expect(mailed.shown.find('[data-test=own-channel]').exists()).toBe(false)
    const chosen = await own({ 'GET /api/session': { ...me, channel: 'chat', channels: ['mail'] } })
    expect(offered(chosen.shown, '[data-test=own-channel]')).toEqual(['by mail', 'in the chat'])
  })

  it('keeps quiet hours as they are typed, and says what is no hours of a day', async () => {
    const wrong = refusing(422, 'Give two hours.', [{ pointer: '/quiet', message: 'Give two hours of a day that differ.' }])
    const { shown, asked } = await own({ 'PUT /api/session': wrong })
    await shown.get('[data-test=quiet-from]').setValue('21:00')
    await shown.get('[data-test=own-known]').trigger('submit')
    await settled()
    expect(changes(asked)[0]?.body).toMatchObject({ quiet: { from: 0, until: 0 } })
    expect(shown.get('.quiet-hours [role=alert]').text()).toBe('Give two hours of a day that differ.')
    await shown.get('[data-test=quiet-until]').setValue('07:30')
    await shown.get('[data-test=own-known]').trigger('submit')
    await settled()
    expect(changes(asked)[1]?.body).toMatchObject({ quiet: { from: 1260, until: 450 } })
    await shown.get('.quiet-hours .link').trigger('click')
    expect(shown.get('[data-test=keep-own]').attributes('disabled')).toBeDefined()
  })

  it('asks at both addresses before one is another', async () => {
    const { shown, asked } = await own({ 'PUT /api/session/address': {} })
    await shown.get('[data-test=own-address] [name=mail]').setValue('tamsin@oake.example')
    await shown.get('[data-test=own-address]').trigger('submit')
    await settled()
    expect(changes(asked)[0]?.body).toEqual({ mail: 'tamsin@oake.example' })
    expect(shown.text()).toContain('Mails went to tamsin@oake.example and to tamsin@orrindale-paths.example.')
  })

  it('changes the password with the one that holds, and says which is wrong', async () => {
    const wrong = refusing(403, 'This is not the password that holds now.', [
      { pointer: '/now', message: 'This is not the password that holds now.' },
    ])
    const { shown } = await own({ 'PUT /api/session/password': wrong })
    await shown.get('[data-test=own-password] [name=password]').setValue('nine herons on the tarn')
    await shown.get('[data-test=own-password]').trigger('submit')
    await settled()
    expect(shown.get('[data-test=own-password] .v-messages').text()).toBe('This is not the password that holds now.')
  })

  it('lists where one is signed in, and ends another session but not this one', async () => {
    const { shown, asked } = await own({ 'DELETE /api/session/all/b2': {} })
    const lines = shown.findAll('[data-test=session]')
    expect(lines.map((line) => line.find('button').exists())).toEqual([false, true])
    await lines[1]!.get('button').trigger('click')
    await settled()
    expect(changes(asked)).toMatchObject([{ method: 'DELETE', path: '/api/session/all/b2' }])
  })
})

describe('what one chooses for oneself', () => {
  it('has days and numbers written by other customs everywhere at once, which the team keeps', async () => {
    const asked = answering({
      'GET /api/session': { ...ME, about: 'warden', phone: '', zone: 'Europe/London', customs: 'de-DE' },
      'PUT /api/session': {},
    })
    const session = useSession()
    await session.again()
    const shown = put(OwnSettings)
    expect([chosen(shown, '[data-test=own-customs]'), shown.text()]).toEqual([
      'as in Germany',
      expect.stringContaining('18.11.2026, 1.234,5'),
    ])
    await choose(shown, '[data-test=own-customs]', 'as in America')
    await settled()
    expect(changes(asked)).toMatchObject([
      { path: '/api/session', body: { name: 'Tamsin Oake', about: 'warden', zone: 'Europe/London', customs: 'en-US' } },
    ])
  })

  it('begins the week on the day that is said', async () => {
    const shown = put(OwnSettings)
    await choose(shown, '[data-test=own-week]', 'Sunday')
    expect(useOwn().value.week).toBe(0)
    await choose(shown, '[data-test=own-week]', 'Monday')
  })
})
