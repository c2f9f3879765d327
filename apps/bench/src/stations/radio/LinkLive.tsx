import type { JobView } from '@taraf/contract'
import { lightsOf, mean } from '@taraf/core'
import { tracks } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { AskLine } from '../../parts/AskLine'
import { Signals } from '../../parts/Signals'
import { Column, Reading, Row, Words } from '../../parts/type'
import { useLive } from '../../store/store'
import { useTakeAtStep } from '../../store/takeInHand'
import { KnownTransmitter } from './KnownTransmitter'

/** How the receiver is heard now: frames a second, and how many of them arrive whole. */
export const LinkLive = ({ job }: { job: JobView }) => {
  useFrames()
  const heard = useLive(({ link }) => link?.state?.radio === 'heard')
  const take = useTakeAtStep('radio.link')
  const rows = tracks.recent('radio', 1)
  const whole = rows.filter((row) => (row[16] ?? 0) > 0)
  const quality = whole.length === 0 ? null : 100 * mean(whole.map((row) => row[16] ?? 0))
  const binding = job.sheet.parts?.find((p) => p.part === 'receiver')?.binding
  return (
    <Column gap="$3">
      <AskLine words={take?.want?.ask} />
      <Row alignItems="baseline" flexWrap="wrap">
        <Reading size="decides">{take !== null && whole.length > 0 ? whole.length : heard ? '✓' : '–'}</Reading>
        <Words kind="faint">
          {take !== null && quality !== null
            ? `frames in the last second, ${quality.toFixed(0)} % whole`
            : heard
              ? 'the board hears the transmitter'
              : 'the board hears no transmitter'}
        </Words>
      </Row>
      <KnownTransmitter job={job} />
      {!heard && binding !== undefined && (
        <Column gap="$1">
          <Words kind="strong">How this receiver is bound</Words>
          {binding.steps.map((step, i) => (
            <Words key={step}>
              {binding.steps.length > 1 ? `${i + 1}. ` : ''}
              {step}
            </Words>
          ))}
        </Column>
      )}
      {lightsOf(job.sheet).length > 0 && <Signals sheet={job.sheet} part="receiver" />}
    </Column>
  )
}
