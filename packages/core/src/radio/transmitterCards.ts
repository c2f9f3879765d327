import type { EntryBody, TransmitterCard, TransmitterSetting } from '@taraf/contract'

/** An entry of a job card, with whose card it is and who wrote it. */
export interface OnCard {
  readonly tag: string
  readonly type: string
  readonly job: string
  readonly at: string
  readonly by: string
  readonly body: EntryBody
}

type Mutable = Omit<TransmitterCard, 'airframes' | 'set'> & {
  readonly airframes: Map<string, TransmitterCard['airframes'][number]>
  readonly set: Map<string, TransmitterCard['set'][number]>
}

/**
 * The cards of transmitters, one for each model memory: a pure fold over what job cards say, oldest first. An airframe is on the card of the
 * transmitter that its newest link check was told of; what is set is what was recorded last, on whichever airframe's card.
 */
export const transmitterCardsOf = (entries: readonly OnCard[]): TransmitterCard[] => {
  const cards = new Map<string, Mutable>()
  const cardOf = (transmitter: string, model: number, at: string): Mutable => {
    const key = `${transmitter.trim().toLowerCase()} ${model}`
    const card = cards.get(key) ?? { transmitter: transmitter.trim(), model, airframes: new Map(), set: new Map(), at }
    card.at = at
    cards.set(key, card)
    return card
  }
  for (const { tag, type, job, at, by, body } of entries) {
    const named = flownWith(body)
    if (named === null) continue
    const card = cardOf(named.transmitter, named.model, at)
    // An airframe is flown with one at a time.
    for (const other of cards.values()) if (other !== card) other.airframes.delete(tag)
    card.airframes.set(tag, { tag, type, job })
    for (const { channel, name, to } of named.set) card.set.set(`${channel} ${name}`, { channel, name, to, at, by, tag })
  }
  return [...cards.values()].map(({ airframes, set, ...card }) => ({
    ...card,
    airframes: [...airframes.values()],
    set: [...set.values()].sort((a, b) => a.channel - b.channel || a.name.localeCompare(b.name)),
  }))
}

/** The transmitter and the model that an entry names, with what was set on it; null where it names none. */
export const flownWith = (
  body: EntryBody,
): { readonly transmitter: string; readonly model: number; readonly set: readonly TransmitterSetting[] } | null => {
  if (body.kind === 'take' && body.check === 'radio.link') {
    const value = (key: string) => body.findings.find((f) => f.key === key)?.value
    const [transmitter, model] = [value('transmitter'), value('model')]
    return typeof transmitter === 'string' && typeof model === 'number' ? { transmitter, model, set: [] } : null
  }
  if (body.kind !== 'change' || body.change.what !== 'transmitter') return null
  const { transmitter, model, set = [] } = body.change
  return transmitter === undefined || model === undefined ? null : { transmitter, model, set }
}
