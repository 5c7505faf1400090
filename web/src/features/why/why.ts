// The why slip: one at a time, wherever it was asked for.
import { ref, shallowRef } from 'vue'
import { api, told } from '@/api/client'
import type { Because, Condition, LookMend, Why, WhyLook } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'

export interface CellAt {
  tracker: number
  table: number
  record: number
  field: number
  /** The highlights that are off where one looks. */
  without?: number[]
}

/** Where on the screen, in CSS pixels. */
export interface Spot {
  x: number
  y: number
}

const spot = ref<Spot>()
const why = shallowRef<Why>()
/** Why the cell that was asked looks as it does. */
const looks = shallowRef<WhyLook>()
const because = shallowRef<Because>()
const { trouble, attempt } = useDoing()
const edits = useEdits()
/** The cells asked on the way here, so that one can go back. */
const way = shallowRef<CellAt[]>([])

/** The record about which one asks who may do what, and whom one thinks of first. */
export interface AboutAccess {
  table: number
  record: number
  name: string
  person?: number
}
const access = shallowRef<AboutAccess>()

const read = (at: CellAt) => told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/why/{field}', { params: { path: at } }))

const readLooks = ({ without, ...at }: CellAt) =>
  told(
    api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/looks/{field}', {
      params: { path: at },
      body: { without: without ?? [] },
    }),
  )

/** Asks why a cell holds what it does, and looks as it does. */
export async function askWhy(at: CellAt, where: Spot) {
  spot.value = where
  access.value = undefined
  because.value = undefined
  why.value = looks.value = undefined
  way.value = [at]
  why.value = await attempt(() => read(at))
  if (why.value) looks.value = await readLooks(at).catch(() => undefined)
}

/** Does what would make the cell look otherwise. */
async function mend({ highlight, step }: LookMend) {
  const here = way.value[0]
  if (!here) return
  const path = { tracker: here.tracker, highlight }
  await attempt(async () => {
    if ('move' in step) {
      const asked = api.POST('/api/trackers/{tracker}/highlights/{highlight}/move', { params: { path }, body: { to: step.move } })
      edits.remember(here.tracker, await told(asked))
    } else {
      const asked = api.GET('/api/trackers/{tracker}/tables/{table}/highlights', { params: { path: here } })
      const whole = (await told(asked)).find((one) => one.highlight.id === highlight)?.highlight
      if (!whole) return
      const body = { highlight: { table: here.table, condition: step.narrow, touches: whole.touches } }
      const params = { path: { tracker: here.tracker, sort: 'highlight' as const, number: highlight } }
      edits.remember(here.tracker, await told(api.PUT('/api/trackers/{tracker}/parts/{sort}/{number}', { params, body })))
    }
    looks.value = await readLooks(here).catch(() => undefined)
  })
}

/** From a slip to the slip of a cell that it names; or back, with none. */
async function goOn(at: CellAt | undefined) {
  const next = at ? [...way.value, at] : way.value.slice(0, -1)
  const last = next[next.length - 1]
  if (!last) return
  const found = await attempt(() => read(last))
  if (!found) return
  why.value = found
  way.value = next
}

/** Asks who may do what with a record, and why. */
export function askAccess(about: AboutAccess, where: Spot) {
  spot.value = where
  why.value = undefined
  because.value = undefined
  way.value = []
  trouble.value = ''
  access.value = about
}

/** Asks why a condition holds for a record, or why not. */
export async function askBecause(at: Omit<CellAt, 'field'>, condition: Condition, where: Spot) {
  spot.value = where
  access.value = undefined
  why.value = undefined
  because.value = undefined
  way.value = []
  const body = { condition }
  because.value = await attempt(() =>
    told(api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/because', { params: { path: at }, body })),
  )
}

function close() {
  spot.value = undefined
  access.value = undefined
}

export function useWhy() {
  return { spot, why, looks, because, access, trouble, way, goOn, mend, close }
}
