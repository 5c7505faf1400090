// Which fields stay in sight when rows are moved sideways.

/** The share of the room that they may take: of their own accord, and where somebody says which. */
const SHARE = 0.45
const SAID = 0.7

/**
 * Those through the one that names a record, as far as they leave room for others: where each stands, in CSS pixels from the left.
 *
 * @param named the place of the field that names a record; below 0: it is not among them
 * @param keeps how many stay, where somebody has said so
 */
export function staying(widths: number[], named: number, room: number, keeps?: number | null): number[] {
  const most = keeps ?? (named < 0 ? 1 : named + 1)
  const share = keeps == null ? SHARE : SAID
  const lefts: number[] = []
  let sum = 0
  for (const width of widths.slice(0, most)) {
    if (sum + width > room * share) break
    lefts.push(sum)
    sum += width
  }
  return lefts
}
