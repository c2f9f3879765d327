import type { signals } from '../board/definitions'

export type SignalName = (typeof signals)[number]

/**
 * Signal types: an analogue one is a pulse from `low` to `high`, a digital one sends 16 bits. DShot from its definition: the
 * number is its bit rate in kbit/s; 11 bits of command, one that asks for a reply, four of checksum.
 */
export const signalTable: Readonly<Record<SignalName, { lowUs: number; highUs: number } | { bitsPerS: number }>> = {
  PWM: { lowUs: 1000, highUs: 2000 },
  OneShot125: { lowUs: 125, highUs: 250 },
  MultiShot: { lowUs: 5, highUs: 25 },
  DShot150: { bitsPerS: 150_000 },
  DShot300: { bitsPerS: 300_000 },
  DShot600: { bitsPerS: 600_000 },
  DShot1200: { bitsPerS: 1_200_000 },
}

export const isDigital = (signal: SignalName): boolean => 'bitsPerS' in signalTable[signal]

const frameBits = 16
const replyBits = 21 // 16 bits as 20 of group code and a start bit
const turnRoundUs = 30

/** How long one frame holds the wire, us; with a reply on the same wire the turn-round and the reply, sent at 5/4 of the rate. */
export const frameUs = (signal: SignalName, withReply: boolean): number => {
  const timing = signalTable[signal]
  if (!('bitsPerS' in timing)) return timing.highUs
  const out = (frameBits / timing.bitsPerS) * 1e6
  return withReply ? out + turnRoundUs + (replyBits / (timing.bitsPerS * 1.25)) * 1e6 : out
}

/** A digital frame: 11 bits of value (0 stops, 48 to 2047 turn), the telemetry bit, and the checksum over the three nibbles. */
export const dshotFrame = (value: number, askReply: boolean): number => {
  const body = (value << 1) | (askReply ? 1 : 0)
  return (body << 4) | ((body ^ (body >> 4) ^ (body >> 8)) & 0xf)
}

/** The value of a digital frame, or null where its checksum is wrong. */
export const dshotValue = (frame: number): number | null => {
  const body = frame >> 4
  return ((body ^ (body >> 4) ^ (body >> 8)) & 0xf) === (frame & 0xf) ? body >> 1 : null
}

/** What a command of 0 to 1 becomes on the wire and back: digital signals know 2000 steps, analogue ones the pulse's resolution. */
export const digitalShare = (command: number): number => {
  if (command <= 0) return 0
  const value = dshotValue(dshotFrame(48 + Math.round(Math.min(1, command) * 1999), false))
  return value === null || value < 48 ? 0 : (value - 48) / 1999
}

/** Electrical turns have one period for each pole pair: mechanical = electrical / pairs. */
export const mechanicalRpm = (electricalRpm: number, poles: number): number => electricalRpm / (poles / 2)
