/** Sound ESCs turn a bare motor from less than this on (common practice). */
const beginsAt = 0.06
const defaultRiseS = 1

/**
 * The command of an output so long after it was told to turn, a share of full: begun where motors begin, so that one turns as soon as it is
 * told, and risen gently to its share within a second. With `riseS` it rises from zero within that time.
 */
export const commandAt = (share: number, sinceS: number, riseS?: number): number => {
  const from = riseS === undefined ? Math.min(beginsAt, share) : 0
  return from + (share - from) * Math.min(1, sinceS / (riseS ?? defaultRiseS))
}
