// Which days of an almanac are on the screen, at which scale, and how one turns to others.
import { computed, ref, type Ref } from 'vue'
import { weekOf, weeksFrom } from './almanac'
import { plusDays, plusMonths, said } from './dates'

export type Scale = 'day' | 'week' | 'month' | 'year'
export const SCALES: readonly Scale[] = ['day', 'week', 'month', 'year']

/** Weeks of a month that are shown, and days that one turns on by. */
const WEEKS = 6
const TURN = 28

interface Options {
  today: Ref<string>
  /** The day on which weeks begin, 0: Sunday. */
  weekFirst: Ref<number>
}

export function useTurning({ today, weekFirst }: Options) {
  /** The day that one looks at: a month runs on from the week before it, over the ends of months. */
  const here = ref(new Date().toISOString().slice(0, 10))
  const scale = ref<Scale>('month')
  /** The day that lies open in a month. */
  const opened = ref<string>()
  const weeks = computed(() => weeksFrom(plusDays(here.value, -7), WEEKS, weekFirst.value))
  const year = computed(() => here.value.slice(0, 4))
  const monday = computed(() => weekOf(here.value, weekFirst.value))
  const from = computed(() => ({ day: here.value, week: monday.value, month: weeks.value[0]!, year: `${year.value}-01-01` })[scale.value])
  const to = computed(
    () =>
      ({ day: here.value, week: plusDays(monday.value, 6), month: plusDays(weeks.value.at(-1)!, 6), year: `${year.value}-12-31` })[
        scale.value
      ],
  )
  const days = computed(() => Array.from({ length: scale.value === 'day' ? 1 : 7 }, (_, n) => plusDays(from.value, n)))

  function turn(by: number) {
    opened.value = undefined
    const on = { day: 1, week: 7, month: TURN }
    here.value = scale.value === 'year' ? `${plusMonths(here.value.slice(0, 7), by * 12)}-01` : plusDays(here.value, by * on[scale.value])
  }
  function toToday() {
    opened.value = undefined
    here.value = today.value
  }
  /** To a day: it lies open in its month, or is shown by its hours. */
  function toDay(day: string, as: Scale = 'month') {
    here.value = day
    scale.value = as
    opened.value = as === 'month' ? day : undefined
  }
  const title = computed(() => {
    if (scale.value === 'year') return year.value
    if (scale.value === 'day') return said(here.value, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' })
    const sameYear = from.value.slice(0, 4) === to.value.slice(0, 4)
    const start = said(from.value, { day: 'numeric', month: 'long', ...(sameYear ? {} : { year: 'numeric' }) })
    return `${start} to ${said(to.value, { day: 'numeric', month: 'long', year: 'numeric' })}`
  })
  return { here, scale, opened, weeks, year, from, to, days, title, turn, toToday, toDay }
}
