import type { Settings } from '@taraf/contract'
import type { Airframe } from '../airframe'
import { randomFrom, type Random } from '../random'
import { armingFaults, failsafeFaults } from './armingAndLoss'
import { boardFaults } from './board'
import { escFaults } from './escs'
import type { Fault, FaultStation } from './fault'
import { intakeFaults } from './intake'
import { motorFaults } from './motors'
import { orientationFaults } from './orientation'
import { fitOutFaults, powerFaults } from './powerAndFitOut'
import { radioFaults } from './radio'
import { sensorFaults } from './sensors'
import { switchFaults } from './switches'

export type { Fault, FaultStation, Mend } from './fault'

/** Every named single fault, over all stations, in the order of the work. */
export const faults: readonly Fault[] = [
  ...intakeFaults,
  ...boardFaults,
  ...sensorFaults,
  ...orientationFaults,
  ...radioFaults,
  ...switchFaults,
  ...escFaults,
  ...motorFaults,
  ...armingFaults,
  ...failsafeFaults,
  ...powerFaults,
  ...fitOutFaults,
]
export const faultById = (id: string): Fault | undefined => faults.find((f) => f.id === id)

/**
 * Puts faults into an airframe and its settings, in the order of the catalogue. Their sizes are drawn by seed, each at least
 * three deviations of its measurement beyond its limit.
 */
export const injectFaults = (airframe: Airframe, settings: Settings, ids: readonly string[], seed: number): void => {
  for (const fault of faults)
    if (ids.includes(fault.id)) {
      const random = randomFrom(seed ^ hashOf(fault.id))
      fault.inject({
        airframe,
        settings,
        random,
        beyond: (limit, deviation, most = 4) =>
          random.between(limit + 3 * deviation, Math.max(limit + 4 * deviation, limit * most)),
      })
    }
}

/** Draws up to `most` faults of some stations for an airframe, each by its likelihood relative to the others. */
export const drawFaults = (
  airframe: Airframe,
  stations: readonly FaultStation[],
  most: number,
  random: Random,
  also: (fault: Fault) => boolean = () => true,
): string[] => {
  const possible = faults.filter((f) => stations.includes(f.station) && f.fits?.(airframe) !== false && also(f))
  const drawn: string[] = []
  for (let i = random.below(most + 1); i > 0; i--) {
    const left = possible.filter((f) => !drawn.includes(f.id))
    let at = random.uniform() * left.reduce((sum, f) => sum + f.likelihood, 0)
    const found = left.find((f) => (at -= f.likelihood) < 0)
    if (found !== undefined) drawn.push(found.id)
  }
  return drawn
}

const hashOf = (text: string): number => [...text].reduce((h, c) => Math.imul(h ^ c.charCodeAt(0), 16777619), 0x811c9dc5) | 0
