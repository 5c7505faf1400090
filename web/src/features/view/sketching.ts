// What a sketch of each shape is drawn from: the table's own records, as each shape would show them.
import { shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Query, ShapeOffer, Table } from '@/api/types'
import { plusDays } from './calendar/dates'

export interface Sketch {
  /** The first cells of the first records. */
  rows: string[][]
  /** How many each lane holds. */
  lanes: { name: string; count: number }[]
  /** Of each day of three weeks, how many. */
  days: number[]
  /** The first pictures, by their files; nothing: a plain face. */
  plates: { name: string; picture: string | undefined }[]
}

export const DAYS = 21
const LANES = 4
const ROWS = 4
const PLATES = 3

interface Options {
  tracker: () => number
  table: () => Table | undefined
  query: () => Query
  offers: () => readonly ShapeOffer[]
  /** They are only read where they are looked at. */
  on: () => boolean
}

export function useSketches({ tracker, table, query, offers, on }: Options) {
  const sketch = shallowRef<Sketch>()
  let drawn = ''

  async function draw() {
    const home = table()
    if (!home) return
    const path = { tracker: tracker(), table: home.id }
    // What names a record stands first.
    const named = { field: home.standing, width: 200 }
    const fields = [named, ...query().fields.filter((one) => one.field !== home.standing)].slice(0, 3)
    const begins = (name: string) => offers().find((offer) => offer.name === name)?.begins
    const asked = (shape: Query['shape'], count: number) =>
      told(
        api.POST('/api/trackers/{tracker}/tables/{table}/query', {
          params: { path },
          body: { query: { condition: { all: [] }, groups: [], sorts: [], tallies: [], fields, shape }, slices: [{ start: 0, count }] },
        }),
      ).catch(() => undefined)
    const [lanes, cards, calendar] = [begins('lanes'), begins('cards'), begins('calendar')]
    const from = plusDays(new Date().toISOString().slice(0, 10), -7)
    const days = calendar
      ? told(
          api.POST('/api/trackers/{tracker}/tables/{table}/days', {
            params: { path },
            body: {
              query: { ...query(), condition: { all: [] }, shape: calendar },
              from,
              to: plusDays(from, DAYS - 1),
              of_a_day: 0,
              waiting: 0,
            },
          }),
        ).catch(() => undefined)
      : undefined
    const [rows, inLanes, plates, onDays] = await Promise.all([
      asked({ as: 'rows' }, ROWS),
      lanes ? asked(lanes, 0) : undefined,
      cards ? asked(cards, PLATES) : undefined,
      days,
    ])
    const counts = new Map((onDays?.days ?? []).map((one) => [one.day, one.count]))
    sketch.value = {
      rows: (rows?.slices[0]?.rows ?? []).map((row) => row.cells.map((cell) => cell?.text ?? '')),
      lanes: (inLanes?.groups ?? [])
        .filter((lane) => lane.count)
        .map((lane) => ({ name: lane.text || '–', count: lane.count }))
        .slice(0, LANES),
      days: Array.from({ length: DAYS }, (_, n) => counts.get(plusDays(from, n)) ?? 0),
      plates: (plates?.slices[0]?.rows ?? []).map((row) => ({
        name: row.cells.find((cell) => cell?.text)?.text ?? '',
        picture: row.pictures?.[0]?.id,
      })),
    }
  }
  watch(
    () => [on(), table()?.id, offers().length] as const,
    ([now, id, some]) => {
      const key = `${tracker()}/${id}`
      if (!now || !some || drawn === key) return
      drawn = key
      void draw()
    },
    { immediate: true },
  )
  return { sketch }
}
