// An automation while one says what it does: each change is kept whole, as a part of the tracker.
import { computed, ref, watch } from 'vue'
import { Problem } from '@/api/client'
import type { Automation, AutomationBody, Clause, Condition, Fault, Step, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { isIn } from '@/app/pointer'
import { without } from '@/features/condition/checks'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import { recipients } from './recipients'
import { begunStep, listAt, moved, stepAt, stepPlace, tableAt, withList, withoutStep, withStep, type StepKind } from './steps'

type Plan = Required<Pick<AutomationBody, 'when' | 'condition' | 'before' | 'steps'>>
/** What is asked of the record as it is, and as it was before. */
export type Asked = 'condition' | 'before'
const ASKED: readonly Asked[] = ['condition', 'before']
const nothing = (): Condition => ({ all: [] })

const copy = <T>(of: T) => JSON.parse(JSON.stringify(of)) as T

export function useAutomation(tracker: () => number, one: () => Automation, changed: () => void) {
  const { tracker: known } = useTracker()
  const parts = useParts(tracker)
  const doing = useDoing()
  const automation = computed(() => one().automation)
  const table = computed(() => known.value?.tables.find((t) => t.id === automation.value.table))

  /** What is being said: the draft beside what runs, or what rests itself. */
  const said = computed<Plan & { clauses: Clause[] }>(() => {
    const { draft, clauses, steps } = one()
    const { when, condition, before } = draft ?? automation.value
    const rest = draft ?? { steps, clauses }
    return { when, condition: condition ?? nothing(), before: before ?? nothing(), steps: rest.steps, clauses: rest.clauses }
  })
  const asks = ref<Record<Asked, Condition>>({ condition: nothing(), before: nothing() })
  watch(said, (now) => ASKED.forEach((which) => (asks.value[which] = copy(now[which]))), { immediate: true })

  const plan = computed<Plan>(() => {
    const { clauses: _, ...all } = said.value
    return all
  })
  /** As it is kept now, the draft aside. */
  const running = computed<AutomationBody>(() => {
    const { table: home, name, on, unsaid, when, condition, before } = automation.value
    return {
      table: home,
      name,
      on,
      unsaid: !!unsaid,
      when,
      condition: condition ?? nothing(),
      before: before ?? nothing(),
      steps: one().steps,
    }
  })
  /** As it would stand once what is said takes its place. */
  const body = computed<AutomationBody>(() => ({ ...running.value, ...plan.value }))

  async function attempt(does: () => Promise<unknown>): Promise<boolean> {
    const done = await doing.attempt(() => does().then(() => true))
    if (done) changed()
    return !!done
  }
  const save = (automated: AutomationBody) => attempt(() => parts.save('automation', automation.value.id, { automation: automated }))
  /** Keeps what it is to do: of one that runs, beside it, until that takes over. */
  const keep = (change: Partial<Plan>) =>
    automation.value.on
      ? save({ ...running.value, draft: { ...plan.value, ...change } })
      : save({ ...running.value, ...plan.value, ...change })
  /** Keeps what it is called, whether it runs, and whether what it would do is said beforehand. */
  const set = (change: { name?: string; on?: boolean; unsaid?: boolean }) =>
    save({ ...running.value, draft: one().draft ? plan.value : null, ...change })
  const takeOver = () => save({ ...body.value, on: true })
  const dropDraft = () => save(running.value)
  const remove = () => attempt(() => parts.drop('automation', automation.value.id))

  /** The step that is being said and not kept yet, and the list to whose end it goes. */
  const adding = ref<{ list: string; step: Step }>()
  const tableOf = (at: string): Table | undefined =>
    known.value && table.value ? tableAt(known.value, table.value, said.value, at) : undefined
  async function add(list: string, kind: StepKind) {
    const home = tableOf(list)
    if (!home) return
    const reader = known.value && recipients(known.value, home)[0]
    const step = begunStep(kind, home, reader?.path)
    if (kind === 'stop') return void (await keepStep(`${list}/${listAt(said.value, list).length}`, step))
    adding.value = { list, step }
  }
  async function keepStep(at: string, step: Step): Promise<boolean> {
    const list = at.replace(/\/\d+$/, '')
    const place = Number(at.slice(list.length + 1))
    const all = listAt(said.value, list)
    const steps = place < all.length ? withStep(said.value, at, step) : withList(said.value, list, [...all, step])
    return keep({ steps })
  }
  async function keepAdded(step: Step) {
    const at = adding.value
    if (!at) return
    at.step = step
    if (await keepStep(`${at.list}/${listAt(said.value, at.list).length}`, step)) adding.value = undefined
  }
  const out = (at: string) => keep({ steps: withoutStep(said.value, at) })
  const move = (at: string, by: -1 | 1) => keep({ steps: moved(said.value, at, by) })

  /** Takes out what a phrase says: a test of a condition, a field of several, or the step. */
  function drop(at: string) {
    const asked = ASKED.find((which) => isIn(at, `/${which}`))
    if (asked) return void keep({ [asked]: without(asks.value[asked], at.slice(asked.length + 1)) })
    const place = stepPlace(at)
    if (!place) return
    const inner = at.slice(place.length)
    const step = copy(stepAt(said.value, place))
    const alter = typeof step === 'object' ? ('set' in step ? step.set.alter : 'add' in step ? step.add.alter : undefined) : undefined
    const field = /\/alter\/(\d+)$/.exec(inner)
    if (step && alter && field && alter.length > 1) {
      alter.splice(Number(field[1]), 1)
      return void keepStep(place, step)
    }
    const line = /^\/add\/lines\/(\d+)$/.exec(inner)
    if (step && typeof step === 'object' && 'add' in step && line) {
      step.add.lines?.splice(Number(line[1]), 1)
      return void keepStep(place, step)
    }
    const called = /^\/call\/calls\/(sends|secret|takes\/(\d+))$/.exec(inner)
    if (step && typeof step === 'object' && 'call' in step && called) {
      const { calls } = step.call
      if (called[2]) calls.takes?.splice(Number(called[2]), 1)
      else if (called[1] === 'sends') calls.sends = []
      else calls.secret = ''
      return void keepStep(place, step)
    }
    const of = /^\/(if|each)\/condition/.exec(inner)
    if (step && typeof step === 'object' && of) {
      const holds = 'if' in step ? step.if : 'each' in step ? step.each : undefined
      if (holds) holds.condition = without(holds.condition ?? { all: [] }, inner.slice(of[0].length))
      return void keepStep(place, step)
    }
    void out(place)
  }

  /** What is wrong, at the places of what is being said: those of a draft are told as the draft's. */
  const problem = computed(() => {
    const found = doing.problem.value
    const here = (fault: Fault): Fault => ({ ...fault, pointer: fault.pointer?.replace(/^\/draft(?=\/)/, '') })
    return found && new Problem(found.message, found.status, found.faults.map(here))
  })

  return {
    ...doing,
    problem,
    automation,
    table,
    said,
    asks,
    body,
    keep,
    set,
    takeOver,
    dropDraft,
    remove,
    adding,
    add,
    keepAdded,
    keepStep,
    out,
    move,
    drop,
    tableOf,
  }
}
