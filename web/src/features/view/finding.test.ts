import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Row } from '@/api/types'
import { answering, changes, field, opened, put, settled } from '@/testing'
import { defineComponent, h } from 'vue'
import FindBar from './FindBar.vue'
import { useFinding, type Finding } from './finding'
import { windowOf } from './testing'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const TITLE = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'Title', within: 'title' })
const HITS = {
  says: '3 in 2 faults',
  count: 3,
  hits: [
    { place: 0, record: 1, field: 41 },
    { place: 4, record: 9, field: 41 },
    { place: 4, record: 9, field: 42 },
  ],
}

async function bar(answer: object = HITS) {
  const asked = answering({ 'POST /api/trackers/1/tables/3/hits': answer })
  const gone: number[] = []
  let finding!: Finding
  const { window } = windowOf([{ id: 1, cells: [] } as unknown as Row], { of: [3] })
  const Stand = defineComponent(() => {
    finding = useFinding({ tracker: () => 1, table: () => 3, window: () => window, go: (hit) => gone.push(hit.place) })
    return () => h(FindBar, { finding, fields: [TITLE] })
  })
  const shown = put(Stand, {}, opened({}))
  const type = async (text: string) => {
    await shown.get('[data-test=find-words]').setValue(text)
    // It is asked once one pauses.
    if (text.trim()) await vi.waitFor(() => expect(changes(asked).at(-1)?.body).toMatchObject({ text }))
    await settled()
  }
  return {
    shown,
    finding,
    gone,
    asked,
    type,
    key: (key: string, more: object = {}) => shown.get('[data-test=find-words]').trigger('keydown', { key, ...more }),
  }
}

describe('words looked for among what is in sight', () => {
  it('are asked once one pauses, marked, and walked from one to the next and round', async () => {
    const { shown, finding, gone, asked, type, key } = await bar()
    expect(shown.find('[data-test=find-bar]').exists()).toBe(false)
    finding.begin()
    await settled()
    await type('gate')
    expect(changes(asked).map((one) => one.body)).toMatchObject([{ text: 'gate', fields: [] }])
    expect(shown.get('[data-test=find-says]').text()).toBe('3 in 2 faults')
    expect([finding.isHit(9, 42), finding.isHit(1, 42)]).toEqual([true, false])
    await key('Enter')
    expect(shown.get('[data-test=find-says]').text()).toBe('1 of 3 in 2 faults')
    await key('Enter', { shiftKey: true })
    await key('Enter')
    expect(gone).toEqual([0, 4, 0])
  })

  it('are looked for in one field, and forgotten when it is put away', async () => {
    const { shown, finding, asked, type, key } = await bar()
    finding.begin(41)
    await settled()
    await type('gate')
    expect(changes(asked).at(-1)!.body).toMatchObject({ fields: [41] })
    await key('Escape')
    await settled()
    expect(shown.find('[data-test=find-bar]').exists()).toBe(false)
    expect(finding.isHit(9, 42)).toBe(false)
  })

  it('say that they stand nowhere, and that nothing is looked for', async () => {
    const { shown, finding, gone, asked, type } = await bar({ says: 'nowhere', count: 0, hits: [] })
    finding.begin()
    await settled()
    await type('   ')
    expect(changes(asked)).toEqual([])
    await type('zzz')
    expect(shown.get('[data-test=find-says]').text()).toBe('nowhere')
    expect(shown.get('[data-test=find-next]').attributes('disabled')).toBeDefined()
    finding.step(1)
    expect(gone).toEqual([])
  })
})
