// One import on its way: the file as it was read, the plan, and what the rehearsal says of it.
import { computed, ref, shallowRef } from 'vue'
import { api, download, send, told } from '@/api/client'
import type { ColumnGuess, ColumnPlan, GuessReply, ImportRehearsal, Plan, SheetOffer } from '@/api/types'
import { useDoing } from '@/app/asking'

export interface Upload {
  token: string
  name: string
  sheets: SheetOffer[]
}

/** Sends a file that is to be imported; the server says what is wrong with it, if anything is. */
export async function upload(file: File, far: (share: number) => void, stop: AbortSignal): Promise<Upload> {
  const body = new FormData()
  body.append('file', file)
  return send<Upload>('/api/uploads', body, undefined, far, stop)
}

export function useImport(tracker: () => number) {
  const token = ref('')
  const read = shallowRef<GuessReply>()
  const plan = ref<Plan>()
  const heard = shallowRef<ImportRehearsal>()
  const { trouble, problem, busy, attempt, newest, overtake } = useDoing()
  const faults = computed(() => problem.value?.faults ?? [])

  const guesses = computed(() => new Map<number, ColumnGuess>((read.value?.guess.columns ?? []).map((g) => [g.column, g])))

  /** Reads a sheet anew: another sheet, other rows of names, or another table to go into. */
  async function look(what: { sheet?: number; heading?: Plan['heading']; into?: Plan['into'] }) {
    const body = {
      token: token.value,
      sheet: what.sheet ?? read.value?.sheet ?? null,
      heading: what.heading ?? null,
      into: what.into ?? null,
    }
    const answer = await attempt(() =>
      told(api.POST('/api/trackers/{tracker}/imports/guess', { params: { path: { tracker: tracker() } }, body })),
    )
    if (!answer) return
    read.value = answer
    plan.value = answer.guess.plan
    await rehearse()
  }

  /** The file is none of it: another is chosen. */
  function forget() {
    overtake()
    token.value = ''
    read.value = undefined
    plan.value = undefined
    heard.value = undefined
    trouble.value = ''
  }

  const body = (rehearse: boolean) => ({ token: token.value, sheet: read.value?.sheet ?? 0, plan: plan.value!, rehearse })
  const path = () => ({ params: { path: { tracker: tracker() } } })

  async function rehearse() {
    const answer = await newest(() => told(api.POST('/api/trackers/{tracker}/imports', { ...path(), body: body(true) })))
    if (answer || trouble.value) heard.value = answer?.rehearsal ?? undefined
  }

  async function carryOut() {
    return attempt(async () => (await told(api.POST('/api/trackers/{tracker}/imports', { ...path(), body: body(false) }))).done)
  }

  function put(column: number, change: Partial<ColumnPlan>) {
    if (!plan.value) return
    plan.value = { ...plan.value, columns: plan.value.columns.map((c) => (c.column === column ? { ...c, ...change } : c)) }
    void rehearse()
  }

  /** Takes a row that looks like no record in, or leaves it out again. */
  function take(row: number, taken: boolean) {
    if (!plan.value) return
    const without = plan.value.without?.filter((one) => one !== row) ?? []
    plan.value = { ...plan.value, without: taken ? without : [...without, row] }
    void rehearse()
  }

  /** The list of refused cells as a file. */
  async function refused() {
    await download(`/api/trackers/${tracker()}/imports/refused`, body(true), 'refused.csv')
  }

  return { forget, token, read, plan, heard, faults, busy, trouble, guesses, look, rehearse, carryOut, put, take, refused }
}
