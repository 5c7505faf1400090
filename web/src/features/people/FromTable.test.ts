import { afterEach, expect, it, vi } from 'vitest'
import { answering, choose, chosen, field, offered, put, settled, table } from '@/testing'
import FromTable from './FromTable.vue'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const NAME = field({ type: 'text', limit: 80 } as never, { id: 330, name: 'Name' })
const MAIL = field({ type: 'email' }, { id: 331, name: 'Mail' })
const VOLUNTEERS = table([NAME, MAIL], { id: 7, name: 'Volunteers', one: 'volunteer', many: 'volunteers', standing: 330 })
const FAULTS = table([NAME], { id: 3, many: 'faults' })
const row = (name: string, mail?: string) => ({
  id: 1,
  cells: [{ text: name, value: { text: name } }, mail ? { text: mail, value: { text: mail } } : null],
})

async function taking(tables: object[], rows: object[] = []) {
  const asked = answering({
    'GET /api/trackers': [{ id: 1, name: 'Path upkeep' }],
    'GET /api/trackers/1': { id: 1, name: 'Path upkeep', tables },
    'POST /api/trackers/1/tables/7/query': { slices: [{ start: 0, rows }], row_count: rows.length },
  })
  const shown = put(FromTable, { props: { known: ['wren@paths.example'] } })
  await settled()
  await choose(shown, '[data-test=from-tracker]', 'Path upkeep')
  await settled()
  return { shown, asked }
}

it('offers the tables that hold addresses, by the fields that name whoever has one', async () => {
  const { shown } = await taking([FAULTS, VOLUNTEERS])
  expect(offered(shown, '[data-test=from-table]')).toEqual(['volunteers'])
  expect(chosen(shown, '[aria-label="The field of their name"]')).toBe('Name')
  expect(chosen(shown, '[aria-label="The field of their address"]')).toBe('Mail')
})

it('gives a line each, and says who was left out', async () => {
  const { shown } = await taking([VOLUNTEERS], [row('Ada Wren', 'ada@walkers.example'), row('Pim Reed'), row('Wren', 'Wren@paths.example')])
  await shown.get('[data-test=take-them]').trigger('click')
  await settled()
  expect(shown.emitted('lines')).toEqual([[['Ada Wren, ada@walkers.example']]])
  expect(shown.get('[role=status]').text()).toContain('1 of 3 volunteers; the others have no address')
})

it('says where a tracker holds nobody', async () => {
  const { shown } = await taking([FAULTS])
  expect(shown.text()).toContain('none of its tables has a field for addresses.')
})
