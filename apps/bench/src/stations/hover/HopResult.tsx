import { limitFor } from '@taraf/core'
import { CommandLine } from '../../parts/CommandLine'
import { Loading } from '../../parts/Notice'
import { useEvidenceQuery } from '../../store/jobs'
import type { ResultProps } from '../panel'

/** One row in so many is drawn: a line on a phone is no finer. */
const every = 10

/** The command of a hop on a line of time, against what was to hold it up. */
export const HopResult = ({ job, take: { seq, body } }: ResultProps) => {
  const { data, isLoading } = useEvidenceQuery({ job: job.id, seq, stream: 'outputs' })
  if (isLoading) return <Loading what="the hop" />
  const segment = data?.segments.find(({ label }) => label === 'hop')
  const outputs = segment?.streams.outputs as { t: ArrayLike<number>; command?: ArrayLike<number> } | undefined
  const numberOf = (key: string) => {
    const value = body.findings.find((finding) => finding.key === key)?.value
    return typeof value === 'number' ? value : null
  }
  if (segment === undefined || outputs?.command === undefined) return null
  const { t, command } = outputs
  const { min, max } = limitFor(job.sheet, 'hop.over')
  const over = numberOf('over')
  return (
    <CommandLine
      marks={(segment.events ?? []).flatMap(({ t: at, what }) =>
        what === 'armed' || what === 'disarmed' ? [{ t: at, words: what }] : [],
      )}
      command={Array.from({ length: Math.ceil(t.length / every) }, (_, i) => ({
        t: t[i * every] ?? 0,
        share: command[i * every] ?? 0,
      }))}
      hover={numberOf('hoverThrottle')}
      band={over === null ? { min: 0, max: 0 } : { min: min - over, max: max - over }}
    />
  )
}
