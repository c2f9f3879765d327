import type { EntryBody, TransmitterSetting } from '@taraf/contract'

/** The transmitter and the model that an entry names, and what was set on it. */
export interface FlownWith {
  readonly transmitter: string
  readonly model: number
  readonly set: readonly TransmitterSetting[]
}
/** The transmitter that an entry names; null where it names none. */
export const flownWith = (body: EntryBody): FlownWith | null => {
  if (body.kind === 'take' && body.check === 'radio.link') {
    const value = (key: string) => body.findings.find((f) => f.key === key)?.value
    const [transmitter, model] = [value('transmitter'), value('model')]
    return typeof transmitter === 'string' && typeof model === 'number' ? { transmitter, model, set: [] } : null
  }
  if (body.kind !== 'change' || body.change.what !== 'transmitter') return null
  const { transmitter, model, set = [] } = body.change
  return transmitter === undefined || model === undefined ? null : { transmitter, model, set }
}
