// Where the plates of the groundplan stand, in CSS pixels. Columns and places are the server's.
import type { Groundplan } from '@/api/types'

/** As high as a plate is at most. */
const PLATE_HEIGHT = 82
/** A column is a plate and the gap behind it. */
const COLUMN = { least: 166, most: 262 }
const GAP = { least: 52, most: 86 }
const ROW = 116
const SIDE = 172
/** Between lines that go round beneath plates: as high as a name. */
const LANE = 17

/** Names that were written as a list: parted by commas, semicolons or lines, each once. */
export const namesIn = (text: string) => [
  ...new Set(
    text
      .split(/[,;\n]/)
      .map((one) => one.trim())
      .filter(Boolean),
  ),
]

export interface Spot {
  x: number
  y: number
}

export interface Picture {
  width: number
  height: number
  /** Of a plate. */
  plate: number
  /** Between plates, where the names of links stand. */
  gap: number
  tables: Map<number, Spot>
  forms: Map<number, Spot>
  automations: Map<number, Spot>
  pages: Map<number, Spot>
  lines: { key: string; path: string; name?: string; at?: Spot }[]
}

/** The picture, as wide as there is room where that can be. */
export function pictureOf(plan: Groundplan, room: number): Picture {
  const columns = Math.max(0, ...plan.tables.map((t) => t.column)) + 1
  // What goes out stands at the right: what automations write, and what pages show.
  const outlets = plan.automations.length + plan.pages.length
  const rows = Math.max(plan.forms.length, outlets, ...plan.tables.map((t) => t.place + 1), 1)
  const left = plan.forms.length ? SIDE + 40 : 0
  const sides = left + (outlets ? SIDE + 10 : 0)
  const column = Math.max(COLUMN.least, Math.min(COLUMN.most, (room - sides) / columns))
  const plate = column - (column < 230 ? GAP.least : GAP.most)
  const inner = columns * column
  const tables = new Map(
    plan.tables.map((t) => {
      const inColumn = plan.tables.filter((o) => o.column === t.column).length
      // Shorter columns stand in the middle of the others.
      return [t.id, { x: left + t.column * column, y: (t.place + (rows - inColumn) / 2) * ROW + 34 }]
    }),
  )
  const side = (n: number, of: number, x: number): Spot => ({ x, y: (n + (rows - of) / 2) * ROW + 44 })
  const right = left + inner
  const forms = new Map(plan.forms.map((f, n) => [f.form, side(n, plan.forms.length, 0)]))
  const automations = new Map(plan.automations.map((a, n) => [a.automation, side(n, outlets, right)]))
  const pages = new Map(plan.pages.map((p, n) => [p.page, side(plan.automations.length + n, outlets, right)]))
  const middle = 33
  const gap = column - plate
  const curve = (a: Spot, b: Spot) => `M${a.x} ${a.y} C${(a.x + b.x) / 2} ${a.y} ${(a.x + b.x) / 2} ${b.y} ${b.x} ${b.y}`
  const height = rows * ROW + 70
  const lines: Picture['lines'] = []
  const pairs = new Map<string, number>()
  const lanes = new Set<number>()
  for (const link of plan.links) {
    const [a, b] = [tables.get(link.from)!, tables.get(link.to)!]
    if (link.from === link.to) continue
    const pair = `${link.from}-${link.to}`
    const nth = pairs.get(pair) ?? 0
    pairs.set(pair, nth + 1)
    const forward = b.x > a.x
    const start = { x: forward ? a.x + plate : a.x, y: a.y + middle + nth * 14 }
    const end = { x: forward ? b.x : b.x + plate, y: b.y + middle + nth * 14 }
    // What stands between them is gone round, beneath its lowest.
    const [near, far] = [Math.min(start.x, end.x), Math.max(start.x, end.x)]
    const [high, low] = [Math.min(start.y, end.y), Math.max(start.y, end.y)]
    const columnsBetween = [...tables.values()].filter((t) => t.x >= near && t.x + plate <= far)
    const stands = columnsBetween.some((t) => t.y - 8 < low && t.y + PLATE_HEIGHT + 8 > high)
    // Each has a lane of its own, so that neither lines nor names lie upon each other.
    let lane = stands ? Math.max(...columnsBetween.map((t) => t.y + PLATE_HEIGHT)) + 12 : undefined
    while (lane !== undefined && lanes.has(lane)) lane += LANE
    if (lane !== undefined) lanes.add(lane)
    lines.push({
      key: `${pair}-${nth}`,
      path: lane === undefined ? curve(start, end) : round(start, end, lane, gap),
      name: link.name,
      at: { x: (start.x + end.x) / 2, y: lane ?? (start.y + end.y) / 2 },
    })
  }
  for (const form of plan.forms) {
    const [a, b] = [forms.get(form.form)!, tables.get(form.table)]
    if (b) lines.push({ key: `f${form.form}`, path: over({ x: SIDE, y: a.y + 20 }, b, gap) })
  }
  for (const automation of plan.automations) {
    const [a, b] = [automations.get(automation.automation)!, tables.get(automation.table)]
    if (b) lines.push({ key: `a${automation.automation}`, path: under(b, { x: a.x, y: a.y + 20 }, plate, gap, height - 30) })
  }
  for (const page of plan.pages) {
    const a = pages.get(page.page)!
    for (const table of page.tables) {
      const b = tables.get(table)
      if (b) lines.push({ key: `p${page.page}-${table}`, path: under(b, { x: a.x, y: a.y + 20 }, plate, gap, height - 30) })
    }
  }
  return { width: right + (outlets ? SIDE + 10 : 0), height, plate, gap, tables, forms, automations, pages, lines }
}

/** Between two plates with others between them: into the gap, along a lane, and back. */
function round(from: Spot, to: Spot, lane: number, gap: number): string {
  const by = to.x > from.x ? gap : -gap
  return `M${from.x} ${from.y} C${from.x + by / 2} ${from.y} ${from.x + by / 2} ${lane} ${from.x + by} ${lane} H${to.x - by} C${to.x - by / 2} ${lane} ${to.x - by / 2} ${to.y} ${to.x} ${to.y}`
}

/** From a form to a plate: straight to the first column; to one behind along the top, and down the gap before it. */
function over(from: Spot, to: Spot, gap: number): string {
  if (to.x - from.x < 120)
    return `M${from.x} ${from.y} C${(from.x + to.x) / 2} ${from.y} ${(from.x + to.x) / 2} ${to.y + 30} ${to.x} ${to.y + 30}`
  const x = to.x - gap / 2
  const lane = 18
  return `M${from.x} ${from.y} C${from.x + 40} ${from.y} ${from.x - 6} ${lane} ${from.x + 60} ${lane} H${x - 20} C${x} ${lane} ${x} ${lane + 10} ${x} ${lane + 20} V${to.y} C${x} ${to.y + 14} ${x} ${to.y + 14} ${to.x} ${to.y + 14}`
}

/** From a plate to an automation: out of its foot into the gap behind it and along the bottom, so that it is not taken for a link. */
function under(from: Spot, to: Spot, plate: number, gap: number, lane: number): string {
  const [start, x, y] = [from.x + plate - 14, from.x + plate + gap / 2, from.y + PLATE_HEIGHT + 6]
  return `M${start} ${from.y + 62} V${y - 6} C${start} ${y} ${x} ${y - 4} ${x} ${y + 10} V${lane - 20} C${x} ${lane} ${x + 10} ${lane} ${x + 20} ${lane} H${to.x - 60} C${to.x + 6} ${lane} ${to.x - 40} ${to.y} ${to.x} ${to.y}`
}
