import type { SheetPart } from '@taraf/contract'
import { modeName } from '../switches/modeName'
import { flightModes } from '../switches/table'

/** From what state the signal is taken away. */
export type LossFrom = 'half' | 'idle' | 'disarmed'
/** What takes it away. */
export type LossBy = 'transmitter' | 'receiver lead'

/** One loss of the plan: from what, by what, in which flight mode, and what it is there to prove. */
export interface Loss {
  readonly id: string
  readonly from: LossFrom
  readonly by: LossBy
  readonly mode: string
  readonly proves: string
}

/** The flight modes that a pilot can choose, in the order of the switch plan; the sticks alone where there are none. */
export const modesOf = ({ switchPlan = [] }: SheetPart): string[] => {
  const known: readonly string[] = flightModes
  const found = [...new Set(switchPlan.map((row) => row.function))].filter((name) => known.includes(name))
  return found.length === 0 ? ['rate'] : found
}

/** Without a fix these are never in force, whatever their switch says. */
const byFix: readonly string[] = ['position', 'returnHome']
export const needsFix = (mode: string): boolean => byFix.includes(mode)

/** The mode that does least by itself: in it nothing pushes against a tilt before the loss. */
export const plainest = (sheet: SheetPart): string => {
  const modes = modesOf(sheet)
  return modes.find((mode) => mode === 'rate') ?? (modes[0] as string)
}

/**
 * The fewest losses that prove every class once: above half throttle in each mode, from idle to its end, and disarmed; the transmitter off
 * and the receiver without its lead.
 */
export const lossesOf = (sheet: SheetPart): Loss[] => {
  const modes = modesOf(sheet)
  const first = modes[0] as string
  // The lead is pulled in the second mode; where there is one mode only, at idle.
  const leadAt = modes.length > 1 ? 1 : -1
  return [
    ...modes.map((mode, i): Loss => {
      const by = i === leadAt ? 'receiver lead' : 'transmitter'
      return {
        id: `half-${mode}`,
        from: 'half',
        by,
        mode,
        proves: `In flight, in mode ${modeName(mode)}${by === 'receiver lead' ? ', with the receiver cut off' : ''}: it acts, and comes back.`,
      }
    }),
    {
      id: 'idle',
      from: 'idle',
      by: leadAt === -1 ? 'receiver lead' : 'transmitter',
      mode: first,
      proves: 'From idle, to its end: it disarms, and starts by nothing but a new arming.',
    },
    {
      id: 'disarmed',
      from: 'disarmed',
      by: 'transmitter',
      mode: first,
      proves: 'Disarmed: nothing turns when the signal goes or comes.',
    },
  ]
}

/** The greatest height of a way home where a sheet does not say it: what many authorities allow without asking, m (common practice). */
export const mostHomeM = 120

/** The step in which it is armed for a loss. */
export const armLabel = (id: string): string => `arm-${id}`
