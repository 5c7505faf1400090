import { effectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { put } from '@/testing'
import FileGlass from './FileGlass.vue'
import FileSends from './FileSends.vue'
import { addressAs, addressOf, facts, shownAs, sizeText, type Attachment } from './files'
import { putOnRecord, useFileSending, type Cell } from './sending'

const file = (over: Partial<Attachment> = {}): Attachment => ({ id: 'a', name: 'gate.jpg', media: 'image/jpeg', size: 1_250_000, ...over })

beforeEach(() => {
  document.body.innerHTML = ''
  localStorage.clear()
})
afterEach(() => vi.unstubAllGlobals())

describe('what a file is', () => {
  it.each([
    ['image/jpeg', 'picture'],
    ['image/svg+xml', 'named'],
    ['application/pdf', 'pdf'],
    ['text/plain', 'text'],
    ['text/html', 'named'],
    ['audio/mpeg', 'sound'],
    ['video/webm', 'film'],
    ['text/uri-list', 'address'],
    ['application/zip', 'named'],
  ])('%s is shown as %s', (media, shown) => expect(shownAs(file({ media }))).toBe(shown))

  it('is told in words, with its size', () => {
    expect(facts(file())).toBe('picture, 1.3 MB')
    expect(facts(file({ media: 'application/octet-stream', name: 'Notes.DOCX', size: 40_400 }))).toBe('document, 40 kB')
    expect(facts(file({ media: 'application/octet-stream', name: 'odd', size: 12 }))).toBe('file, 12 bytes')
    expect(facts(addressAs('https://maps.example', ''))).toBe('address')
    expect(sizeText(104_857_600)).toBe('104.9 MB')
  })

  it('has an address of its own, where it is none itself', () => {
    expect(addressOf(file(), 'keep')).toBe('/api/files/a?keep=true')
    expect(addressOf(addressAs('https://maps.example', 'The map'))).toBe('https://maps.example')
  })
})

/** A server that takes files in pieces of four bytes; what it was asked, and how often it gives no answer first. */
function server(failing: { lost?: number; refuses?: string[]; breaks?: string[] } = {}) {
  const kept = new Map<string, { name: string; size: number; at: number }>()
  const attached: string[][] = []
  let lost = failing.lost ?? 0
  const answer = (body: unknown, status = 200) =>
    new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
  const told = (token: string) => ({ token, ...kept.get(token)!, piece: 4 })
  vi.stubGlobal('fetch', async (asked: Request | string, init?: RequestInit) => {
    const request = asked instanceof Request ? asked : new Request(new URL(asked, 'http://x.example'), init)
    const url = new URL(request.url)
    const token = url.pathname.split('/')[4] ?? ''
    if (url.pathname === '/api/files/coming') {
      const { name, size } = (await request.json()) as { name: string; size: number }
      const made = `t-${name}-${kept.size}`
      kept.set(made, { name, size, at: 0 })
      return answer(told(made))
    }
    if (url.pathname.endsWith('/54')) {
      const { tokens } = (await request.json()) as { tokens: string[] }
      const bad = tokens.find((one) => failing.refuses?.some((name) => one.includes(name)))
      if (bad) return answer({ detail: 'It can’t be drawn.', faults: [] }, 415)
      attached.push(tokens.map((one) => kept.get(one)!.name))
      return answer({ seq: 9, did: 'changed Pictures' })
    }
    const one = kept.get(token)
    if (!one) return answer({ detail: 'There is no such file.', faults: [] }, 404)
    if (request.method === 'DELETE') {
      kept.delete(token)
      return new Response(null, { status: 204 })
    }
    if (request.method === 'PUT') {
      if (lost-- > 0) throw new TypeError('no line')
      if (failing.breaks?.includes(one.name)) return answer({ detail: `“${one.name}” is something else.`, faults: [] }, 415)
      one.at = Math.min(one.size, Number(url.searchParams.get('at')) + 4)
    }
    return answer(told(token))
  })
  return { kept, attached }
}

const cell: Cell = { tracker: 1, table: 3, record: 7, field: 54 }
const sent = (name: string, text: string) => new File([text], name, { lastModified: 1 })

describe('files on their way', () => {
  const sending = (put: () => void = () => undefined) => {
    const files = effectScope().run(() => useFileSending<Cell>((to, tokens) => putOnRecord(to, tokens).then(put)))!
    return { ...files, send: (given: File[]) => files.send(given, cell) }
  }

  it('come in pieces and are put on the record together', async () => {
    const { attached } = server()
    const put = vi.fn()
    const files = sending(put)
    await files.send([sent('a.txt', '0123456789'), sent('b.txt', '01')])
    expect(attached).toEqual([['a.txt', 'b.txt']])
    expect(put).toHaveBeenCalledTimes(1)
    expect(files.lines.value).toEqual([])
    expect(localStorage.length).toBe(0)
  })

  it('are tried again by themselves where there is no answer', async () => {
    vi.useFakeTimers()
    const { attached } = server({ lost: 2 })
    const done = sending().send([sent('a.txt', '01234567')])
    await vi.runAllTimersAsync()
    await done
    vi.useRealTimers()
    expect(attached).toEqual([['a.txt']])
  })

  it('go on from where they were when the same file is chosen again', async () => {
    const { kept, attached } = server()
    kept.set('t-known', { name: 'a.txt', size: 8, at: 4 })
    localStorage.setItem('westerfall coming a.txt 8 1', 't-known')
    await sending().send([sent('a.txt', '01234567')])
    expect(attached).toEqual([['a.txt']])
    expect([...kept.keys()]).toEqual(['t-known'])
  })

  it('say each why it was not taken, and the others are', async () => {
    const { attached } = server({ breaks: ['bad.jpg'], refuses: ['odd.png'] })
    const files = sending()
    await files.send([sent('bad.jpg', 'x'), sent('good.txt', 'x'), sent('odd.png', 'x')])
    expect(attached).toEqual([['good.txt']])
    expect(files.lines.value.map((line) => [line.name, line.trouble, line.again])).toEqual([
      ['bad.jpg', '“bad.jpg” is something else.', false],
      ['odd.png', 'It can’t be drawn.', false],
    ])
    files.stop(files.lines.value[0]!.key)
    expect(files.lines.value.map((line) => line.name)).toEqual(['odd.png'])
  })
})

describe('what is said of files on their way', () => {
  it('tells how far each is, and offers to go on only where that may help', async () => {
    const lines = [
      { key: 1, name: 'a.bin', size: 4_000_000, at: 1_000_000 },
      { key: 2, name: 'b.bin', size: 10, at: 4, trouble: 'No answer.', again: true },
      { key: 3, name: 'c.jpg', size: 10, at: 0, trouble: 'It is no picture.', again: false },
    ]
    const shown = put(FileSends, { props: { lines } })
    expect(shown.text()).toContain('1 MB of 4 MB')
    expect(shown.findAll('button').map((one) => one.text())).toEqual(['stop', 'go on', 'leave it', 'leave it'])
    await shown.findAll('button')[1]!.trigger('click')
    await shown.findAll('button')[3]!.trigger('click')
    expect([shown.emitted('goOn'), shown.emitted('stop')]).toEqual([[[2]], [[3]]])
  })
})

describe('files looked at large', () => {
  const all = [file(), file({ id: 'b', name: 'survey.pdf', media: 'application/pdf' }), file({ id: 'c', name: 'odd.bin', media: 'x/y' })]
  const glass = (at: number, props: object = {}) => put(FileGlass, { props: { files: all, modelValue: at, ...props } })
  const sheet = () => document.querySelector<HTMLElement>('.glass')!

  it('are walked by the arrow keys, and stop at the ends', () => {
    const shown = glass(0)
    expect(sheet().querySelector('img')?.getAttribute('src')).toBe('/api/files/a')
    sheet().dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowLeft' }))
    expect(shown.emitted('update:modelValue')).toBeUndefined()
    sheet().dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight' }))
    expect(shown.emitted('update:modelValue')).toEqual([[1]])
  })

  it('are shown where they may be, and named where not', () => {
    glass(1)
    expect(sheet().querySelector('iframe')?.getAttribute('src')).toBe('/api/files/b')
    document.body.innerHTML = ''
    glass(2)
    expect(sheet().textContent).toContain('This kind of file is not shown here')
    expect(sheet().querySelector('iframe, img, audio, video')).toBeNull()
  })

  it('are turned where they are pictures and one may', () => {
    const words = () => [...sheet().querySelectorAll('button')].map((one) => one.textContent?.trim())
    const shown = glass(0, { turns: true })
    ;[...sheet().querySelectorAll('button')].find((one) => one.textContent?.includes('turn right'))!.click()
    expect(shown.emitted('turn')).toEqual([[all[0], 1]])
    document.body.innerHTML = ''
    glass(1, { turns: true })
    expect(words()).not.toContain('turn right')
    document.body.innerHTML = ''
    glass(0)
    expect(words()).not.toContain('turn right')
  })
})
