import { defineCheck, imuOf, refusal, withProof } from '../check'
import { proved, want } from '../take'
import { isWithin, limitFor } from '../limits'
import { degrees } from '../rotation'
import { mean, standardDeviation } from '../statistics'
import type { Column, Evidence, Finding } from '@taraf/contract'

const rest = { seconds: 5, stage: 'calibrated', streams: ['imu'], alive: ['gx', 'gy', 'gz'], still: 'laid' } as const
const proof = { ...rest, kind: 'capture', label: 'proof', ask: 'Leave it where it is, hands off.', atOnce: true } as const

/** The gyro at rest: what bias and noise are left after its calibration. */
export const gyroRest = defineCheck({
  id: 'sensors.gyroRest',
  version: 2,
  station: 'sensors',
  title: 'Gyro at rest',
  proves: 'At rest the gyro reads zero, with little noise.',
  words: {
    biasX: 'Bias, roll axis',
    biasY: 'Bias, pitch axis',
    biasZ: 'Bias, yaw axis',
    noiseX: 'Noise, roll axis',
    noiseY: 'Noise, pitch axis',
    noiseZ: 'Noise, yaw axis',
  },
  needs: [],
  reads: { settings: ['gyro.*'], parts: ['board'], acts: ['knock'], image: true },
  stages: null,
  proof,
  *take(soFar) {
    yield* want.capture({ ...rest, label: 'rest', ask: 'Lay the airframe on the plate and take your hands off it.' })
    yield* proved(soFar, proof)
  },
  evaluate: (evidence) => {
    const found = restIn(evidence, 'rest')
    return evidence.written === undefined ? found : withProof(found, restIn(evidence, 'proof'))
  },
})

const restIn = (evidence: Evidence, label: string): Finding[] => {
  const imu = imuOf(evidence, label)
  if (imu === null) return refusal(`the segment "${label}" has no imu stream`, 'Run it again.')
  return axes.flatMap(([axis, column]) => judgeAxis(evidence, axis, imu[column]))
}

const axes = [
  ['X', 'gx'],
  ['Y', 'gy'],
  ['Z', 'gz'],
] as const

const judgeAxis = (evidence: Evidence, axis: string, column: Column): Finding[] => {
  const bias = degrees(mean(column))
  const noise = degrees(standardDeviation(column))
  const biasMost = limitFor(evidence.sheet, 'gyroRest.bias').max
  const biasLimit = { min: -biasMost, max: biasMost }
  const noiseLimit = { max: limitFor(evidence.sheet, 'gyroRest.noise').max }
  const still = isWithin(bias, biasLimit)
  const quiet = isWithin(noise, noiseLimit)
  return [
    {
      key: `bias${axis}`,
      value: bias,
      unit: 'deg/s',
      limit: biasLimit,
      verdict: still ? 'pass' : 'fail',
      ...(still
        ? {}
        : {
            remedy: {
              by: 'calibration' as const,
              act: 'Leave it still and let the board measure its gyro bias again.',
              calibrate: 'gyro' as const,
            },
          }),
    },
    {
      key: `noise${axis}`,
      value: noise,
      unit: 'deg/s rms',
      limit: noiseLimit,
      verdict: quiet ? 'pass' : 'fail',
      ...(quiet
        ? {}
        : {
            remedy: {
              by: 'work' as const,
              act: 'Look for a fan or a shaking bench and a hard cable. Try the screws of the board: fasten it where they are loose, replace it where they are tight.',
              work: ['fasten board' as const, 'replace board' as const],
            },
          }),
    },
  ]
}
