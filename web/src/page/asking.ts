// What a shared page asks its server, and what came of it.
import { inject, type InjectionKey } from 'vue'
import { ask, json } from '@/api/plain'

/** One page: its addresses, and whether somebody only tries it. */
export function pageAt(pathname: string, search: string) {
  const link = decodeURIComponent(pathname.split('/')[2] ?? '')
  const as = new URLSearchParams(search).get('as')
  const base = `/api/public/pages/${encodeURIComponent(link)}`
  const at = (path = '', asked: Record<string, string> = {}) => {
    const query = new URLSearchParams(as === null ? asked : { ...asked, as }).toString()
    return `${base}${path}${query && `?${query}`}`
  }
  return {
    link,
    tries: as !== null,
    at,
    get: <T>(path = '', asked?: Record<string, string>) => ask<T>(at(path, asked)),
    post: <T>(path: string, body: unknown, headers?: Record<string, string>) => ask<T>(at(path), json('POST', body, headers)),
    /** The same with files, each under the name by which it is sent. */
    write: <T>(path: string, body: unknown, files: [string, File][], headers?: Record<string, string>) =>
      ask<T>(at(path), files.length ? { method: 'POST', body: formOf(body, files), headers } : json('POST', body, headers)),
    drop: <T>(path: string) => ask<T>(at(path), { method: 'DELETE' }),
  }
}

function formOf(body: unknown, files: [string, File][]) {
  const form = new FormData()
  form.append('body', JSON.stringify(body))
  for (const [name, file] of files) form.append(name, file)
  return form
}

export type PageContext = ReturnType<typeof pageAt>
export const PAGE: InjectionKey<PageContext> = Symbol('page')

export function usePage(): PageContext {
  const page = inject(PAGE, undefined)
  if (!page) throw new Error('A shared page is asked for where none is given: PageShell provides it.')
  return page
}
