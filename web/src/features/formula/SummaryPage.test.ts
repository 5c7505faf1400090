import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, choose, field, opened, put, refusing, settled, table } from '@/testing'
import SummaryPage from './SummaryPage.vue'

const route = vi.hoisted(() => ({ params: { tracker: '1', table: '1', field: 'new' }, query: {} }))
vi.mock('vue-router', async (original) => ({ ...(await original<typeof import('vue-router')>()), useRoute: () => route }))
vi.mock('@vueuse/core', async (original) => ({
  ...(await original<typeof import('@vueuse/core')>()),
  refDebounced: (value: unknown) => value,
}))
beforeEach(() => {
  document.body.innerHTML = ''
  route.params.field = 'new'
  vi.unstubAllGlobals()
})

const link = field({ type: 'link', to: 3, back: 42, one: false, holds: false } as never, { id: 10, name: 'Faults' })
const hours = field({ type: 'number', decimals: 1, unit: 'h' }, { id: 50, name: 'Hours' })
const faults = table([field({ type: 'text', limit: 9 }, { id: 41, name: 'Title' }), hours], { id: 3 })
const TRY = 'POST /api/trackers/1/tables/1/summaries/try'

async function page(answers: Record<string, unknown>, fields = [link]) {
  const sections = table(fields, { id: 1, name: 'Sections', one: 'section', many: 'sections' })
  const asked = answering(answers)
  const shown = put(SummaryPage, {}, opened({ tables: [sections, faults], builds: true } as never))
  await settled()
  const tried = () => changes(asked).filter((one) => one.path.endsWith('/try')).map((one) => one.body as { summary: object; field: number | null }) // prettier-ignore
  return { shown, asked, tried }
}
const example = (record: number, name: string, text: string) => ({ record, name, text })

describe('a summary being made', () => {
  it('shows in some records what it would give, before it is kept', async () => {
    const { shown, tried } = await page({ [TRY]: { examples: [example(1, 'Esker Ridge', '4'), example(2, 'Tarn Foot', '')] } })
    expect(tried()).toEqual([{ summary: { name: 'tried', help: '', links: [10], figure: 'count', field: null, condition: { all: [] }, before: null }, field: null }]) // prettier-ignore
    expect(shown.get('[data-test=summary-tried]').text()).toBe('Esker Ridge4Tarn Footnothing')
  })

  it('is tried again when the figure changes, with a field that it can be of', async () => {
    const { shown, tried } = await page({ [TRY]: { examples: [] } })
    await choose(shown, '[aria-label=Figure]', 'the sum')
    await settled()
    expect(tried().at(-1)!.summary).toMatchObject({ figure: 'sum', field: 50 })
  })

  it('speaks of counting where it counts, and of taking where it does not', async () => {
    const { shown } = await page({ [TRY]: { examples: [] } })
    expect(shown.get('.only').text()).toContain('All faults are counted.')
    await choose(shown, '[aria-label=Figure]', 'the most')
    expect(shown.get('.only').text()).toContain('All faults are taken.')
  })

  it('says what is wrong with it while one chooses', async () => {
    const { shown } = await page({ [TRY]: refusing(422, 'Choose at least one of the options of “Status”.') })
    expect(shown.get('[data-test=summary-tried]').text()).toContain('Choose at least one')
  })

  it('of a table without links there is nothing to sum up', async () => {
    const { shown, tried } = await page({}, [])
    expect(shown.text()).toContain('Sections is not linked to another table yet')
    expect(tried()).toEqual([])
  })
})

it('a summary that is there is tried as a change of itself', async () => {
  route.params.field = '11'
  const own = field({ type: 'summary', links: [10], figure: 'most', field: 50, condition: { all: [] } } as never, {
    id: 11,
    name: 'Longest',
  })
  const { shown, tried } = await page({ [TRY]: { examples: [example(1, 'Esker Ridge', '9.5 h')] } }, [link, own])
  expect(tried().at(-1)).toMatchObject({ field: 11, summary: { figure: 'most', field: 50 } })
  expect(shown.get<HTMLInputElement>('[data-test=name]').element.value).toBe('Longest')
})
