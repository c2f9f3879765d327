import type { Geometry, SheetPart } from '@taraf/contract'
import { radians } from './rotation'

/** One motor position of the frame: where it is in body axes (m, forward and right) and how its prop turns, seen from above. */
export interface MotorPosition {
  readonly boom: string
  readonly tier: 'only' | 'upper' | 'lower'
  readonly output: number
  readonly turn: 'clockwise' | 'anticlockwise'
  readonly x: number
  readonly y: number
}

/** How far a position pushes for a full command in each axis, and for the collective: 1 is the most that any position does. */
export interface MixRow {
  readonly roll: number
  readonly pitch: number
  readonly yaw: number
  readonly collective: number
}

/** The motor positions of a geometry, boom by boom. */
/** The outputs that turn a motor, in their order. */
export const outputsOf = ({ geometry }: SheetPart): number[] =>
  (geometry?.booms ?? []).flatMap((boom) => boom.motors.map((m) => m.output)).sort((a, b) => a - b)

export const positionsOf = ({ booms }: Geometry): MotorPosition[] =>
  booms.flatMap(({ name, bearingDeg, radiusM, motors }) =>
    motors.map((motor) => ({
      boom: name,
      ...motor,
      x: radiusM * Math.cos(radians(bearingDeg)),
      y: radiusM * Math.sin(radians(bearingDeg)),
    })),
  )

/** What thrust at each position does about roll, pitch and yaw, and to lift: a row for each, its largest 1. */
const effectsOf = (positions: readonly MotorPosition[]): number[][] =>
  [
    positions.map((p) => -p.y),
    positions.map((p) => p.x),
    positions.map((p) => (p.turn === 'anticlockwise' ? 1 : -1)),
    positions.map(() => 1),
  ].map(scaledToOne)

/** The push about one axis that a board mixed into the share of each position: what it mixed about the others leaves it as it is. */
export const pushAbout = (
  positions: readonly MotorPosition[],
  axis: 'roll' | 'pitch' | 'yaw',
): ((shares: readonly number[]) => number) => {
  const effect = effectsOf(positions)[{ roll: 0, pitch: 1, yaw: 2 }[axis]] as number[]
  const whole = dot(
    effect,
    mixerOf(positions).map((row) => row[axis]),
  )
  return (shares) => (whole === 0 ? 0 : dot(effect, shares) / whole)
}

/**
 * The mixer of a geometry: the least-squares allocation of roll, pitch, yaw and collective to the positions (the
 * pseudo-inverse of the matrix of their effects), each column scaled to at most 1. A prop that turns anticlockwise pushes
 * the nose right. Throws where the positions cannot control an axis.
 */
export const mixerOf = (positions: readonly MotorPosition[]): MixRow[] => {
  const effects = effectsOf(positions)
  const gram = effects.map((a) => effects.map((b) => dot(a, b)))
  const columns = unitVectors.map((axis) => {
    const weights = solve(gram, axis)
    return scaledToOne(
      positions.map((_, i) =>
        dot(
          weights,
          effects.map((row) => row[i] as number),
        ),
      ),
    )
  })
  return positions.map((_, i) => {
    const [roll, pitch, yaw, collective] = columns.map((column) => column[i] as number) as [number, number, number, number]
    return { roll, pitch, yaw, collective }
  })
}

const unitVectors = [0, 1, 2, 3].map((i) => [0, 1, 2, 3].map((j) => (i === j ? 1 : 0)))
const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, value, i) => sum + value * (b[i] as number), 0)
const scaledToOne = (values: readonly number[]): number[] => {
  const most = Math.max(...values.map(Math.abs))
  return most === 0 ? [...values] : values.map((value) => value / most)
}

/** Solves a small system by Gaussian elimination with row exchanges (Golub and Van Loan, Matrix Computations, 3.4). */
const solve = (matrix: readonly (readonly number[])[], right: readonly number[]): number[] => {
  const rows = matrix.map((row, i) => [...row, right[i] as number])
  const n = rows.length
  const at = (i: number, j: number) => (rows[i] as number[])[j] as number
  for (let k = 0; k < n; k++) {
    let pivot = k
    for (let i = k + 1; i < n; i++) if (Math.abs(at(i, k)) > Math.abs(at(pivot, k))) pivot = i
    if (Math.abs(at(pivot, k)) < 1e-9) throw new RangeError('these motor positions cannot control every axis')
    ;[rows[k], rows[pivot]] = [rows[pivot] as number[], rows[k] as number[]]
    for (let i = k + 1; i < n; i++) {
      const factor = at(i, k) / at(k, k)
      for (let j = k; j <= n; j++) (rows[i] as number[])[j] = at(i, j) - factor * at(k, j)
    }
  }
  const found = Array<number>(n).fill(0)
  for (let i = n - 1; i >= 0; i--)
    found[i] = (at(i, n) - found.reduce((sum, value, j) => (j > i ? sum + at(i, j) * value : sum), 0)) / at(i, i)
  return found
}
