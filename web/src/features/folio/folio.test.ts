import { afterEach, describe, expect, it } from 'vitest'
import type { Kind, TrailEntry, Waiting } from '@/api/types'
import { choose, field, opened, put, table } from '@/testing'
import FolioTrail from './FolioTrail.vue'
import WaitingNames from './WaitingNames.vue'

afterEach(() => (document.body.innerHTML = ''))

const entry = (over: object) =>
  ({ seq: 1, at_text: '18 Nov', who: 'Bex', what: 'changed', edits: [], undoes: null, form: null, ...over }) as unknown as TrailEntry
const trail = (...entries: TrailEntry[]) =>
  put(FolioTrail, { props: { at: { tracker: 1, table: 3, record: 7 }, trail: entries, runs: [], awaits: [] } })
    .get('[data-test=trail]')
    .text()

describe('the trail', () => {
  it.each([
    [{ what: 'added' }, 'Bex added it'],
    [{ what: 'removed' }, 'Bex put it into the bin'],
    [{ what: 'restored' }, 'Bex brought it back'],
    [{ what: 'pressed', pressed: 'Send' }, 'Bex pressed “Send”'],
    [{ undoes: 7 }, 'Bex took a step back'],
    [{ what: 'added', form: 120, who: 'Report a fault' }, 'Came by Report a fault'],
  ])('says of %j “%s”', (over, words) => expect(trail(entry(over))).toContain(words))

  it('shows before and after, and calls what is empty empty', () => {
    const edits = [
      { field: 1, name: 'Status', before: '', after: 'reported' },
      { field: 2, name: 'Due', before: '18 Nov', after: '' },
    ]
    const told = trail(entry({ edits }))
    expect(told).toContain('Status: empty → reported')
    expect(told).toContain('Due: 18 Nov → empty')
  })

  it('does not repeat all that a record was added with', () => {
    expect(trail(entry({ what: 'added', edits: [{ field: 1, name: 'Status', before: '', after: 'reported' }] }))).not.toContain('Status')
  })

  it('says why nothing was sent, and to whom it was', () => {
    const run = (mails: object[]) => ({
      at_text: '18 Nov',
      automation: 'Tell the warden',
      mails,
      log: [{ text: 'Severity is grave: no', outcome: 'stopped' }],
    })
    const shown = put(FolioTrail, {
      props: {
        at: { tracker: 1, table: 3, record: 7 },
        trail: [],
        awaits: ['It waits until section is filled in.'],
        runs: [run([]), run([{ by_text: 'Mail', to: 'a@b.example', state: 'failed', note: 'No such box.' }])] as never,
      },
    })
    expect(shown.get('[data-test=awaits]').text()).toBe('It waits until section is filled in.')
    const [nothing, sent] = shown.findAll('.event').map((one) => one.text())
    expect(nothing).toContain('Why was nothing sent?')
    expect(sent).toContain('Mail to a@b.example, failed. No such box.')
  })
})

describe('a name that waits', () => {
  const warden = field({ type: 'person' } as Kind, { id: 9, name: 'Warden' })
  const waiting = (candidates: object[]) => [{ field: 9, text: 'T. Eldersward', candidates }] as unknown as Waiting[]
  const names = (candidates: object[], change = true, tracker = opened()) =>
    put(WaitingNames, { props: { waiting: waiting(candidates), table: table([warden]), change } }, tracker)
  const tamsin = { person: 2, name: 'Tamsin', mail: 'tamsin@b.example' }

  it.each([
    [[], 'fits nobody of the team'],
    [[tamsin], 'could be somebody of the team'],
    [[tamsin, { ...tamsin, person: 3 }], 'could be several people'],
  ])('with candidates %j says that it %s', (candidates, words) => {
    expect(names(candidates).text()).toContain(words)
  })

  it('is settled by one press, by somebody else, or by nobody', async () => {
    const shown = names([tamsin], true, opened({ people: [{ id: 5, name: 'Idris' }] } as never))
    await shown.findAll('button')[0]!.trigger('click')
    await choose(shown, '[aria-label="Somebody else"]', 'Idris')
    await shown.findAll('button')[1]!.trigger('click')
    expect(shown.emitted('settle')).toEqual([
      [9, 2],
      [9, 5],
      [9, undefined],
    ])
  })

  it('is only told to those who may not change it', () => {
    const shown = names([tamsin], false)
    expect(shown.find('button').exists()).toBe(false)
    expect(shown.text()).toContain('T. Eldersward')
  })
})
