import { entryOf } from '@taraf/contract'

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

/** Whether a signal is a pulse whose length is the command. */
export const isPulse = (signal: string): boolean => entryOf(longestPulseUs, signal) !== undefined

/** What holds the wire for one command, in its order, us: the command, and where replies come back on it the turn-round and the reply. */
export interface FrameParts {
  readonly command: number
  readonly turnRound: number
  readonly reply: number
}

/** The longest pulse of an analogue signal, 16 bits of a digital one with its reply; nothing of a signal that nobody knows. */
export const frameParts = (signal: string, withReplies: boolean): FrameParts => {
  const kbit = kbitOf(signal)
  if (kbit === null) return { command: entryOf(longestPulseUs, signal) ?? 0, turnRound: 0, reply: 0 }
  const bitUs = 1000 / kbit
  return {
    command: frameBits * bitUs,
    turnRound: withReplies ? turnRoundUs : 0,
    reply: withReplies ? (replyBits * bitUs) / replyRate : 0,
  }
}

/** How long one command holds the wire, us. */
export const frameUs = (signal: string, withReplies: boolean): number => {
  const { command, turnRound, reply } = frameParts(signal, withReplies)
  return command + turnRound + reply
}
