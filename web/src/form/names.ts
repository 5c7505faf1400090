// Names that a link question offers, given what was answered so far.
import { inject, type InjectionKey } from 'vue'
import type { RecordName } from '@/api/types'

interface SoFar {
  link: string
  /** The answers so far, as they are sent. */
  body: () => object
}

export const SO_FAR: InjectionKey<SoFar> = Symbol('answers so far')

/** Asks for names; in a preview, where nothing is answered, there are none. */
export function useNames() {
  const soFar = inject(SO_FAR, undefined)
  return async (field: number, search: string): Promise<RecordName[]> => {
    if (!soFar) return []
    const address = `/api/public/forms/${encodeURIComponent(soFar.link)}/questions/${field}/names`
    const body = JSON.stringify({ search, so_far: soFar.body() })
    const response = await fetch(address, { method: 'POST', headers: { 'content-type': 'application/json' }, body }).catch(() => undefined)
    return response?.ok ? ((await response.json()) as RecordName[]) : []
  }
}
