// Names of records that can be chosen for a link, as whoever shows the question asks for them.
import { inject, type InjectionKey } from 'vue'
import type { RecordName } from '@/api/types'

type AskNames = (field: number, search: string) => Promise<RecordName[]>
export const NAMES: InjectionKey<AskNames> = Symbol('names of records')

/** Asks for names; in a preview, where nothing is answered, there are none. */
export const useNames = (): AskNames => inject(NAMES, undefined) ?? (() => Promise.resolve([]))

/** Names that a question of a form offers, given what was answered so far. */
export function namesOfForm(link: string, soFar: () => object): AskNames {
  return async (field, search) => {
    const address = `/api/public/forms/${encodeURIComponent(link)}/questions/${field}/names`
    const body = JSON.stringify({ search, so_far: soFar() })
    const response = await fetch(address, { method: 'POST', headers: { 'content-type': 'application/json' }, body }).catch(() => undefined)
    return response?.ok ? ((await response.json()) as RecordName[]) : []
  }
}
