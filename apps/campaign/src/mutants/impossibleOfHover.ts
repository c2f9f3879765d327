import type { Column, Evidence } from '@taraf/contract'

/** Rules for a hop by which a pass is impossible, written apart from the core. */

const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] ?? NaN
const average = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length

const hop = ({ segments, sheet, observations = [] }: Evidence): string | null => {
  if (observations.some(({ item, answer }) => item?.startsWith('hop') === true && answer === false)) return 'not all was ready'
  const flown = segments.find(({ label }) => label === 'hop')
  const { outputs, attitude, imu } = flown?.streams ?? {}
  const command = (outputs as { command?: Column } | undefined)?.command
  if (command === undefined || outputs === undefined || attitude === undefined || imu === undefined)
    return 'nothing was logged of a flight'
  const told = flown?.events ?? []
  if (!told.some(({ what }) => what === 'armed')) return 'it was not armed'
  for (const angle of [attitude.roll, attitude.pitch])
    if (Array.from(angle).some((value) => Math.abs(value) > 1.1)) return 'it turned over'
  // Driven as in flight for at least five seconds, all in all.
  const driven = [...Array(outputs.t.length).keys()].filter((row) => (command[row] as number) > 0.12)
  if (driven.length < 5 * 150) return 'it was not driven for five seconds'
  const inAir = driven.slice(300, -300)
  const held = middle(inAir.map((row) => command[row] as number))
  const known = sheet.rotor?.hover ?? 0.39
  if (Math.abs(held - known) > 0.13) return `${held} held it up`
  const [from, to] = [outputs.t[inAir[0] as number] as number, outputs.t[inAir[inAir.length - 1] as number] as number]
  const weighs = [...Array(imu.t.length).keys()].filter((row) => (imu.t[row] as number) >= from && (imu.t[row] as number) <= to)
  const felt = average(weighs.map((row) => -(imu.az[row] as number)))
  if (Math.abs(felt / 9.81 - 1) > 0.05) return `it felt ${felt} m/s2`
  const lean = (angle: Column) =>
    average(
      [...Array(attitude.t.length).keys()]
        .filter((row) => (attitude.t[row] as number) >= from && (attitude.t[row] as number) <= to)
        .map((row) => angle[row] as number),
    )
  return Math.max(Math.abs(lean(attitude.roll)), Math.abs(lean(attitude.pitch))) > 0.06 ? 'it leans in hover' : null
}

export const ofHover: Readonly<Record<string, (document: Evidence) => string | null>> = { 'hover.hop': hop }
