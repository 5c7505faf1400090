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
  ) {
    super(message)
  }

  /** The message at a place of what was sent, if there is one. */
  at(pointer: string): string | undefined {
    return this.faults.find((fault) => fault.pointer === pointer)?.message
  }
}

const client = createClient<paths>({ baseUrl: '', credentials: 'same-origin' })

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

function problemOf(body: unknown, status: number): Problem {
  const known = typeof body === 'object' && body !== null && 'detail' in body ? (body as Schemas['ProblemBody']) : undefined
  return new Problem(known?.detail ?? 'Something went wrong. Try again in a moment.', status, known?.faults)
}

/** Sends a form with files and gives its answer. */
export async function send<T>(address: string, body: FormData, key?: string): Promise<T> {
  let response: Response
  try {
    response = await fetch(address, { method: 'POST', body, headers: key ? { 'Idempotency-Key': key } : {} })
  } catch {
    throw new Problem('No answer from the server. What you typed is still here; try again in a moment.', 0)
  }
  const answer: unknown = await response.json().catch(() => undefined)
  if (!response.ok) throw problemOf(answer, response.status)
  return answer as T
}

/** What to say of anything that was thrown. */
export function saying(error: unknown): string {
  return error instanceof Error ? error.message : 'Something went wrong. Try again in a moment.'
}

/** Asks for a file and hands it to the browser to keep. */
export async function download(address: string, body: unknown, name: string) {
  const response = await fetch(address, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
  if (!response.ok) throw problemOf(await response.json().catch(() => undefined), response.status)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
