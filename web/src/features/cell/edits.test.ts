import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, refusing } from '@/testing'
import { useSession } from '@/features/session/session'
import { useEdits } from './edits'

const at = { tracker: 1, table: 3, record: 5 }
const RECORD = '/api/trackers/1/tables/3/records/5'
const UNDO = '/api/trackers/1/undo'
const edits = useEdits()

beforeEach(() => {
  edits.done.value = []
  edits.undone.value = []
  edits.last.value = undefined
})
afterEach(() => vi.unstubAllGlobals())

describe('steps that can be taken back', () => {
  it('are told in the server’s words, taken back, and done again', async () => {
    const asked = answering({ [`PATCH ${RECORD}`]: { seq: 7, did: 'changed Severity' }, [`POST ${UNDO}`]: { seq: 8 } })
    await edits.edit(at, 46, { text: 'blocked' }, 'empty')
    expect(edits.last.value).toEqual({ words: 'You changed Severity.', undo: true })
    await edits.undo()
    expect(edits.last.value).toEqual({ words: 'Undone: you changed Severity.', undo: false })
    await edits.redo()
    expect(edits.last.value).toEqual({ words: 'Done again: you changed Severity.', undo: true })
    // What is done again is the taking back taken back.
    expect(asked.filter((one) => one.path === UNDO).map((one) => one.body)).toEqual([{ seq: 7 }, { seq: 8 }])
  })

  it('are none where nothing had to change', async () => {
    answering({ [`PATCH ${RECORD}`]: { seq: null } })
    await edits.edit(at, 46, { text: 'blocked' }, undefined)
    expect([edits.done.value, edits.last.value]).toEqual([[], undefined])
  })

  it('leave what was undone behind once something else is done', async () => {
    answering({ [`PATCH ${RECORD}`]: { seq: 7, did: 'changed Severity' }, [`POST ${UNDO}`]: { seq: 8 } })
    await edits.edit(at, 46, { text: 'blocked' }, undefined)
    await edits.undo()
    await edits.edit(at, 46, { text: 'passable' }, undefined)
    expect(edits.undone.value).toEqual([])
  })

  it('say why they can’t be taken back', async () => {
    answering({ [`PATCH ${RECORD}`]: { seq: 7, did: 'changed Severity' }, [`POST ${UNDO}`]: refusing(409, 'Somebody changed it since.') })
    await edits.edit(at, 46, { text: 'blocked' }, undefined)
    await expect(edits.undo()).rejects.toThrow('Somebody changed it since.')
    expect(edits.last.value).toBeUndefined()
  })

  it('send what stood there, so that a clash is seen, and a key, so that a record is added once', async () => {
    const asked = answering({ [`PATCH ${RECORD}`]: { seq: 7 }, 'POST /api/trackers/1/tables/3/records': { seq: 8, added: [9] } })
    await edits.edit(at, 46, { text: 'x' }, { text: 'before' })
    expect(asked[0]!.body).toEqual({ edits: [{ field: 46, input: { text: 'x' }, was: { text: 'before' } }] })
    expect(await edits.add({ tracker: 1, table: 3 }, {}, true)).toBe(9)
    expect(asked[1]!.body).toEqual({ records: [{}], begun: true })
  })

  it('stand when the page is loaded anew, and are nobody else’s', async () => {
    const person = (id: number) => ({ person: { id, name: 'N' }, customs: null })
    answering({ [`PATCH ${RECORD}`]: { seq: 7, did: 'changed Severity' }, 'GET /api/session': person(1) })
    const { again } = useSession()
    await again()
    await edits.edit(at, 46, { text: 'blocked' }, undefined)
    expect(JSON.parse(sessionStorage.getItem('westerfall done')!)).toMatchObject([{ who: 1, tracker: 1, seq: 7 }])
    await again()
    expect(edits.done.value).toHaveLength(1)
    answering({ 'GET /api/session': person(2) })
    await again()
    expect([edits.done.value, edits.last.value]).toEqual([[], undefined])
  })
})
