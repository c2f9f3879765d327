import { limitFor, triesOf } from '@taraf/core'
import { Loading } from '../../parts/Notice'
import { Column, Words } from '../../parts/type'
import { useEvidenceQuery } from '../../store/jobs'
import type { ResultProps } from '../panel'
import { LossLine } from './LossLine'

/** Everything that a take tried, drawn: its phases, and the command against hover. */
export const LossResult = ({ job, take: { seq, body } }: ResultProps) => {
  const { data, isLoading } = useEvidenceQuery({ job: job.id, seq, stream: 'outputs' })
  if (isLoading) return <Loading what="the losses" />
  if (data === undefined) return null
  const { min, max } = limitFor(job.sheet, 'loss.command')
  const against = body.findings.find(({ key }) => key === 'hover')?.value
  return (
    <Column gap="$3">
      {triesOf(body.check, job.sheet).flatMap(({ label, words }) => {
        const segment = data.segments.find((one) => one.label === label)
        const outputs = segment?.streams.outputs as { t: ArrayLike<number>; command?: ArrayLike<number> } | undefined
        if (segment === undefined || outputs?.command === undefined) return []
        const { t, command } = outputs
        const phases = (segment.events ?? []).flatMap((event) =>
          event.what === 'loss' ? [{ t: event.t, phase: (event as { phase?: string }).phase ?? '' }] : [],
        )
        return (
          <Column key={label} gap="$1">
            <Words>{words}</Words>
            <LossLine
              phases={[{ t: t[0] ?? 0, phase: 'none' }, ...phases]}
              command={Array.from(t, (at, i) => ({ t: at, share: command[i] ?? 0 }))}
              hover={typeof against === 'number' ? against : (job.sheet.rotor?.hover ?? null)}
              band={{ min: min ?? 0, max: max ?? 0 }}
            />
          </Column>
        )
      })}
    </Column>
  )
}
