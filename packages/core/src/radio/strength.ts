import type { Evidence, Finding, Remedy } from '@taraf/contract'
import { byHand, judgedAs, refusal } from '../check'
import { mean, standardDeviation } from '../statistics'
import { framesOf } from './frames'
import { strengthOf } from './sticks'

const leastSpread = 0.002
const leastFollows = 0.8

/** The channel that follows the quality of the frames, of all that were received; 0 where none does, null where the quality stood still. */
export const strengthHeard = (evidence: Evidence, labels: readonly string[]): number | null => {
  const sums = new Map<number, number>()
  let varied = false
  for (const label of labels) {
    const radio = evidence.segments.find((s) => s.label === label)?.streams.radio
    const frames = framesOf(evidence, label)
    if (radio?.quality === undefined || frames === null) continue
    const quality = Array.from(radio.quality).filter((q) => q > 0)
    if (standardDeviation(quality) < leastSpread) continue
    varied = true
    for (const channel of frames.there)
      sums.set(channel, Math.max(sums.get(channel) ?? 0, follows(frames.channel(channel) ?? [], quality)))
  }
  if (!varied) return null
  const [channel, most] = [...sums].reduce((best, one) => (one[1] > best[1] ? one : best), [0, 0])
  return most >= leastFollows ? channel : 0
}

/** How well one column follows another: their correlation, without its sign. */
const follows = (us: ArrayLike<number>, quality: number[]): number => {
  const values = Array.from(us)
  const [a, b] = [standardDeviation(values), standardDeviation(quality)]
  if (a < 1e-6 || b < 1e-6) return 0
  const [ma, mb] = [mean(values), mean(quality)]
  const together = mean(values.map((value, i) => (value - ma) * ((quality[i] as number) - mb)))
  return Math.abs(together / (a * b))
}

/** The channel on which the strength is told, as it is heard in these segments, against the board's. */
export const strengthFindings = (evidence: Evidence, labels: readonly string[]): Finding[] => {
  const { settings } = evidence.board
  const set = strengthOf(settings)
  const found = strengthHeard(evidence, labels)
  if (found === null && set === 0) return []
  if (found === null)
    return refusal(
      'the strength did not change, so that its channel cannot be told',
      'Run it again, and close a hand around the antenna of the receiver now and then.',
    )
  const wanted = evidence.sheet.settings?.['radio.strengthChannel']
  const remedy: Remedy =
    wanted === set
      ? byHand(`Set the receiver to tell its strength on ${channelWords(set)}, as the build sheet has it.`)
      : {
          by: 'settings',
          act: `Set the board to read strength from ${channelWords(found)}.`,
          settings: { 'radio.strengthChannel': found },
        }
  return [judgedAs('strengthChannel', channelWords(found), channelWords(set), remedy)]
}

/** The sticks take the first four channels, and what is counted after them begins with the fifth (common practice). */
const sticks = 4
/** A channel said both ways: from the first, and after the sticks. */
export const channelWords = (channel: number): string => {
  if (channel === 0) return 'no channel'
  return channel <= sticks ? `channel ${channel}` : `channel ${channel}, the ${ordinal(channel - sticks)} after the sticks`
}
const ordinal = (n: number): string =>
  `${n}${n % 10 === 1 && n !== 11 ? 'st' : n % 10 === 2 && n !== 12 ? 'nd' : n % 10 === 3 && n !== 13 ? 'rd' : 'th'}`
