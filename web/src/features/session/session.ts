// Who is signed in. One for the whole application.
import { readonly, ref, watch } from 'vue'
import { api, Problem, told } from '@/api/client'
import type { Customs, Me } from '@/api/types'
import { writeBy } from '@/theme/own'
import { comeInByPasskey } from './passkeys'

const me = ref<Me>()
let asked: Promise<void> | undefined

/** As numbers and days are told to everybody who chose nothing. */
const USUAL: Customs = 'en-GB'
watch(me, (now) => writeBy(now && (now.customs ?? USUAL)), { flush: 'sync' })

async function read() {
  try {
    me.value = await told(api.GET('/api/session'))
  } catch (error) {
    if (!(error instanceof Problem && error.status === 401)) throw error
    me.value = undefined
  }
}

export function useSession() {
  /** Asks once who is signed in. */
  const load = () => (asked ??= read().catch((error) => ((asked = undefined), Promise.reject(error))))

  async function again() {
    asked = read()
    await asked
  }

  async function signIn(mail: string, password: string) {
    await told(api.POST('/api/session', { body: { mail, password } }))
    await again()
  }

  async function signInByCode(mail: string, code: string) {
    await told(api.POST('/api/codes/session', { body: { mail, code } }))
    await again()
  }

  async function signInByPasskey() {
    await comeInByPasskey()
    await again()
  }

  async function choose(person: number) {
    await told(api.POST('/api/demo/session', { body: { person } }))
    await again()
  }

  async function signOut() {
    await told(api.DELETE('/api/session'))
    me.value = undefined
    asked = undefined
  }

  /** @param group whoever of it stands best for it, in place of a person */
  async function standIn(person: number | null, group: number | null = null) {
    await told(api.PUT('/api/session/stand-in', { body: { person, group } }))
    await again()
  }

  /** Numbers and days are written, and typed, by other customs from now on. */
  async function writeLike(customs: Customs) {
    if (!me.value) return
    const { person, about, phone, zone, channel, quiet } = me.value
    await told(api.PUT('/api/session', { body: { name: person.name, about, phone, zone, customs, channel, quiet } }))
    await again()
  }

  return { me: readonly(me), writeLike, load, again, signIn, signInByCode, signInByPasskey, choose, signOut, standIn }
}
