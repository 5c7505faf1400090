// How a calculation's result can be shown, by its type.
import type { Kind, Tried } from '@/api/types'

type Type = Tried['result']['of']

export interface Way {
  type: Kind['type']
  name: string
  make: () => Kind
}

const WAYS: Way[] = [
  { type: 'number', name: 'number', make: () => ({ type: 'number', decimals: 0, unit: '' }) },
  { type: 'money', name: 'money', make: () => ({ type: 'money', currency: 'GBP' }) },
  { type: 'percent', name: 'percent', make: () => ({ type: 'percent', decimals: 0 }) },
  { type: 'duration', name: 'duration', make: () => ({ type: 'duration' }) },
  { type: 'text', name: 'text', make: () => ({ type: 'text', limit: 50_000 }) },
  { type: 'yes_no', name: 'yes/no', make: () => ({ type: 'yes_no' }) },
  { type: 'date', name: 'date', make: () => ({ type: 'date' }) },
  { type: 'date_time', name: 'date and time', make: () => ({ type: 'date_time' }) },
]

const FITTING: Record<string, Kind['type'][]> = {
  number: ['number', 'money', 'percent', 'duration'],
  logical: ['yes_no', 'number'],
  date: ['date'],
  moment: ['date_time', 'date'],
  text: ['text'],
  any: ['text', 'number', 'money', 'percent', 'date', 'date_time', 'yes_no'],
  nothing: ['text'],
}

/** The ways in which results of a type can be shown, the plainest first. */
export function ways(of: Type | undefined): Way[] {
  const key = typeof of === 'string' ? of : 'text'
  return (FITTING[key] ?? FITTING.text!).flatMap((type) => WAYS.filter((way) => way.type === type))
}
