// The one door to the server. Every refusal becomes a Problem, whose text is meant for people.
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

type Schemas = components['schemas']
export type Fault = Schemas['Fault']

/** A refusal of the server, or no answer at all. */
export class Problem extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly faults: Fault[] = [],
    /** After how many seconds to try again, where the server says so. */
    readonly again?: number,
  ) {
    super(message)
  }

  /** The message at a place of what was sent, if there is one. */
  at(pointer: string): string | undefined {
    return this.faults.find((fault) => fault.pointer === pointer)?.message
  }
}

const client = createClient<paths>({ baseUrl: '', credentials: 'same-origin', fetch: (request) => globalThis.fetch(request) })

export const api = client

/** The data of an answer; throws a Problem where it is a refusal. */
export async function told<T>(asked: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer
  try {
    answer = await asked
  } catch {
    throw new Problem('No answer from the server. What you typed is still here; try again in a moment.', 0)
  }
  if (answer.error !== undefined || !answer.response.ok) throw problemOf(answer.error, answer.response.status)
  return answer.data as T
}

function problemOf(body: unknown, status: number, again?: number): Problem {
  const known = typeof body === 'object' && body !== null && 'detail' in body ? (body as Schemas['ProblemBody']) : undefined
  return new Problem(known?.detail ?? 'Something went wrong. Try again in a moment.', status, known?.faults, again)
}

/** Sends a form with files and gives its answer; says how far it is, from 0 to 1, and can be stopped. */
export function send<T>(address: string, body: FormData, key?: string, far?: (share: number) => void, stop?: AbortSignal): Promise<T> {
  return new Promise((resolve, reject) => {
    // What is sent can only be watched on its way by the older means.
    const request = new XMLHttpRequest()
    const lost = () => reject(new Problem('No answer from the server. What you typed is still here; try again in a moment.', 0))
    request.upload.onprogress = (event) => event.lengthComputable && far?.(event.loaded / event.total)
    request.onload = () => {
      const answer = parsed(request.responseText)
      if (request.status >= 200 && request.status < 300) resolve(answer as T)
      else reject(problemOf(answer, request.status, Number(request.getResponseHeader('Retry-After')) || undefined))
    }
    request.onerror = request.ontimeout = lost
    request.onabort = () => reject(new Problem('You stopped it. Nothing was sent; what you typed is still here.', -1))
    stop?.addEventListener('abort', () => request.abort())
    request.open('POST', address)
    if (key) request.setRequestHeader('Idempotency-Key', key)
    request.send(body)
  })
}

/** Sends some bytes of a file to where they belong. */
export const sendBytes = (address: string, bytes: Blob, stop?: AbortSignal) =>
  globalThis.fetch(address, {
    method: 'PUT',
    body: bytes,
    credentials: 'same-origin',
    headers: { 'content-type': 'application/octet-stream' },
    signal: stop,
  })

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}

/** What to say of anything that was thrown. */
export function saying(error: unknown): string {
  return error instanceof Error ? error.message : 'Something went wrong. Try again in a moment.'
}

/** What somebody else put where one wanted to put something, where that is why it was refused. */
export const theirsOf = (error: unknown) =>
  error instanceof Problem ? error.faults.find((fault) => fault.clash)?.clash?.theirs : undefined

/** The name of a file as the server gives it (RFC 6266). */
export function nameOf(disposition: string | null, otherwise: string): string {
  const whole = /filename\*=UTF-8''([^;]+)/.exec(disposition ?? '')?.[1]
  try {
    return whole ? decodeURIComponent(whole) : otherwise
  } catch {
    return otherwise
  }
}

/** Asks for a file and hands it to the browser to keep, under the name that it comes with. */
export async function download(address: string, body: unknown, name: string, stop?: AbortSignal) {
  const headers = { 'content-type': 'application/json' }
  const response = await fetch(address, { method: 'POST', headers, body: JSON.stringify(body), signal: stop })
  if (!response.ok) throw problemOf(await response.json().catch(() => undefined), response.status)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = nameOf(response.headers.get('content-disposition'), name)
  link.click()
  URL.revokeObjectURL(link.href)
}
