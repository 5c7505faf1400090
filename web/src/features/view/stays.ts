// Which fields stay in sight when rows are moved sideways.

/** The share of the room that they may take. */
const SHARE = 0.45

/**
 * Those through the one that names a record, as far as they leave room for others: where each stands, in CSS pixels from the left.
 *
 * @param named the place of the field that names a record; below 0: it is not among them
 */
export function staying(widths: number[], named: number, room: number): number[] {
  const lefts: number[] = []
  let sum = 0
  for (const width of widths.slice(0, named < 0 ? 1 : named + 1)) {
    if (sum + width > room * SHARE) break
    lefts.push(sum)
    sum += width
  }
  return lefts
}
