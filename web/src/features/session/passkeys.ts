// Passkeys: what the server asks of a device, asked of it by the browser.
import { api, told } from '@/api/client'

const NUMBER = /^\[|^[\d.]+$/

/** Whether this browser can ask a device at all, at an address that has a name. */
export const canAsk = () =>
  !NUMBER.test(location.hostname) &&
  typeof PublicKeyCredential !== 'undefined' &&
  typeof PublicKeyCredential.parseCreationOptionsFromJSON === 'function'

type Asked = { publicKey: never }

/** What a device answered, as the server reads it. */
function answered(credential: Credential | null) {
  if (!credential) throw new Error('No device answered.')
  return (credential as PublicKeyCredential).toJSON() as never
}

/** Lets a device of one's own become a passkey. */
export async function addPasskey(name: string) {
  const { token, options } = await told(api.POST('/api/session/passkeys/begin'))
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON((options as unknown as Asked).publicKey)
  const credential = answered(await navigator.credentials.create({ publicKey }))
  await told(api.POST('/api/session/passkeys', { body: { token, name, credential } }))
}

/** Signs in with a passkey; which one, and whose, the device knows. */
export async function comeInByPasskey() {
  const { token, options } = await told(api.POST('/api/passkeys/begin'))
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON((options as unknown as Asked).publicKey)
  const credential = answered(await navigator.credentials.get({ publicKey }))
  await told(api.POST('/api/passkeys/session', { body: { token, credential } }))
}

/** What went wrong between the browser and a device, in a sentence; faults of the server have their own. */
export function deviceSaid(error: unknown): unknown {
  if (!(error instanceof DOMException)) return error
  if (error.name === 'InvalidStateError') return new Error('This device is one of your passkeys already.')
  return new Error('The device did not answer, or you left it. Nothing was changed.')
}
