/** Pulse at full command of the analogue signals, us (from memory). */
const longestPulseUs: Readonly<Record<string, number>> = { PWM: 2000, OneShot125: 250, MultiShot: 25 }
const frameBits = 16
/** A reply is 16 bits in groups of four as 20, and a start bit, sent at 5/4 of the rate (from memory). */
const replyBits = 21
const replyRate = 5 / 4
const turnRoundUs = 30

/** Bits a millisecond of a digital signal, by its name; null of an analogue one. */
export const kbitOf = (signal: string): number | null => {
  const rate = /^DShot(\d+)$/.exec(signal)?.[1]
  return rate === undefined ? null : Number(rate)
}

/**
 * How long one command holds the wire, us: the longest pulse of an analogue signal, 16 bits of a digital one, and the turn-round and the reply
 * where replies come back on the same wire. 0 of a signal that nobody knows.
 */
export const frameUs = (signal: string, withReplies: boolean): number => {
  const kbit = kbitOf(signal)
  if (kbit === null) return longestPulseUs[signal] ?? 0
  const bitUs = 1000 / kbit
  return frameBits * bitUs + (withReplies ? turnRoundUs + (replyBits * bitUs) / replyRate : 0)
}
