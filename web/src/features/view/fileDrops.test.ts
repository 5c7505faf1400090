import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Row } from '@/api/types'
import { answering, changes, field, settled } from '@/testing'
import { useFileDrops } from './fileDrops'

afterEach(() => vi.unstubAllGlobals())

const pictures = field({ type: 'files' } as never, { id: 54, name: 'Pictures' })
const title = field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' })
const row = { id: 7 } as Row

/** A drop on the cell of a field, with files or with something else. */
function dragging(over: string, files: File[] | undefined) {
  const cell = document.createElement('div')
  cell.dataset.field = over
  const within = cell.appendChild(document.createElement('span'))
  const event = new Event('drop', { cancelable: true }) as DragEvent
  Object.defineProperty(event, 'target', { value: within })
  Object.defineProperty(event, 'dataTransfer', { value: { types: files ? ['Files'] : ['text/plain'], files: files ?? [] } })
  return event
}

const drops = (may = true) =>
  useFileDrops({ tracker: () => 1, table: () => 3, columns: () => [title, pictures], may: () => may, refresh: async () => undefined })

describe('files dropped on a cell of rows', () => {
  it('go into a field of files of that record, and are put there once they are here', async () => {
    const asked = answering({
      'POST /api/files/coming': { token: 't', at: 0, size: 2, piece: 1024 },
      'PUT /api/files/coming/t': { token: 't', at: 2, size: 2, piece: 1024 },
      'POST /api/trackers/1/tables/3/records/7/files/54': { seq: 3, did: 'changed Pictures' },
    })
    const { over, dragged, dropped, sending } = drops()
    const files = [new File(['{}'], 'plan.json')]
    const held = dragging('Pictures', files)
    expect([dragged(held, row), held.defaultPrevented, over.value]).toEqual([true, true, { record: 7, field: 54 }])
    expect(dropped(held, row)).toBe(true)
    expect(over.value).toBeUndefined()
    await settled()
    await settled()
    expect(changes(asked).map((one) => `${one.method} ${one.path}`)).toEqual([
      'POST /api/files/coming',
      'PUT /api/files/coming/t',
      'POST /api/trackers/1/tables/3/records/7/files/54',
    ])
    expect(sending.lines.value).toEqual([])
  })

  it('go nowhere over another field, or where one may not; and what is no file is somebody else’s to carry', () => {
    const held = dragging('Title', [new File(['x'], 'a')])
    expect([drops().dragged(held, row), held.defaultPrevented]).toEqual([true, false])
    const kept = dragging('Pictures', [new File(['x'], 'a')])
    expect([drops(false).dragged(kept, row), kept.defaultPrevented]).toEqual([true, false])
    expect(drops().dragged(dragging('Pictures', undefined), row)).toBe(false)
    expect(drops().dropped(dragging('Pictures', undefined), row)).toBe(false)
  })
})
