import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { ColumnGuess, ColumnPlan, GuessReply, ImportRehearsal, Plan } from '@/api/types'
import { choose, offered, answering, opened, put, refusing, settled, table, field, type Asked } from '@/testing'
import ColumnLine from './ColumnLine.vue'
import FileDrop from './FileDrop.vue'
import ImportPage from './ImportPage.vue'
import ReadingNotes from './ReadingNotes.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const becomes = { field: { kind: { type: 'date' as const } } }
const column = (over: Partial<ColumnPlan> = {}): ColumnPlan => ({ column: 1, name: 'Hung', becomes, years_from: 1950, ...over })
const guess = (over: Partial<ColumnGuess> = {}): ColumnGuess => ({
  column: 1,
  counted: '5 filled, 5 different',
  sure: 100,
  samples: ['18/04/98', '02/05/07'],
  asks_order: false,
  repeats: false,
  own: { name: 'Hungs', one: 'hung' },
  written: true,
  says: [],
  ...over,
})
const plan: Plan = {
  heading: { first: 2, rows: 1 },
  into: { new: { name: 'Yard', one: 'yard' } },
  columns: [column()],
  without: [8],
}

describe('what is said of how a sheet was read', () => {
  const beside = [
    { row: 8, line: 9, text: 'Total · 6', what: 'a total' },
    { row: 10, line: 11, text: 'Source: yard book', what: 'a note' },
  ]

  it('names each row that is left out, and takes it in again', async () => {
    const notes = put(ReadingNotes, { props: { says: ['The names stand in rows 3 and 4 and were joined.'], beside, without: [8] } })
    expect(notes.findAll('li').map((li) => li.text().replace(/\s+/g, ' '))).toEqual([
      'The names stand in rows 3 and 4 and were joined.',
      'Row 9, Total · 6, looks like a total and is left out. Take row 9 in',
      'Row 11, Source: yard book, looks like a note and is taken in. Leave row 11 out',
    ])
    await notes.get('[data-row="9"]').trigger('click')
    await notes.get('[data-row="11"]').trigger('click')
    expect(notes.emitted('take')).toEqual([
      [8, true],
      [10, false],
    ])
  })

  it('is not there where there is nothing to say', () => {
    expect(
      put(ReadingNotes, { props: { says: [], beside: [], without: [] } })
        .find('ul')
        .exists(),
    ).toBe(false)
  })
})

describe('a column', () => {
  const line = (over: Partial<ColumnPlan>, told: Partial<ColumnGuess>) =>
    put(ColumnLine, { props: { column: column(over), guess: guess(told), plan, tables: [], builds: true } })

  it('asks from when years of two digits count, where it has such', async () => {
    const shown = line({ dates: 'day' }, {})
    await shown.get('[data-test=years]').setValue('1970')
    expect(shown.emitted('put')).toEqual([[{ years_from: 1970 }]])
    expect(
      line({}, { samples: ['18/04/1998'] })
        .find('[data-test=years]')
        .exists(),
    ).toBe(false)
  })

  it('must be told the order of day and month where both could be', async () => {
    const shown = line({}, { asks_order: true })
    expect(shown.get('[data-test=dates]').classes()).toContain('ask')
    expect(shown.get('[data-test=dates]').text()).toContain('could be either: say which')
    await choose(shown, '[data-test=dates]', 'with the year first')
    expect(shown.emitted('put')).toEqual([[{ dates: 'year' }]])
  })

  it('asks nothing of how dates are written where the file itself says what they are', () => {
    expect(line({}, { written: false }).find('[data-test=dates]').exists()).toBe(false)
  })

  it('says what core says of it, left out or not', () => {
    expect(line({}, { says: ['Its years are written with two digits.'] }).text()).toContain('Its years are written with two digits.')
    expect(line({ becomes: 'nothing' }, { says: ['It looks like notes beside the table.'] }).text()).toContain('notes beside the table')
  })

  it('takes cells apart at the end of a line', async () => {
    const shown = line({ becomes: { field: { kind: { type: 'choices', options: [] } } } }, {})
    await choose(shown, '[data-test=separator]', 'the line’s end')
    expect(shown.emitted('put')![0]).toEqual([expect.objectContaining({ separator: '\n' })])
  })
})

describe('the page', () => {
  const reply: GuessReply = {
    file: 'yard.xlsx',
    sheet: 2,
    sheets: [
      { at: 2, name: 'Jobs', hidden: false },
      { at: 1, name: 'Lists', hidden: true },
    ],
    rows: [
      { line: 1, cells: ['Yard book'] },
      { line: 2, cells: [] },
      { line: 3, cells: ['Gate', 'Hung'] },
    ],
    guess: { plan, columns: [guess()], rows: 5, beside: [{ row: 8, line: 9, text: 'Total', what: 'a total' }], says: [] },
  }
  const rehearsal: ImportRehearsal = {
    title: '5 records are added',
    says: ['1 cell is refused and left empty:', 'Row 7, Hung: “soon”. “soon” is not a date.'],
    added: 5,
    updated: 0,
    same: 0,
    left_out: 0,
    rejected: [{ row: 7, column: 'Hung', value: 'soon', why: '“soon” is not a date.' }],
    rejected_count: 1,
    made: [],
    examples: [['18 Apr 1998']],
  }
  const GUESS = 'POST /api/trackers/1/imports/guess'
  const IMPORT = 'POST /api/trackers/1/imports'

  async function page(answers: Record<string, unknown> = {}): Promise<{ shown: ReturnType<typeof put>; asked: Asked[] }> {
    const asked = answering({ [GUESS]: reply, [IMPORT]: { rehearsal }, ...answers })
    const home = table([field({ type: 'text', limit: 80 })])
    const shown = put(ImportPage, {}, opened({ tables: [home] } as never))
    await shown.vm.$router.push({ name: 'view', params: { tracker: 1 } })
    shown.getComponent(FileDrop).vm.$emit('taken', { token: 't', name: 'yard.xlsx', sheets: [] })
    await settled()
    return { shown, asked }
  }

  it('lets one choose another file, with nothing left of the first', async () => {
    const { shown } = await page()
    await shown.get('[data-test=another-file]').trigger('click')
    expect(shown.findComponent(FileDrop).exists()).toBe(true)
    expect([shown.find('[data-test=rehearsal]').exists(), shown.get('h1').text()]).toEqual([false, 'Add records from a file'])
    shown.getComponent(FileDrop).vm.$emit('taken', { token: 'u', name: 'other.xlsx', sheets: [] })
    await settled()
    expect(shown.find('[data-test=rehearsal]').exists()).toBe(true)
  })

  it('offers hidden sheets last and says that they are', async () => {
    const { shown, asked } = await page()
    expect(offered(shown, '[data-test=sheet]')).toEqual(['Jobs', 'Lists (hidden in the file)'])
    await choose(shown, '[data-test=sheet]', 'Lists (hidden in the file)')
    await settled()
    expect(asked.filter((a) => a.path.endsWith('/guess')).at(-1)!.body).toMatchObject({ sheet: 1, heading: null })
  })

  it('reads anew with other rows of names, in the file’s own lines', async () => {
    const { shown, asked } = await page()
    expect(offered(shown, '[data-test=heading]')).toEqual(['1: Yard book', '2: empty', '3: Gate, Hung'])
    await choose(shown, '[data-test=heading-rows]', 'the names in two rows from')
    await settled()
    const guesses = () => asked.filter((a) => a.path.endsWith('/guess'))
    expect(guesses().at(-1)!.body).toMatchObject({ heading: { first: 2, rows: 2 } })
    await choose(shown, '[data-test=heading]', '1: Yard book')
    await settled()
    expect(guesses().at(-1)!.body).toMatchObject({ heading: { first: 0 } })
  })

  it('rehearses with a row that is taken in, and tells each refused cell', async () => {
    const { shown, asked } = await page()
    expect(shown.text()).toContain('1 cell is refused and left empty')
    expect(shown.text()).toContain('Row 7, Hung: “soon”. “soon” is not a date.')
    await shown.get('[data-row="9"]').trigger('click')
    await settled()
    expect(asked.at(-1)!.body).toMatchObject({ plan: { without: [] }, rehearse: true })
    await shown.get('[data-row="9"]').trigger('click')
    await settled()
    expect(asked.at(-1)!.body).toMatchObject({ plan: { without: [8] } })
  })

  it('says at its column what is wrong with the plan', async () => {
    const message = 'In “Hung” dates can be read in more than one order: say which part comes first.'
    const { shown } = await page({ [IMPORT]: refusing(422, message, [{ pointer: '/columns/0/dates', message }]) })
    expect(shown.get('[data-column=Hung] [role=alert]').text()).toBe(message)
    expect(shown.text()).toContain('Not ready yet')
  })
})
