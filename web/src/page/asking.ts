// What a shared page asks its server, and what came of it.
import { inject, type InjectionKey } from 'vue'
import type { Fault } from '@/api/types'

/** An answer, or why there is none. */
export type Answer<T> = { ok: true; body: T } | { ok: false; status: number; says: string; faults: Fault[] }

const LOST = 'No answer from the server. What you typed is still here; try again in a moment.'

async function ask<T>(address: string, init?: RequestInit): Promise<Answer<T>> {
  const response = await fetch(address, init).catch(() => undefined)
  if (!response) return { ok: false, status: 0, says: LOST, faults: [] }
  if (response.status === 204) return { ok: true, body: undefined as T }
  const body: unknown = await response.json().catch(() => undefined)
  if (response.ok) return { ok: true, body: body as T }
  const problem = body as { detail?: string; faults?: Fault[] } | undefined
  return { ok: false, status: response.status, says: problem?.detail ?? LOST, faults: problem?.faults ?? [] }
}

/** One page: its addresses, and whether somebody only tries it. */
export function pageAt(pathname: string, search: string) {
  const link = decodeURIComponent(pathname.split('/')[2] ?? '')
  const as = new URLSearchParams(search).get('as')
  const base = `/api/public/pages/${encodeURIComponent(link)}`
  const at = (path = '', asked: Record<string, string> = {}) => {
    const query = new URLSearchParams(as === null ? asked : { ...asked, as }).toString()
    return `${base}${path}${query && `?${query}`}`
  }
  const json = (method: string, body: unknown, headers = {}): RequestInit => ({
    method,
    headers: { 'content-type': 'application/json', ...headers },
    body: JSON.stringify(body),
  })
  return {
    link,
    tries: as !== null,
    at,
    get: <T>(path = '', asked?: Record<string, string>) => ask<T>(at(path, asked)),
    post: <T>(path: string, body: unknown, headers?: Record<string, string>) => ask<T>(at(path), json('POST', body, headers)),
    drop: <T>(path: string) => ask<T>(at(path), { method: 'DELETE' }),
  }
}

export type PageContext = ReturnType<typeof pageAt>
export const PAGE: InjectionKey<PageContext> = Symbol('page')

export function usePage(): PageContext {
  const page = inject(PAGE, undefined)
  if (!page) throw new Error('A shared page is asked for where none is given: PageShell provides it.')
  return page
}
