// The days of an almanac that are on the screen: read when one turns to them, and again when something changed.
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { api, saying, told } from '@/api/client'
import type { AlmanacMark, DaysReply, Query, Row } from '@/api/types'
import { touches, useChanges } from '@/features/tracker/tracker'

interface Options {
  tracker: Ref<number>
  table: Ref<number>
  query: Ref<Query>
  /** Nothing: no days are asked for. */
  from: Ref<string | undefined>
  to: Ref<string | undefined>
  /** Most marks of one day. */
  ofADay: Ref<number>
  /** Whether the hours of the days are wanted, of a week at most. */
  hours: Ref<boolean>
  /** The day on which weeks begin, 0: Sunday. */
  weekFirst: Ref<number>
  /** The tables that it depends on. */
  of: () => number[] | undefined
}

/** Most records without a day that are told. */
const WAITING = 60

export function useStretch({ tracker, table, query, from, to, ofADay, hours, weekFirst, of }: Options) {
  const answer = shallowRef<DaysReply>()
  const trouble = ref('')
  let round = 0

  async function refresh() {
    const mine = ++round
    if (!from.value || !to.value) {
      answer.value = undefined
      return
    }
    const path = { tracker: tracker.value, table: table.value }
    const body = {
      query: query.value,
      from: from.value,
      to: to.value,
      of_a_day: ofADay.value,
      waiting: WAITING,
      hours: hours.value,
      week_begins: weekFirst.value,
    }
    try {
      const found = await told(api.POST('/api/trackers/{tracker}/tables/{table}/days', { params: { path }, body }))
      if (mine === round) {
        answer.value = found
        trouble.value = ''
      }
    } catch (error) {
      if (mine === round) trouble.value = saying(error)
    }
  }

  watch([tracker, table, query, from, to, ofADay, hours, weekFirst], () => void refresh(), { immediate: true, deep: true })
  useChanges(
    () => void refresh(),
    (heard) => touches(of())(heard),
  )

  const rows = computed(
    () => new Map<number, Row>([...(answer.value?.rows ?? []), ...(answer.value?.waiting ?? [])].map((row) => [row.id, row])),
  )
  const counts = computed(() => new Map((answer.value?.days ?? []).map((one) => [one.day, one.count])))
  const marks = computed<readonly AlmanacMark[]>(() => answer.value?.marks ?? [])
  /** The hours of the days, where they were asked for and are of these days. */
  const dayHours = computed(() => answer.value?.hours ?? [])
  return { answer, rows, counts, marks, dayHours, trouble, refresh }
}
