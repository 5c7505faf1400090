// My live addresses of calendars.
import { api, told } from '@/api/client'
import type { CalendarLine } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'

export function useCalendars() {
  const { told: lines, again } = useAsked(['calendars'], () => told(api.GET('/api/calendars')))
  const doing = useDoing()

  async function withdraw(line: CalendarLine) {
    const path = { number: line.number }
    await doing.attempt(() => told(api.DELETE('/api/calendars/{number}', { params: { path } })))
    await again()
  }
  /** The address, which is told this once. */
  async function make(tracker: number, view: number): Promise<string | undefined> {
    const path = { tracker, view }
    const made = await doing.attempt(() => told(api.POST('/api/trackers/{tracker}/views/{view}/calendar', { params: { path } })))
    await again()
    return made?.address
  }
  return { lines, doing, withdraw, make }
}
