import { afterEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, opened, put, settled } from '@/testing'
import BinPage from './BinPage.vue'

vi.mock('vue-router', async (original) => ({
  ...(await original<typeof import('vue-router')>()),
  useRoute: () => ({ params: { tracker: '1' } }),
}))

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const gone = { table: 3, one: 'fault', record: 7, name: 'Gate', at: '2 days ago', who: 'Bex', hangs: '1 work order' }

async function bin(empties?: string) {
  const asked = answering({
    'GET /api/trackers/1/bin/records': { records: [gone], empties },
    'POST /api/trackers/1/bin/empty': { seq: 9, did: 'emptied a fault out of the bin' },
    'POST /api/trackers/1/tables/3/bring-back': { seq: 8, did: 'brought the fault “Gate” back' },
  })
  const shown = put(BinPage, {}, opened())
  await settled()
  return { shown, asked }
}

describe('the bin of records', () => {
  it('is emptied by stewards alone, and asked first since nothing brings it back', async () => {
    expect((await bin()).shown.find('[data-test=empty-bin]').exists()).toBe(false)
    const { shown, asked } = await bin('47 records with 3 files go for good. Nothing brings them back.')
    await shown.get('[data-test=empty-bin]').trigger('click')
    expect(shown.get('[data-test=rehearsal]').text()).toContain('47 records with 3 files go for good')
    expect(changes(asked)).toEqual([])
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({})
  })

  it('lets one record go for good, or brings it back', async () => {
    const { shown, asked } = await bin('1 record goes for good.')
    await shown.get('[aria-label="empty Gate out of the bin"]').trigger('click')
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({ only: { table: 3, record: 7 } })
    await shown.get('[aria-label="bring back Gate"]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({ records: [7] })
  })
})
