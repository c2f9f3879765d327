import type { Column, ImuStream, Segment, Settings, SheetPart } from '@taraf/contract'
import { positionsOf, type MotorPosition } from '../geometry'
import { degrees } from '../rotation'
import { mean } from '../statistics'
import type { Movement } from './movements'
import { nameOf } from './solve'
import { outputColumn } from './speeds'
import { outputsInUse } from './told'

/** The position of each output, counted from 0, by the board's map where it has one. */
export const mapOf = (sheet: SheetPart, settings: Settings | undefined): Map<number, number> => {
  const positions = sheet.geometry === undefined ? [] : positionsOf(sheet.geometry)
  return new Map(
    outputsInUse(sheet, settings).flatMap((output): [number, number][] => {
      const position = settings?.[`output.${output}.position`] ?? positions.findIndex((p) => p.output === output) + 1
      return position > 0 ? [[output, position - 1]] : []
    }),
  )
}

const leastRows = 10
/** The mean share of each position over some rows of outputs, 0..1; null where they are too few. */
export const meansOver = (
  streams: Segment['streams'],
  map: ReadonlyMap<number, number>,
  count: number,
  rows: readonly number[],
): number[] | null => {
  if (rows.length < leastRows) return null
  const means = Array<number>(count).fill(0)
  for (const [output, position] of map) {
    const column = outputColumn(streams, output)
    if (column !== undefined) means[position] = mean(rows.map((i) => column[i] as number))
  }
  return means
}

/**
 * How hard each position pushes: over the mean of all, as a share of the largest; none where that is under `leastPush`, 0..1 of full
 * command.
 */
export const sharesOf = (pushes: readonly number[], leastPush = 0.002): number[] => {
  const middle = mean(pushes as number[])
  const over = pushes.map((push) => push - middle)
  const most = Math.max(...over)
  return over.map((push) => (most <= leastPush ? 0 : push / most))
}
const [quarter, least, most] = [0.25, 0.15, 0.35]

/** The positions that push by a quarter of the largest or more. */
export const pushing = (shares: readonly number[], positions: readonly MotorPosition[]): string[] =>
  positions.flatMap((p, i) => ((shares[i] as number) >= quarter ? [nameOf(p)] : []))

/** Whether other positions push than are wanted. One that the mixer pushes by about a quarter counts either way. */
export const pushDiffers = (seen: readonly number[], wanted: readonly number[]): boolean =>
  seen.some((share, i) => {
    const should = wanted[i] as number
    return (should < least || should > most) && share >= quarter !== should >= quarter
  })

/** How it leant between two times by what the sensor feels, deg; null where nothing was sampled. */
export const leantIn = (imu: ImuStream, from: number, to: number): { roll: number; pitch: number } | null => {
  const rows = Array.from({ length: imu.t.length }, (_, i) => i).filter(
    (i) => (imu.t[i] as number) >= from && (imu.t[i] as number) <= to,
  )
  if (rows.length === 0) return null
  const force = (column: Column) => mean(rows.map((i) => column[i] as number))
  const [x, y, z] = [force(imu.ax), force(imu.ay), force(imu.az)]
  return { roll: degrees(Math.atan2(-y, -z)), pitch: degrees(Math.atan2(x, Math.hypot(y, z))) }
}

const leastTiltDeg = 10
const mostTiltDeg = 60
/** Why it was not held at a tilt, or null. */
export const notHeld = ({ label, ask }: Movement, { roll, pitch }: { roll: number; pitch: number }): string | null => {
  const along = { 'right-down': roll, 'left-down': -roll, 'nose-up': pitch, 'nose-down': -pitch }[label] ?? 0
  const aside = label.startsWith('nose') ? Math.abs(roll) : Math.abs(pitch)
  if (along < leastTiltDeg || along > mostTiltDeg)
    return `it was to be held with ${ask} by ${leastTiltDeg} deg or more, and was ${along.toFixed(0)} deg`
  return aside > along / 2 ? `it was held with ${ask}, and leant ${aside.toFixed(0)} deg aside` : null
}
