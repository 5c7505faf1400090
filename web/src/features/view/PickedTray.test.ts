import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, field, opened, put, settled, table } from '@/testing'
import PickedTray from './PickedTray.vue'
import { usePicked } from './picked'

afterEach(() => vi.unstubAllGlobals())
beforeEach(() => (document.body.innerHTML = ''))

const TABLE = '/api/trackers/1/tables/3'
const home = table([field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' })], { id: 3, one: 'fault', many: 'faults' } as never)
const query = { fields: [] }
const BINNED = { says: ['2 faults go into the bin, for 30 days.', 'A work order linked with them stands without them; bringing them back links that again.'], count: 2, changed: 2, examples: [], refused: [], refusals: 0 } // prettier-ignore

async function tray(records: number[], over: object = {}) {
  const asked = answering({ [`POST ${TABLE}/bin/rehearsal`]: BINNED, [`POST ${TABLE}/query`]: { row_count: 6, matching: 4, slices: [], groups: [], tallies: [] }, [`DELETE ${TABLE}/records`]: { seq: 3, did: 'put 2 faults into the bin' } }) // prettier-ignore
  const picked = usePicked(() => ({ tracker: 1, table: 3 }))
  picked.clear()
  picked.turn(records)
  const window = { answer: { value: { matching: 4, row_count: 4 } }, read: async () => [1, 2, 3, 4].map((id) => ({ id })) }
  const props = { tracker: 1, table: home, view: undefined, query, window, picked, readonly: false, ...over }
  const shown = put(PickedTray, { props: props as never }, opened({ tables: [home] } as never))
  await settled()
  return { shown, asked, picked }
}

describe('records that are chosen', () => {
  it('are counted, those that the view leaves out too', async () => {
    const { shown } = await tray([1, 9])
    expect(shown.get('p').text()).toBe('2 faults chosen, 2 of them not in this view')
    expect((await tray([1])).shown.find('[data-test=picked-merge]').exists()).toBe(false)
  })

  it('may be all that the view shows', async () => {
    const { shown, picked } = await tray([1])
    await shown.get('[data-test=picked-all]').trigger('click')
    await settled()
    expect(picked.list.value).toEqual([1, 2, 3, 4])
  })

  it('go into the bin once that was asked, and are let go then', async () => {
    const { shown, asked, picked } = await tray([1, 2])
    await shown.get('[data-test=picked-bin]').trigger('click')
    await settled()
    expect(changes(asked).filter((one) => one.method === 'DELETE')).toEqual([])
    expect(shown.get('[data-test=bin-says]').text()).toContain('A work order linked with them stands without them')
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).find((one) => one.method === 'DELETE')!.body).toEqual({ records: [1, 2] })
    expect(picked.list.value).toEqual([])
  })

  it('are copied as lines that a spreadsheet takes in, and go out as a file alone', async () => {
    const written: string[] = []
    const clipboard = { writeText: (text: string) => Promise.resolve(written.push(text)) }
    Object.defineProperty(navigator, 'clipboard', { value: clipboard, configurable: true })
    const { shown, asked } = await tray([1, 9])
    vi.stubGlobal('fetch', async (sent: Request) => {
      asked.push({ method: sent.method, path: new URL(sent.url).pathname, body: await sent.json() } as never)
      return new Response('Title\nGate\n', { status: 200, headers: { 'content-type': 'text/csv' } })
    })
    await shown.get('[data-test=picked-copy]').trigger('click')
    await settled()
    expect(asked.at(-1)).toMatchObject({ path: `${TABLE}/export`, body: { records: [1, 9], format: 'csv', separator: 'tab' } })
    expect(written).toEqual(['Title\nGate\n'])
    expect(shown.get('[data-test=picked-copy]').text()).toBe('copied')
    await shown.get('[data-test=picked-export]').trigger('click')
    await settled()
    expect(document.body.textContent).toContain('2 faults with 0 fields')
  })

  it('are offered what may be done with them, and nothing else', async () => {
    const offered = async (over: object) => {
      document.body.innerHTML = ''
      const of = table([field({ type: 'text', limit: 80 }, { id: 41, name: 'Title', writes: false })], { id: 3, ...over } as never)
      const { shown } = await tray([1, 2], { table: of })
      return ['change', 'again', 'merge', 'bin'].filter((one) => shown.find(`[data-test=picked-${one}]`).exists())
    }
    expect(await offered({ adds: false, removes: false })).toEqual([])
    expect(await offered({ adds: true, removes: true })).toEqual(['again', 'bin'])
    const { shown } = await tray([1, 2])
    expect(shown.find('[data-test=picked-merge]').exists()).toBe(true)
  })

  it('are copied in the order by hand of the view', async () => {
    Object.defineProperty(navigator, 'clipboard', { value: { writeText: () => Promise.resolve() }, configurable: true })
    const { shown, asked } = await tray([1, 2], { view: { id: 104, name: 'Open' } })
    await shown.get('[data-test=picked-copy]').trigger('click')
    await settled()
    expect(asked.find((one) => one.path === `${TABLE}/export`)?.body).toMatchObject({ view: 104, records: [1, 2] })
  })

  it('are only looked at, and printed, by whoever stands in for somebody', async () => {
    const { shown } = await tray([1, 2], { readonly: true })
    expect(shown.findAll('button').map((one) => one.text())).toEqual(['all 4 of this view', 'print …', 'export …', 'copy', 'let go'])
  })
})
