import type { JobView } from '@taraf/contract'
import { degrees, limitFor, mean, standardDeviation } from '@taraf/core'
import { View } from '@tamagui/core'
import { ring } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { Rule } from '../../parts/Rule'
import { Column, Reading, Row, Words } from '../../parts/type'
import type { Panel } from '../panel'
import { fixed } from '../../parts/fixed'

const overS = 1
const axes = [
  ['roll axis', 'gx'],
  ['pitch axis', 'gy'],
  ['yaw axis', 'gz'],
] as const

/** The gyro now, over the last second, against its limits. */
const Live = ({ job }: { job: JobView }) => {
  useFrames()
  const biasMost = limitFor(job.sheet, 'gyroRest.bias').max
  const noiseMost = limitFor(job.sheet, 'gyroRest.noise').max
  const now = axes.map(([label, column]) => {
    const rates = ring.recent(column, overS)
    return {
      label,
      bias: rates.length < 20 ? null : degrees(mean(rates)),
      noise: rates.length < 20 ? null : degrees(standardDeviation(rates)),
    }
  })
  const worst = now.reduce<number | null>((most, { bias }) => (bias === null ? most : Math.max(most ?? 0, Math.abs(bias))), null)
  return (
    <Column gap="$3">
      <Column gap="$0">
        <Row alignItems="baseline">
          <Reading size="decides" data-reading="bias">
            {worst === null ? '–.––' : worst.toFixed(2)}
          </Reading>
          <Words kind="faint">deg/s, largest turn read at rest; at most {biasMost} is allowed</Words>
        </Row>
        <Words kind="small">over the last second</Words>
      </Column>
      <View flexDirection="row" flexWrap="wrap" columnGap="$5" rowGap="$2">
        {now.map(({ label, bias, noise }) => (
          <Column key={label} flex={1} minWidth={220} gap="$0">
            <Gauge label={`${label}, bias`} value={bias} unit="deg/s" />
            <Rule label={`Bias, ${label}`} value={bias} min={-biasMost} max={biasMost} unit="deg/s" markKey={job.id} />
            <Gauge label="noise" value={noise} unit="deg/s rms" />
            <Rule label={`Noise, ${label}`} value={noise} max={noiseMost} unit="deg/s rms" markKey={job.id} />
          </Column>
        ))}
      </View>
    </Column>
  )
}

const Gauge = ({ label, value, unit }: { label: string; value: number | null; unit: string }) => (
  <Row justifyContent="space-between">
    <Words kind="small">{label}</Words>
    <Reading>
      {value === null ? '–' : fixed(value, 2)} {unit}
    </Reading>
  </Row>
)

export const gyroRest: Panel = {
  Live,
  turned: () => false,
}
