import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, choose, put, refusing, settled } from '@/testing'
import StartPage from './StartPage.vue'

const pushed = vi.hoisted(() => vi.fn(async () => undefined))
vi.mock('vue-router', async (original) => ({ ...(await original<typeof import('vue-router')>()), useRouter: () => ({ push: pushed }) }))
beforeEach(() => {
  document.body.innerHTML = ''
  pushed.mockClear()
  vi.unstubAllGlobals()
})

const template = {
  key: 'wells',
  title: 'Wells',
  description: 'What water there is',
  group: 'Places',
  icon: 'list',
  hue: 'sky',
  published_by: null,
}
const other = { id: 7, name: 'Path upkeep', description: 'Faults', area: 'Paths', icon: 'list', hue: 'heather' }
const BEGUN = { 'POST /api/trackers': { tracker: 9, table: 12 } }

async function page(more: Record<string, unknown> = {}) {
  const asked = answering({ 'GET /api/templates': [template], 'GET /api/trackers': [other], ...more })
  const shown = put(StartPage)
  await settled()
  const have = (what: string) => shown.get(`[data-have=${what}]`).trigger('click')
  const begin = async () => {
    await shown.get('[data-test=begin]').trigger('click')
    await settled()
  }
  const ready = () => shown.get('[data-test=begin]').attributes('disabled') === undefined
  return { shown, have, begin, ready, sent: () => changes(asked).at(-1)?.body as { from: unknown; name: string } | undefined }
}

describe('starting a tracker', () => {
  it('asks first what one has, and nothing else until that is said', async () => {
    const { shown } = await page()
    expect(shown.find('[data-test=tracker-name]').exists()).toBe(false)
    expect(shown.findAll('[role=radio]')).toHaveLength(6)
  })

  it('from a list of names: each once, however they are parted', async () => {
    const { shown, have, begin, ready, sent } = await page(BEGUN)
    await have('names')
    await shown.get<HTMLTextAreaElement>('[data-test=names]').setValue('Name, Place;\n Opened on\t,')
    expect(shown.text()).toContain('3 fields, all of them text to begin with.')
    expect(ready()).toBe(false)
    await shown.get<HTMLInputElement>('[data-test=tracker-name]').setValue('Wells')
    await shown.get<HTMLInputElement>('[data-test=first-table]').setValue('Wells')
    expect(ready()).toBe(true)
    await begin()
    expect(sent()).toMatchObject({ name: 'Wells', from: { names: { table: 'Wells', fields: ['Name', 'Place', 'Opened on'] } } })
    // There is a table to type into.
    expect(pushed).toHaveBeenCalledWith({ name: 'view', params: { tracker: 9, table: 12 } })
  })

  it('from a template, whose name it takes until one has another', async () => {
    const { shown, have, begin, sent } = await page({ ...BEGUN, 'GET /api/templates/wells': { tables: [], forms: [], automations: [] } })
    await have('template')
    await shown.get('[data-template=Wells]').trigger('click')
    expect(shown.get<HTMLInputElement>('[data-test=tracker-name]').element.value).toBe('Wells')
    await shown.get<HTMLInputElement>('[data-test=with-records]').setValue(false)
    await begin()
    expect(sent()!.from).toEqual({ template: { template: 'wells', records: false } })
    expect(pushed).toHaveBeenCalledWith({ name: 'tracker', params: { tracker: 9 } })
  })

  it('finds no template that is not there, and says so', async () => {
    const { shown, have } = await page()
    await have('template')
    await shown.get<HTMLInputElement>('[aria-label="Find a template"]').setValue('boats')
    expect(shown.text()).toContain('No template is called like that.')
  })

  it('from another tracker, as its copy', async () => {
    const { shown, have, begin, ready, sent } = await page(BEGUN)
    await have('tracker')
    expect(ready()).toBe(false)
    await choose(shown, '[data-test=from-tracker]', 'Path upkeep')
    expect(shown.get<HTMLInputElement>('[data-test=tracker-name]').element.value).toBe('Path upkeep, a copy')
    await begin()
    expect(sent()).toMatchObject({ area: null, hue: 'heather', from: { tracker: { tracker: 7, records: true } } })
  })

  it('says what was refused, and forgets it when one has something else', async () => {
    const { shown, have, begin } = await page({ 'POST /api/trackers': refusing(422, 'A tracker needs a name that no other has.') })
    await have('nothing')
    await shown.get<HTMLInputElement>('[data-test=tracker-name]').setValue('Path upkeep')
    await begin()
    expect(shown.get('[data-test=trouble]').text()).toContain('that no other has')
    expect(pushed).not.toHaveBeenCalled()
    await have('names')
    expect(shown.find('[data-test=trouble]').exists()).toBe(false)
  })
})
