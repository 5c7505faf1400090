import { afterEach, describe, expect, it, vi } from 'vitest'
import { answering, field, put, settled, table } from '@/testing'
import EmptyTable from './EmptyTable.vue'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

describe('a table in which nothing stands yet', () => {
  it('is told its first lines on the spot, or lets one add by hand', async () => {
    const reply = { told: { pieces: [], lines: [], records: 0, questions: [], says: [], names: [], plan: {} }, refused: [] }
    answering({ 'POST /api/trackers/1/told': reply })
    const shown = put(EmptyTable, { props: { table: table([field({ type: 'text', limit: 9 })]), tracker: 1 } })
    expect(shown.get('[data-test=told-lines]').attributes('placeholder')).toContain('Write one down here')
    await shown.get('[data-test=by-hand]').trigger('click')
    expect(shown.emitted('add')).toHaveLength(1)
    await settled()
  })
})
