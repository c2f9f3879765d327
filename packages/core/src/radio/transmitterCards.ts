import type { TransmitterCard } from '@taraf/contract'
import type { FlownWith } from './flownWith'

/** The same with whose card it stands on, and who wrote it. */
export interface OnCard extends FlownWith {
  readonly tag: string
  readonly type: string
  readonly job: string
  readonly at: string
  readonly by: string
}

type Open = Pick<TransmitterCard, 'transmitter' | 'model' | 'at'> & {
  readonly airframes: Map<string, TransmitterCard['airframes'][number]>
  readonly set: Map<string, TransmitterCard['set'][number]>
}
const mostListed = 60

/**
 * The cards of transmitters, one for each model memory: a pure fold over what job cards say, oldest first. An airframe is on the card of the
 * transmitter that its newest entry names; what is set is what was recorded last, on whichever airframe's card.
 */
export const transmitterCardsOf = (entries: readonly OnCard[]): TransmitterCard[] => {
  const cards = new Map<string, Open>()
  const cardOfTag = new Map<string, Open>()
  for (const { tag, type, job, at, by, transmitter, model, set } of entries) {
    const key = `${transmitter.trim().toLowerCase()} ${model}`
    const card = cards.get(key) ?? { transmitter: transmitter.trim(), model, at, airframes: new Map(), set: new Map() }
    cards.set(key, card)
    card.at = at
    // An airframe is flown with one at a time; the one that was on a bench last comes last.
    cardOfTag.get(tag)?.airframes.delete(tag)
    cardOfTag.set(tag, card)
    card.airframes.set(tag, { tag, type, job })
    for (const { channel, name, to } of set) card.set.set(`${channel} ${name}`, { channel, name, to, at, by, tag })
  }
  return [...cards.values()].map(({ airframes, set, ...card }) => {
    const all = [...airframes.values()]
    return {
      ...card,
      flies: all.length,
      types: [...new Set(all.map(({ type }) => type))].sort(),
      airframes: all.slice(-mostListed),
      set: [...set.values()].sort((a, b) => a.channel - b.channel || a.name.localeCompare(b.name)),
    }
  })
}
