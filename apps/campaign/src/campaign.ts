import type { Check } from '@taraf/core'
import { demoShop, drawnAt, drawnOrder, rigOf, sheetOf, type Draw } from '@taraf/demo'
import { faultById } from '@taraf/rig'
import { Bench } from './bench'
import { Adversary, type DisturbedNote } from './adversary'
import { workThrough, type TakeNote, type Watch } from './technician'
import { isNearLimit, stillIn, untrue } from './truth'

export interface FaultNote {
  readonly id: string
  readonly caught: boolean
  readonly blamedElsewhere: boolean
  readonly mendedFirst: boolean
}
/** How one airframe went. */
export interface AirframeNote {
  readonly seed: number
  readonly faults: readonly FaultNote[]
  /** It came without a fault, and nothing went wrong. */
  readonly isSound: boolean
  readonly takes: readonly TakeNote[]
  /** The checks that found something although nothing was wrong with it, and nothing went wrong. */
  readonly alarms: readonly string[]
  readonly nearLimit: boolean
  /** Why it is stuck; null where it was handed over. */
  readonly stuck: string | null
  /** Faults still in, and what is not true, of one that was handed over. */
  readonly escaped: readonly string[]
  readonly disturbed: readonly DisturbedNote[]
  /** What was true of it as it came and is no longer. */
  readonly madeWorse: readonly string[]
  readonly incidents: number
  readonly simulatedS: number
}

/** A take found something: it did not pass, or only after it had written. */
const isFound = ({ verdict, wrote }: TakeNote): boolean => verdict !== 'pass' || wrote

/** Takes one airframe from the bench's edge to handover, or to where it is stuck: whatever goes wrong in the run is why it is. */
export const runAirframe = async (seed: number, draw: Draw, disturb = 0): Promise<AirframeNote> => {
  const adversary = new Adversary(seed, disturb)
  try {
    return await run(seed, draw, adversary)
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error)
    const nothing = {
      faults: [],
      isSound: false,
      takes: [],
      alarms: [],
      nearLimit: false,
      escaped: [],
      madeWorse: [],
      incidents: 0,
      simulatedS: 0,
    }
    return { seed, ...nothing, disturbed: adversary.notes, stuck: why }
  }
}

const run = async (seed: number, draw: Draw, adversary: Adversary): Promise<AirframeNote> => {
  const order = drawnOrder(seed, draw)
  const rig = rigOf(order, demoShop(drawnAt))
  const sheet = sheetOf(order.type)
  rig.skip(60)
  const bench = new Bench(rig)
  const nearLimit = isNearLimit(rig, sheet)
  const untrueBefore = new Set(untrue(rig, sheet))
  const failedFirst = new Map<string, boolean>()
  const rounds = new Map<string, { caught: boolean; mendedFirst: boolean; gone: boolean }>()
  const mine = (check: Check) => order.faults.filter((id) => faultById(id)?.caughtBy === check.id)
  const watch: Watch = {
    before: (check, round) => {
      for (const id of mine(check)) {
        const gone = stillIn(rig, [id]).length === 0
        const known = rounds.get(id)
        if (known === undefined) rounds.set(id, { caught: false, mendedFirst: false, gone })
        // What a later remedy spoils again (a compass replaced, its old iron still told) is not the first one's failure.
        else if (round === 2) known.mendedFirst ||= gone
      }
    },
    after: (check, note, round) => {
      if (round > 1) return
      failedFirst.set(check.id, isFound(note))
      for (const id of mine(check)) {
        const known = rounds.get(id)
        if (known === undefined || known.gone) continue
        known.caught = isFound(note)
        known.mendedFirst = note.wrote && stillIn(rig, [id]).length === 0
      }
    },
  }
  const { takes, stuckAt } = await workThrough(bench, sheet, watch, adversary)
  const wrong = stuckAt === null ? untrue(rig, sheet) : []
  const isSound = order.faults.length === 0 && adversary.notes.length === 0
  const blamed = [...failedFirst].filter(
    ([check, failed]) => failed && !order.faults.some((id) => faultById(id)?.caughtBy === check),
  )
  return {
    seed,
    // What another fault's remedy has repaired on the way never came to its own check.
    faults: order.faults.flatMap((id) => {
      const { caught = false, mendedFirst = false, gone = false } = rounds.get(id) ?? {}
      return gone ? [] : [{ id, caught, blamedElsewhere: !caught && blamed.length > 0, mendedFirst }]
    }),
    isSound,
    takes,
    alarms: isSound ? [...new Set(takes.filter(isFound).map(({ check }) => check))] : [],
    nearLimit,
    stuck: stuckAt,
    escaped: stuckAt === null ? [...stillIn(rig, order.faults), ...wrong] : [],
    disturbed: adversary.notes,
    madeWorse: wrong.filter((what) => !untrueBefore.has(what)),
    incidents: rig.incidents.length + bench.armings,
    simulatedS: bench.seconds,
  }
}
