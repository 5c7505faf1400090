// Asking the server from the small pages, without the application's client.
import type { Fault } from './types'

/** An answer, or why there is none. */
export type Answer<T> = { ok: true; body: T } | { ok: false; status: number; says: string; faults: Fault[] }

const LOST = 'No answer from the server. What you typed is still here; try again in a moment.'

export async function ask<T>(address: string, init?: RequestInit): Promise<Answer<T>> {
  const response = await fetch(address, init).catch(() => undefined)
  if (!response) return { ok: false, status: 0, says: LOST, faults: [] }
  if (response.status === 204) return { ok: true, body: undefined as T }
  const body: unknown = await response.json().catch(() => undefined)
  if (response.ok) return { ok: true, body: body as T }
  const problem = body as { detail?: string; faults?: Fault[] } | undefined
  return { ok: false, status: response.status, says: problem?.detail ?? LOST, faults: problem?.faults ?? [] }
}

/** What is sent along with what is asked. */
export const json = (method: string, body: unknown, headers = {}): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json', ...headers },
  body: JSON.stringify(body),
})
