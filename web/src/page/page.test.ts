// A shared page as its visitors use it: the cell that is filled in, the record, the door, and what holds them together.
import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'
import type { PageColumn, PageFront } from '@/api/types'
import { hueOf, inputsThatChanged } from './cells'
import PageCell from './PageCell.vue'
import PageRecords from './PageRecords.vue'
import PageSheet from './PageSheet.vue'
import PageShell from './PageShell.vue'
import { HELPS, NOTE, OPTIONS, PART, pageServer, question, ROW, section } from './testing'

const { server, put, asking } = pageServer()
const FRONT = {
  title: 'Path faults',
  team: 'Orrindale Paths Trust',
  greeting: [
    { text: 'From the Trust. You may ', tone: 'plain' },
    { text: 'look at', tone: 'strong' },
    { text: ' 1 fault.', tone: 'plain' },
  ],
  parts: [{ text: { heading: 'Hello', text: 'Good to see you.' } }, { records: PART }],
  contact: { name: 'Nadia', mail: 'nadia@paths.example' },
} as unknown as PageFront

it('keeps what was typed when one leaves the box, and nothing where nothing is another', async () => {
  const cell = put(PageCell, { column: NOTE, cell: ROW.cells[1], label: 'Note of Gate' })
  const box = cell.get('input')
  await box.trigger('focus')
  await box.trigger('blur')
  expect(cell.emitted('keep')).toBeUndefined()
  await box.trigger('focus')
  await box.setValue('two of us are free ')
  await box.trigger('keydown', { key: 'Enter' })
  expect(cell.emitted('keep')).toEqual([[{ text: 'two of us are free' }]])
})

it('puts back what stood there by Escape, and keeps what is typed while others write', async () => {
  const cell = put(PageCell, { column: NOTE, cell: ROW.cells[1], label: 'Note of Gate' })
  const box = cell.get('input')
  await box.trigger('focus')
  await box.setValue('half a wo')
  await cell.setProps({ cell: { text: 'by somebody else', typed: 'by somebody else' } })
  expect(box.element.value).toBe('half a wo')
  await box.trigger('keydown', { key: 'Escape' })
  expect(box.element.value).toBe('by somebody else')
})

it('chooses among the options, and says what is wrong at the box', async () => {
  const cell = put(PageCell, { column: HELPS, cell: ROW.cells[2], label: 'Helps of Gate', fault: 'Not now.' })
  expect(cell.get('select').element.value).toBe('7')
  await cell.get('select').setValue('8')
  await cell.get('select').setValue('')
  expect(cell.emitted('keep')).toEqual([[{ value: { choice: 8 } }], [{ value: 'empty' }]])
  expect(cell.get('[role=alert]').text()).toBe('Not now.')
  expect(cell.get('select').attributes('aria-invalid')).toBe('true')
})

it('tells the colour of a choice, and sends of a record only what is another', () => {
  expect(hueOf(ROW.cells[2], OPTIONS as never)).toBe('fern')
  expect(hueOf(ROW.cells[0], undefined)).toBeUndefined()
  const questions = [NOTE, HELPS].map((column, n) => ({
    ...column.question!,
    given: { value: ROW.cells[n + 1]!.value!, text: ROW.cells[n + 1]!.typed ?? '' },
  }))
  const given = { 2: { text: 'a spare' }, 3: { value: { choice: 8 } } }
  expect(inputsThatChanged(questions, given, ROW, PART)).toEqual([{ field: 3, input: { value: { choice: 8 } }, was: { choice: 7 } }])
  expect(inputsThatChanged(questions, {}, ROW, PART).map((edit) => edit.input)).toEqual([{ value: 'empty' }, { value: 'empty' }])
})

it('shows the records in a sentence, narrows them and keeps what is filled in', async () => {
  const records = put(PageRecords, { part: PART, looks: 0 })
  await flushPromises()
  expect(records.get('.sentence').text()).toContain('1 fault,')
  await records.get('[aria-label="Which Helps"]').setValue('7')
  await flushPromises()
  expect(asking('POST /parts/1/rows').at(-1)?.body).toMatchObject({ condition: { all: [{ test: { path: [3] } }] } })
  server.answers['POST /parts/1/records/5'] = { kept: '09:31' }
  await records.get('td.white select').setValue('8')
  await flushPromises()
  expect(asking('POST /parts/1/records/5')[0]?.body).toEqual({ edits: [{ field: 3, input: { value: { choice: 8 } }, was: { choice: 7 } }] })
  expect(records.text()).toContain('kept 09:31')
})

it('says at its cell why something was not kept', async () => {
  const records = put(PageRecords, { part: PART, looks: 0 })
  await flushPromises()
  server.answers['POST /parts/1/records/5'] = {
    status: 422,
    detail: 'Wrong.',
    faults: [{ pointer: '/edits/0', message: 'Too long.', kind: 'too_long' }],
  }
  await records.get('td.white select').setValue('8')
  await flushPromises()
  expect(records.get('td .fault-text').text()).toBe('Too long.')
})

it('opens a record: facts, what can be filled in, and nothing of its past', async () => {
  const sheet = put(PageSheet, { part: PART, row: ROW })
  expect(sheet.get('h2').text()).toBe('Gate will not open')
  expect(sheet.findAll('dt'), 'what it is called stands over it').toHaveLength(0)
  server.answers['POST /parts/1/records/5'] = { kept: '09:40' }
  await sheet.get('input[type=text]').setValue('in the hall')
  await sheet.get('form').trigger('submit')
  await flushPromises()
  expect(asking('POST /parts/1/records/5')[0]?.body).toEqual({
    edits: [{ field: 2, input: { text: 'in the hall' }, was: { text: 'a spare' } }],
  })
  expect(sheet.emitted('done')).toEqual([['Kept 09:40.']])
})

it('says at each box of a record what is wrong with what was sent, by its place among what was sent', async () => {
  const sheet = put(PageSheet, { part: PART, row: ROW })
  await sheet.get('input[type=radio][value="8"]').setValue(true)
  const faults = [{ pointer: '/edits/0', message: 'That is not among the options.', kind: 'not_among' }]
  server.answers['POST /parts/1/records/5'] = { status: 422, detail: 'Wrong.', faults }
  await sheet.get('form').trigger('submit')
  await flushPromises()
  expect(asking('POST /parts/1/records/5')[0]?.body).toMatchObject({ edits: [{ field: 3 }] })
  expect(sheet.findAll('.question').filter((one) => one.text().includes('not among the options'))).toHaveLength(1)
  expect(sheet.text()).toContain('said at its box')
  server.answers['POST /parts/1/records/5'] = {
    status: 422,
    detail: 'Wrong.',
    faults: [...faults, { pointer: '', message: 'It was taken away.', kind: 'not_found' }],
  }
  await sheet.get('form').trigger('submit')
  await flushPromises()
  expect(sheet.text()).toContain('It was taken away.')
})

it('adds a record with what is filled in, once', async () => {
  const sheet = put(PageSheet, { part: { ...PART, adds: true } })
  expect(sheet.get('[data-test=keep-record]').text()).toBe('Add fault')
  server.answers['POST /parts/1/records'] = { kept: '09:41', added: 6 }
  await sheet.get('input[type=text]').setValue('new')
  await sheet.get('form').trigger('submit')
  await flushPromises()
  expect(asking('POST /parts/1/records')[0]?.body).toEqual({ 2: { text: 'new' } })
})

it('lays a record out as it was arranged, without the sections that it does not have', async () => {
  const sections = [section([3], { heading: 'Helping', two: true }), section([2], { heading: 'Notes', closed: true })]
  const part = { ...PART, sections }
  const sheet = put(PageSheet, { part, row: ROW })
  expect(sheet.findAll('summary').map((one) => one.text())).toEqual(['Helping', 'Notes'])
  expect(
    sheet.findAll('details').map((one) => one.element.open),
    'what one fills in is open',
  ).toEqual([true, true])
  expect(sheet.findAll('.question').map((one) => one.text().includes('Helps'))).toEqual([true, false])
  const looked = put(PageSheet, { part, row: { ...ROW, change: false } })
  expect(looked.findAll('details').map((one) => one.element.open)).toEqual([true, false])
  expect(looked.findAll('dt').map((one) => one.text())).toEqual(['Helps', 'Note'])
  const less = put(PageSheet, { part, row: { ...ROW, without: [0] } })
  expect(less.findAll('summary').map((one) => one.text())).toEqual(['Notes'])
  expect(put(PageSheet, { part: { ...part, adds: true } }).findAll('summary')).toHaveLength(2)
})

it('shows a file also where the record is called by it', () => {
  const file = { id: 'abc', name: 'gate.jpg', media: 'image/jpeg', size: 9 }
  const cells = [{ text: 'gate.jpg', value: { files: [file] } }, ...ROW.cells.slice(1)]
  const sheet = put(PageSheet, { part: PART, row: { ...ROW, cells } })
  expect([sheet.get('h2').text(), sheet.findAll('dd img').length]).toEqual(['gate.jpg', 1])
})

it('chooses a record by the names that the page offers, ticks things off, and sends files along', async () => {
  const column = (field: number, name: string, answer: object) =>
    ({ ...NOTE, field, name, text: false, question: question(field, name, answer) }) as PageColumn
  const columns = [
    column(4, 'Section', { type: 'link', many: false }),
    column(5, 'To bring', { type: 'list' }),
    column(6, 'Pictures', { type: 'files' }),
  ]
  const file = { id: 'abc', name: 'gate.jpg', media: 'image/jpeg', size: 9 }
  const cells = [
    { text: 'Esker Ridge', value: { links: [11] }, links: [{ id: 11, name: 'Esker Ridge', beside: '' }] },
    { text: 'spade', typed: 'spade', value: { checklist: [{ text: 'spade', done: false, person: 2 }] } },
    { text: 'gate.jpg', value: { files: [file] } },
  ]
  const sheet = put(PageSheet, { part: { ...PART, columns, sections: [section([4, 5, 6])] }, row: { ...ROW, cells } })
  expect(sheet.findAll('.taken').map((one) => one.text().replace(/×$/, '').trim())).toEqual(['Esker Ridge', 'spade', 'gate.jpg'])
  await sheet.get('[aria-label="Take out Esker Ridge"]').trigger('click')
  server.answers['POST /parts/1/names'] = [{ id: 12, name: 'Tarn Foot', beside: '' }]
  await sheet.get('input[role=combobox]').setValue('tarn')
  await flushPromises()
  expect(asking('POST /parts/1/names').at(-1)?.body).toEqual({ field: 4, search: 'tarn', record: 5 })
  await sheet.get('[role=option]').trigger('mousedown')
  await sheet.get('.list input[type=checkbox]').setValue(true)
  await sheet.get('[aria-label="One more of To bring"]').setValue('rope')
  await sheet.get('[aria-label="One more of To bring"]').trigger('keydown', { key: 'Enter' })
  await sheet.get('[aria-label="Take out gate.jpg"]').trigger('click')
  const chooser = sheet.get<HTMLInputElement>('input[type=file]')
  Object.defineProperty(chooser.element, 'files', { value: [new File(['x'], 'post.png')], configurable: true })
  await chooser.trigger('change')
  server.answers['POST /parts/1/records/5'] = { kept: '09:50' }
  await sheet.get('form').trigger('submit')
  await flushPromises()
  const sent = asking('POST /parts/1/records/5')[0]?.body as Record<string, unknown>
  expect((sent['file-6'] as File).name).toBe('post.png')
  expect(JSON.parse(sent.body as string)).toEqual({
    edits: [
      { field: 4, input: { value: { links: [12] } }, was: { links: [11] } },
      {
        field: 5,
        input: {
          value: {
            checklist: [
              { text: 'spade', done: true, person: 2 },
              { text: 'rope', done: false },
            ],
          },
        },
        was: cells[1]!.value,
      },
      { field: 6, input: { value: 'empty' }, was: { files: [file] } },
    ],
  })
})

it('takes a record away after a second press', async () => {
  const sheet = put(PageSheet, { part: PART, row: { ...ROW, remove: true } })
  server.answers['DELETE /parts/1/records/5'] = { kept: '09:42' }
  await sheet.get('.away').trigger('click')
  expect(asking('DELETE /parts/1/records/5')).toHaveLength(0)
  await sheet.get('[data-test=take-away]').trigger('click')
  await flushPromises()
  expect(sheet.emitted('done')).toHaveLength(1)
})

const opened = async (answer: unknown) => {
  server.answers['GET '] = answer
  history.replaceState(null, '', '/p/here')
  const shell = put(PageShell)
  await flushPromises()
  return shell
}

it('belongs to whoever shares it, and says from whom it is and what one may do', async () => {
  const shell = await opened({ open: FRONT })
  expect(shell.get('h1').text()).toBe('Path faults')
  expect(shell.get('[data-test=greeting]').text()).toBe('From the Trust. You may look at 1 fault.')
  expect(shell.findAll('[data-test=greeting] b').map((one) => one.text())).toEqual(['look at'])
  expect(shell.text()).toContain('Shared by Nadia.')
  expect(shell.text()).toContain('Good to see you.')
  expect(shell.text()).not.toContain('Westerfall')
})

it('asks for the code that was mailed, says what is wrong with it, and opens', async () => {
  const shell = await opened({ door: { team: 'Orrindale Paths Trust', asks: 'code' } })
  await shell.get('[data-test=page-mail]').setValue('clerk@parish.example')
  await shell.get('form').trigger('submit')
  await flushPromises()
  expect(asking('POST /code')[0]?.body).toEqual({ mail: 'clerk@parish.example' })
  server.answers['POST /enter'] = { status: 401, detail: 'This code does not fit.', faults: [] }
  await shell.get('[data-test=page-code]').setValue('1111')
  await shell.get('form').trigger('submit')
  await flushPromises()
  expect(shell.get('[role=alert]').text()).toBe('This code does not fit.')
  delete server.answers['POST /enter']
  server.answers['GET '] = { open: FRONT }
  await shell.get('form').trigger('submit')
  await flushPromises()
  expect(asking('POST /enter').at(-1)?.body).toEqual({ code: { mail: 'clerk@parish.example', code: '1111' } })
  expect(shell.get('h1').text()).toBe('Path faults')
})

it('asks for the passcode where that is what it has', async () => {
  const shell = await opened({ door: { team: 'Orrindale Paths Trust', asks: 'passcode' } })
  await shell.get('[data-test=passcode]').setValue('heron-ford')
  await shell.get('form').trigger('submit')
  await flushPromises()
  expect(asking('POST /enter')[0]?.body).toEqual({ passcode: 'heron-ford' })
})

it('says the same of a page that is closed and of one that never was', async () => {
  const shell = await opened({ status: 404, detail: 'There is no such page here.', faults: [] })
  expect(shell.get('[role=alert]').text()).toContain('There is no page at this address, or it is closed.')
})
