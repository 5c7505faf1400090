// Hours of a day, in minutes from midnight, as an input of the browser writes them.

export const hourText = (minutes: number) => `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`
export function hourOf(text: string): number | undefined {
  const [hour, minute] = text.split(':').map(Number)
  return hour === undefined || minute === undefined || Number.isNaN(hour * 60 + minute) ? undefined : hour * 60 + minute
}
