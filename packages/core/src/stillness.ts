import type { Column, ImuStream } from '@taraf/contract'
import { angleBetween, degrees, type Vec3 } from './rotation'
import { mean, median, middleOf, noiseLevel, standardDeviation } from './statistics'

export interface Movement {
  kind: 'knock' | 'turn'
  atS: number
  why: string
}

// Common practice: what a hand on the bench or a closed door does lies well over these; a good sensor's noise well under.
const knockForce = 1 // m/s2
const knockRate = 3 // deg/s
const turnRate = 0.1 // deg/s, between means of half a second
const turnAngle = 0.15 // deg, between the first and the last half second
const sigmas = 8
const windowS = 0.5

/**
 * What moved an airframe that should lie still, or null. A knock is a sample far from its column's median; a slow turn
 * is a change of the mean rate from one half second to another, or of the direction of gravity from first to last.
 * A steady turn about the vertical cannot be told from a gyro's bias by these sensors; hands are never that steady.
 *
 * @param imu m/s2 and rad/s, any stage, at least two windows long
 */
export const findMovement = (imu: ImuStream): Movement | null => {
  const levels: Noise = {
    ax: noiseLevel(imu.ax),
    ay: noiseLevel(imu.ay),
    az: noiseLevel(imu.az),
    gx: noiseLevel(imu.gx),
    gy: noiseLevel(imu.gy),
    gz: noiseLevel(imu.gz),
  }
  return findKnock(imu, levels) ?? findTurn(imu, levels)
}

const rates = ['gx', 'gy', 'gz'] as const
const forces = ['ax', 'ay', 'az'] as const
type Noise = Readonly<Record<(typeof rates)[number] | (typeof forces)[number], number>>

const findKnock = (imu: ImuStream, levels: Noise): Movement | null => {
  const at = (i: number) => (imu.t[i] as number) - (imu.t[0] as number)
  const columns = [
    ...rates.map((name) => ({ name, floor: (knockRate * Math.PI) / 180, how: 'turned' })),
    ...forces.map((name) => ({ name, floor: knockForce, how: 'pushed' })),
  ]
  let first: Movement | null = null
  for (const { name, floor, how } of columns) {
    const x = imu[name]
    const centre = middleOf(x)
    const most = Math.max(floor, sigmas * levels[name])
    for (let i = 0; i < x.length; i++)
      if (Math.abs((x[i] as number) - centre) > most) {
        if (first === null || at(i) < first.atS)
          first = { kind: 'knock', atS: at(i), why: `it was ${how} by a knock at ${at(i).toFixed(1)} s` }
        break
      }
  }
  return first
}

const findTurn = (imu: ImuStream, levels: Noise): Movement | null => {
  const windows = windowsOf(imu.t)
  for (const name of rates) {
    const means = windows.map(([from, to]) => degrees(mean(imu[name], from, to)))
    const samples = Math.min(...windows.map(([from, to]) => to - from))
    const most = Math.max(turnRate, (sigmas * degrees(levels[name])) / Math.sqrt(samples))
    const centre = median(means)
    const off = means.findIndex((rate) => Math.abs(rate - centre) > most)
    if (off >= 0) return { kind: 'turn', atS: off * windowS, why: `it was turning slowly at ${(off * windowS).toFixed(1)} s` }
  }
  const [first, last] = [windows[0], windows[windows.length - 1]]
  if (first === undefined || last === undefined) return null
  const force = ([from, to]: [number, number]): Vec3 => [mean(imu.ax, from, to), mean(imu.ay, from, to), mean(imu.az, from, to)]
  const noise = Math.max(levels.ax, levels.ay, levels.az)
  const most = Math.max(turnAngle, degrees((sigmas * noise) / 9.8 / Math.sqrt(first[1] - first[0])))
  const angle = degrees(angleBetween(force(first), force(last)))
  return angle > most
    ? { kind: 'turn', atS: 0, why: `it tilted by ${angle.toFixed(2)} deg from the first to the last half second` }
    : null
}

/** Whole windows of half a second, as [from, to) rows. */
const windowsOf = (t: Column): [number, number][] => {
  const windows: [number, number][] = []
  let from = 0
  for (let i = 0; i < t.length; i++)
    if ((t[i] as number) - (t[from] as number) >= windowS) {
      windows.push([from, i])
      from = i
    }
  return windows
}

// Common practice: a hand that holds trembles by about a degree a second; more than this is a move.
const mostRate = 12 // deg/s, rms about the mean
const mostDrift = 3 // deg, from the first to the last quarter

/** Why a hold was none, or null. */
export const movedIn = (imu: ImuStream): string | null => {
  const rate = degrees(Math.hypot(standardDeviation(imu.gx), standardDeviation(imu.gy), standardDeviation(imu.gz)))
  if (rate > mostRate) return `it moved, turning at ${rate.toFixed(0)} deg/s`
  const n = imu.t.length
  const part = (from: number, to: number): Vec3 => [mean(imu.ax, from, to), mean(imu.ay, from, to), mean(imu.az, from, to)]
  const quarter = Math.max(1, n >> 2)
  const drift = degrees(angleBetween(part(0, quarter), part(n - quarter, n)))
  return drift > mostDrift ? `it moved by ${drift.toFixed(0)} deg while it was captured` : null
}
