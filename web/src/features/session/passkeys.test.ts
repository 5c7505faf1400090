import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, put, refusing, settled } from '@/testing'
import OwnPasskeys from './OwnPasskeys.vue'
import { deviceSaid } from './passkeys'

const KEYS = { offered: true, keys: [{ id: 'ab12', name: 'Office laptop', made: '3 Nov 2026, 09:00', used: 'never used' }] }
const ASKED = { token: 't0', options: { publicKey: { challenge: 'abc' } } }

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})
afterEach(() => vi.unstubAllGlobals())

/** A browser whose device answers like this. */
function device(answers: () => Promise<unknown>) {
  vi.stubGlobal('PublicKeyCredential', {
    parseCreationOptionsFromJSON: (json: unknown) => json,
    parseRequestOptionsFromJSON: (json: unknown) => json,
  })
  Object.defineProperty(navigator, 'credentials', { value: { create: answers, get: answers }, configurable: true })
}
const credential = { toJSON: () => ({ id: 'xyz', type: 'public-key', clientExtensionResults: { credProps: { rk: true } } }) }

describe('one’s passkeys', () => {
  it('lists them, and adds a device by what it answers', async () => {
    device(() => Promise.resolve(credential))
    const asked = answering({
      'GET /api/session/passkeys': KEYS,
      'POST /api/session/passkeys/begin': ASKED,
      'POST /api/session/passkeys': new Response(null, { status: 204 }),
    })
    const shown = put(OwnPasskeys, { props: { readonly: false } })
    await settled()
    expect(shown.get('[data-test=passkey]').text()).toContain('Office laptop')
    expect(shown.get('[type=submit]').attributes('disabled')).toBeDefined()
    await shown.get('input').setValue('Phone')
    await shown.get('form').trigger('submit')
    await settled()
    const kept = changes(asked).find((one) => one.path === '/api/session/passkeys')
    expect(kept?.body).toMatchObject({ token: 't0', name: 'Phone', credential: { id: 'xyz', type: 'public-key' } })
  })

  it('says what went wrong at the device, and what the server refused', async () => {
    device(() => Promise.reject(new DOMException('no', 'NotAllowedError')))
    answering({ 'GET /api/session/passkeys': KEYS, 'POST /api/session/passkeys/begin': ASKED })
    const shown = put(OwnPasskeys, { props: { readonly: false } })
    await settled()
    await shown.get('input').setValue('Phone')
    await shown.get('form').trigger('submit')
    await settled()
    expect(shown.get('.fault-text').text()).toBe('The device did not answer, or you left it. Nothing was changed.')
    expect((deviceSaid(new DOMException('', 'InvalidStateError')) as Error).message).toContain('already')
    answering({
      'GET /api/session/passkeys': KEYS,
      'POST /api/session/passkeys/begin': refusing(409, 'You have as many passkeys as one can have.'),
    })
    await shown.get('form').trigger('submit')
    await settled()
    expect(shown.get('.fault-text').text()).toContain('as many passkeys')
  })

  it('is not offered where there can be none', async () => {
    device(() => Promise.resolve(credential))
    answering({ 'GET /api/session/passkeys': { offered: false, keys: [] } })
    const shown = put(OwnPasskeys, { props: { readonly: false } })
    await settled()
    expect(shown.find('form').exists()).toBe(false)
  })
})
