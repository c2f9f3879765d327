import { checks, isNeeded } from '@taraf/core'
import { drawFaults, faults, faultStations, randomFrom, soundAirframe, type FaultStation } from '@taraf/rig'
import { demoShop, sheetOf, type RigOrder } from './rigs'
import { sheets } from './world'

/** The date at which every drawn airframe is on the bench: the field and the record depend on it, chance must not. */
export const drawnAt = new Date('2026-11-02T09:00:00Z')
/** A draw as text: at most so many faults, and of which stations where not of all, as in `2` or `3/sensors+orientation`. */
const drawText = /^(?<most>\d{1,2})(\/(?<stations>[a-zA-Z+]+))?$/
const built = checks.map((c) => c.id)

/** What airframes of a campaign may come with: at most so many faults, of these stations, caught by these checks. */
export interface Draw {
  readonly most: number
  readonly stations: readonly FaultStation[]
  readonly caughtBy: readonly string[]
}

/** What is drawn where the checks built so far must catch it: of these stations, or of all that have such faults. */
export const drawOf = (most: number, stations: readonly FaultStation[] | null): Draw => ({
  most,
  stations: stations ?? stationsWith(built),
  caughtBy: built,
})

export const drawToText = (most: number, stations: readonly FaultStation[] | null): string =>
  [most, ...(stations === null ? [] : [stations.join('+')])].join('/')

/** Reads a draw's text; what is wrong with it, as a string, where it is none. */
export const drawFromText = (text: string): Draw | string => {
  const found = drawText.exec(text)?.groups
  if (found === undefined) return `"${text}" is no draw: write the most faults, then a slash and stations, as in 3/sensors+board`
  const stations = found.stations?.split('+') ?? null
  const unknown = stations?.find((name) => !faultStations.includes(name as FaultStation))
  if (unknown !== undefined) return `no station "${unknown}"; there are ${faultStations.join(', ')}`
  return drawOf(Number(found.most), stations as FaultStation[] | null)
}

/** The airframe that a seed stands for: its type and its faults. The same seed and draw give the same airframe again. */
export const drawnOrder = (
  seed: number,
  { most, stations, caughtBy }: Draw,
): RigOrder & { readonly faults: readonly string[] } => {
  const shop = demoShop(drawnAt)
  const random = randomFrom(seed)
  const type = sheets[random.below(sheets.length)]?.type ?? 'N4'
  const board = `FB-${100_000 + (Math.abs(seed) % 900_000)}`
  const sheet = sheetOf(type)
  const possible = drawFaults(
    soundAirframe(sheet, board, seed, shop),
    stations,
    most,
    random,
    (f) => caughtBy.includes(f.caughtBy) && checks.some((check) => check.id === f.caughtBy && isNeeded(check, sheet)),
  )
  return {
    type,
    board,
    seed,
    faults: possible,
    spoil: ({ shop: bench }) => void (bench.plate = { roll: random.spread(0.003), pitch: random.spread(0.003) }),
  }
}

/** The stations that have faults which one of these checks must catch. */
export const stationsWith = (caughtBy: readonly string[]): FaultStation[] => [
  ...new Set(faults.filter((f) => caughtBy.includes(f.caughtBy)).map((f) => f.station)),
]
