import { beforeEach, expect, it, vi } from 'vitest'
import type { AutomationRuns } from '@/api/types'
import { answering, choose, put, settled } from '@/testing'
import RunsLog from './RunsLog.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const run = (name: string, state: string) => ({
  at_text: '1 Dec 2026, 06:08',
  automation: 'Tell',
  record: 7,
  table: 3,
  record_name: name,
  log: [],
  mails: [],
  days_ago: 0,
  state,
})
const all = {
  says: '2 ran in 30 days: 2 ended.',
  runs: [run('Beech limb', 'ended'), run('Stile broken', 'failed')],
} as unknown as AutomationRuns
const RUNS = 'GET /api/trackers/1/automations/121/runs'

async function log(answer: (query: URLSearchParams) => unknown, only?: 'failed') {
  const seen: Record<string, string>[] = []
  answering({
    [RUNS]: (query: URLSearchParams) => {
      seen.push(Object.fromEntries(query))
      return answer(query)
    },
  })
  const shown = put(RunsLog, { props: { tracker: 1, automation: 121, told: all, only } } as never)
  await settled()
  return { shown, seen, names: () => shown.findAll('[data-test=run] a').map((one) => one.text()) }
}

it('is looked through by words and by how far its runs have come, among all there are', async () => {
  const { shown, seen, names } = await log(() => ({ says: all.says, runs: [run('Stile broken', 'failed')] }))
  expect([names(), seen]).toEqual([['Beech limb', 'Stile broken'], []])
  await shown.get('[data-test=find-run]').setValue('stile')
  await new Promise((then) => setTimeout(then, 260))
  await settled()
  expect([names(), seen]).toEqual([['Stile broken'], [{ find: 'stile' }]])
  await choose(shown, '[data-test=run-state]', 'those that failed')
  await settled()
  expect(seen.at(-1)).toEqual({ find: 'stile', state: 'failed' })
  // What it says of the last days stays what it is of all of them.
  expect(shown.text()).toContain('2 ran in 30 days: 2 ended.')
})

it('begins with those that failed where one comes for them, and says where none fits', async () => {
  const { shown, seen, names } = await log(() => ({ says: all.says, runs: [] }), 'failed')
  expect(seen).toEqual([{ find: '', state: 'failed' }])
  expect([names(), shown.get('[data-test=no-run]').text()]).toEqual([[], 'None of its runs fits that.'])
})
