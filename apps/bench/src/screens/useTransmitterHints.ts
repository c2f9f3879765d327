import type { JobView } from '@taraf/contract'
import { controlChannels, controls, linkAnswers, transmitterValue } from '@taraf/core'
import { useTransmitterOf } from '../store/transmitters'

/** What the record says already of the transmitter that an airframe is flown with, by the question that asks it. */
export const useTransmitterHints = (job: JobView): Readonly<Record<string, string>> => {
  const known = useTransmitterOf(job)
  if (known === null) return {}
  const { transmitter, model, set } = known.card
  const channels = controlChannels(job.sheet)
  const travels = controls.flatMap((control, i) =>
    (['Low', 'High'] as const).flatMap((side): [string, string][] => {
      const found = set.find(({ channel, name }) => channel === channels[i] && name === `travel${side}`)
      return found === undefined ? [] : [[`${control}${side}Travel`, transmitterValue(found.name, found.to)]]
    }),
  )
  return { [linkAnswers.transmitter]: transmitter, [linkAnswers.model]: String(model), ...Object.fromEntries(travels) }
}
