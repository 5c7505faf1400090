import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { PageDesign as Design, PageRecords, SharedPage } from '@/api/types'
import { answering, changes, choose, field, offered, opened, put, settled, table, type Asked } from '@/testing'
import DoorEditor from './DoorEditor.vue'
import { alsoShown, nextGuest, nextNumber } from './page'
import PageDesign from './PageDesign.vue'
import PagesPage from './PagesPage.vue'
import RecordsEditor from './RecordsEditor.vue'

// Its numbers stand in the address, as the application's router gives them.
vi.mock('vue-router', async (real) => ({
  ...(await real<typeof import('vue-router')>()),
  useRoute: () => ({ params: { tracker: '1', page: '5' }, query: {} }),
  useRouter: () => ({ push: vi.fn() }),
  onBeforeRouteLeave: () => undefined,
}))

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const TITLE = field({ type: 'text', limit: 80 } as never, { id: 41, name: 'What is wrong' })
const NOTE = field({ type: 'text', limit: 80 } as never, { id: 42, name: 'Note' })
const LINK = field({ type: 'link', to: 2, back: 9, one: true, holds: true } as never, { id: 43, name: 'Section' })
const FAULTS = table([TITLE, NOTE, LINK], { views: [{ id: 100, name: 'Open', owner: null, query: { condition: { all: [] }, groups: [{ field: 43 }], sorts: [{ field: 41 }, { field: 99 }], fields: [{ field: 41, width: 100 }], tallies: [] } }] as never }) // prettier-ignore
const RECORDS: PageRecords = {
  number: 1,
  table: 3,
  title: 'Still open',
  query: { condition: { all: [] }, groups: [], sorts: [], fields: [41, 42, 43].map((one) => ({ field: one, width: 100 })), tallies: [] },
  changes: [42],
  adds: false,
  removes: false,
  only: { all: [] },
}
const PAGE: SharedPage = { id: 5, title: 'Faults', link: 'faults', open: true, door: 'named', guests: [{ id: 1, mail: 'clerk@parish.example' }], blocks: [{ records: RECORDS }] } // prettier-ignore
const DOOR = [
  { text: 'clerk@parish.example', tone: 'edit' as const, at: '/door' },
  { text: ' comes in.', tone: 'plain' as const },
  { text: 'last day', tone: 'offer' as const, at: '/until' },
]
const LOOKS = [
  { text: 'Visitors look at ', tone: 'plain' as const },
  { text: '9', tone: 'strong' as const },
  { text: ' faults, in ', tone: 'plain' as const },
  { text: '3 fields', tone: 'edit' as const, at: '/query/fields' },
  { text: '; they fill in ', tone: 'plain' as const },
  { text: '“Note”', tone: 'edit' as const, at: '/changes' },
  { text: 'adding', tone: 'offer' as const, at: '/adds' },
  { text: 'only where', tone: 'offer' as const, at: '/only' },
]
const DESIGN: Design = {
  page: PAGE,
  address: 'http://localhost/p/faults',
  sentences: { door: DOOR, blocks: [LOOKS], shapes: [[]] },
  moves: [],
}

describe('who comes in', () => {
  const door = (page: Partial<SharedPage> = {}, fault?: string) => put(DoorEditor, { props: { page: { ...PAGE, ...page }, fault } })

  it('is chosen among three ways, and a passcode that is kept is shown to nobody', async () => {
    const shown = door({ door: { passcode: '' } })
    expect(shown.findAll('.way').map((one) => one.text())).toHaveLength(3)
    expect(shown.get<HTMLInputElement>('[data-test=passcode]').element.placeholder).toBe('stays as it is')
    await shown.get('[data-test=passcode]').setValue('heron-ford')
    await shown.get('input[value=link]').setValue(true)
    expect(shown.emitted('change')).toEqual([[{ door: { passcode: 'heron-ford' } }], [{ door: 'link' }]])
  })

  it('names addresses, takes one back and lets it in again', async () => {
    const shown = door({}, 'Name at least one address that comes in.')
    await shown.get('[data-test=guest-mail]').setValue(' new@parish.example ')
    await shown.get('[data-test=guest-name]').setValue('the new clerk')
    await shown.get('[data-test=add-guest]').trigger('submit')
    await shown.get('.guest .link').trigger('click')
    expect(shown.emitted('change')).toEqual([
      [{ guests: [...PAGE.guests!, { id: 2, mail: 'new@parish.example', name: 'the new clerk' }] }],
      [{ guests: [{ ...PAGE.guests![0]!, gone: true }] }],
    ])
    expect(shown.get('[role=alert]').text()).toBe('Name at least one address that comes in.')
    expect(
      door({ guests: [{ ...PAGE.guests![0]!, gone: true }] })
        .get('.guest')
        .text(),
    ).toContain('Let in again')
  })

  it('is named for good: numbers are not given twice', () => {
    expect(nextGuest({ ...PAGE, guests: [{ id: 4, mail: 'a@b.example', gone: true }] })).toBe(5)
    expect(nextNumber({ ...PAGE, blocks: [] })).toBe(1)
    expect(nextNumber(PAGE)).toBe(2)
  })
})

describe('what a part shows', () => {
  const editor = () =>
    put(
      RecordsEditor,
      { props: { records: RECORDS, table: FAULTS, phrases: LOOKS, shapes: [], faults: [] } },
      opened({ tables: [FAULTS] } as never),
    )
  const press = async (shown: ReturnType<typeof editor>, at: string) => {
    await shown.get(`[data-at="${at}"]`).trigger('click')
    await settled()
  }
  const pop = () => document.querySelector('.pop')!

  it('offers to be filled in what visitors can fill in, and no links', async () => {
    const shown = editor()
    await press(shown, '/changes')
    expect([...pop().querySelectorAll('label')].map((one) => one.textContent?.trim())).toEqual(['What is wrong', 'Note'])
    const box = pop().querySelector('input')!
    box.checked = true
    box.dispatchEvent(new Event('change'))
    expect(shown.emitted('change')).toEqual([[{ changes: [42, 41] }]])
  })

  it('lets go of what is filled in with the field that is shown no more', async () => {
    const shown = editor()
    await press(shown, '/query/fields')
    const boxes = [...pop().querySelectorAll<HTMLInputElement>('input[type=checkbox]')]
    boxes[1]!.dispatchEvent(new Event('change'))
    expect(shown.emitted('change')).toEqual([[expect.objectContaining({ changes: [] })]])
  })

  it('says more by one press, and drops a phrase by its key', async () => {
    const shown = editor()
    await press(shown, '/adds')
    pop().querySelector('input')!.dispatchEvent(new Event('change'))
    await shown.get('[data-at="/changes"]').trigger('keydown', { key: 'Delete' })
    expect(shown.emitted('change')).toEqual([[{ adds: true }], [{ changes: [] }]])
  })
})

describe('a page as it is composed', () => {
  const tracker = () =>
    opened({ tables: [FAULTS], forms: [{ id: 120, title: 'Report' }], people: [{ id: 1, name: 'Nadia' }], steward: true } as never)
  let asked: Asked[]

  async function composed(answers: Record<string, unknown> = {}) {
    asked = answering({
      'GET /api/trackers/1/pages/5': DESIGN,
      'GET /api/trackers/1/pages': [
        { id: 5, title: 'Faults', open: true, door: '', gives: [], address: '', visits: [{ guest: 1, says: '3 visits, the last today' }] },
      ],
      'POST /api/trackers/1/parts/look': { view: { page: { ...DESIGN, moves: ['Visitors see 4 faults.'] } }, faults: [] },
      'PUT /api/trackers/1/parts/page/5': { seq: 9, did: 'changed the page Faults' },
      ...answers,
    })
    const shown = put({ components: { PageDesign }, template: '<PageDesign />' }, { global: undefined }, tracker())
    return shown
  }

  it('says who came, and what a change would do before it holds', async () => {
    const shown = await composed()
    await settled()
    expect(shown.text()).toContain('3 visits, the last today')
    expect(shown.find('[data-test=keep-panel]').exists()).toBe(false)
    await shown.get('[data-test=page-title]').setValue('Other faults')
    await new Promise((done) => setTimeout(done, 260))
    await settled()
    expect(shown.get('[data-test=keep-panel]').text()).toContain('Visitors see 4 faults.')
    await shown.get('[data-test=keep-page]').trigger('click')
    await settled()
    const saved = changes(asked).find((one) => one.method === 'PUT')
    expect(saved?.body).toMatchObject({ page: { page: { title: 'Other faults' } } })
    expect(shown.find('[data-test=keep-panel]').exists()).toBe(false)
  })

  it('can’t be kept while something is wrong, and says what, where', async () => {
    const faults = [{ pointer: '/blocks/0/adds', message: 'Whoever adds a fault has to say “What is wrong”.', kind: 'bad_rule' }]
    const shown = await composed({ 'POST /api/trackers/1/parts/look': { view: { page: DESIGN }, faults } })
    await settled()
    await shown.get('[data-test=page-intro]').setValue('Hello')
    await new Promise((done) => setTimeout(done, 260))
    await settled()
    expect(shown.get('[data-test=page-block] .fault-text').text()).toContain('has to say “What is wrong”')
    expect(shown.get('[data-test=keep-page]').attributes('disabled')).toBeDefined()
    await shown.get('[data-test=leave-page]').trigger('click')
    await settled()
    expect(shown.find('[data-test=keep-panel]').exists()).toBe(false)
  })

  it('takes a view’s records on as the server says that a page shows them', async () => {
    const records = { number: 1, table: 3, title: '', query: { groups: [], sorts: [{ field: 41 }] } }
    const shown = await composed({ 'GET /api/trackers/1/pages/of/100': records })
    await settled()
    expect(offered(shown, '[data-test=add-block]')).toEqual(['something more …', 'a text', 'Faults: Open', 'the form “Report”'])
    await choose(shown, '[data-test=add-block]', 'Faults: Open')
    await new Promise((done) => setTimeout(done, 260))
    await settled()
    const looked = asked.filter((one) => one.path.endsWith('/parts/look')).at(-1)?.body as { part: { page: { page: SharedPage } } }
    expect(looked.part.page.page.blocks[1]).toMatchObject({ records: { number: 2, query: { groups: [], sorts: [{ field: 41 }] } } })
    expect(shown.findAll('[data-test=page-block]')).toHaveLength(2)
  })

  it('has a colour of its own, or none', async () => {
    const shown = await composed()
    await settled()
    await shown.get('[data-test=page-colour]').setValue('#7d2f4b')
    expect(shown.get('.colour .link').text()).toBe('As it comes')
    await shown.get('[data-test=keep-page]').trigger('click')
    await settled()
    expect(changes(asked).find((one) => one.method === 'PUT')?.body).toMatchObject({ page: { page: { colour: '#7d2f4b' } } })
  })

  it('is closed and opened by a press, and gets a new address', async () => {
    const shown = await composed()
    await settled()
    await shown.get('[data-test=open-page]').trigger('click')
    await settled()
    await shown.get('[data-test=new-address]').trigger('click')
    await settled()
    const saved = changes(asked)
      .filter((one) => one.method === 'PUT')
      .map((one) => (one.body as { page: { page: SharedPage } }).page.page)
    expect(saved.map((page) => [page.open, page.link])).toEqual([
      [false, 'faults'],
      [true, ''],
    ])
  })

  it('stands in a list with who comes in and when anybody last did', async () => {
    answering({
      'GET /api/trackers/1/pages': [
        {
          id: 5,
          title: 'Faults',
          open: false,
          door: 'Anybody who has the link comes in.',
          gives: ['Visitors look at 9 faults.'],
          address: 'http://localhost/p/faults',
          visits: [],
        },
      ],
    })
    const shown = put(PagesPage, {}, tracker())
    await settled()
    expect(shown.get('[data-page=Faults]').text()).toContain('closed')
    expect(shown.get('[data-page=Faults]').text()).toContain('Anybody who has the link comes in. Visitors look at 9 faults.')
    expect(shown.text()).toContain('nobody has come yet')
  })
})

it('shows what groups, figures and shapes tell of, where it is not shown yet', () => {
  const query = { fields: [{ field: 1, width: 200 }] } as never
  const also = (change: object) => alsoShown(change as never, query).map((one) => one.field)
  expect(also({ groups: [{ field: 2 }, { field: 1 }] })).toEqual([2])
  expect(also({ tallies: [{ field: 3, figure: 'sum' }] })).toEqual([3])
  expect(also({ shape: { as: 'lanes', by: 4, picture: null } })).toEqual([4])
  expect(also({ shape: { as: 'cards', picture: 5, length: 1, strokes: 6 } })).toEqual([5, 6])
  expect(also({ shape: { as: 'calendar', dates: [{ start: 7, end: 8 }, { start: 7 }], who: 9 } })).toEqual([7, 8, 9])
  expect(also({ shape: { as: 'cross-tab', down: [{ field: 1 }, { field: 2 }], across: [{ field: 3 }], within: 4 } })).toEqual([2, 3, 4])
  expect(also({ shape: { as: 'rows' } })).toEqual([])
})
