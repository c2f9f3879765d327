import type { Evidence, Observation, Question, SheetPart } from '@taraf/contract'
import { byHand } from '../check'
import { outputsOf, positionsOf, type MotorPosition } from '../geometry'
import { nameOf, type Seen } from './solve'

export const labelOf = (output: number): string => `output-${output}`
const outputOf = (segment: string): number => Number(/^output-(\d+)$/.exec(segment)?.[1] ?? 0)

/** How motors that turn the wrong way are to be reversed, as it is answered: the one way that is taken excludes the other. */
export const reverseWays = {
  item: 'reverseBy',
  esc: 'in the ESC',
  leads: 'two leads swapped by hand',
  mirrored: 'the board is set to mirror all',
  later: 'not now',
} as const

/** Asked where no ESC tells how fast it turns. */
export const allTurned: Question = {
  id: 'together',
  words: 'All together: every motor turned',
  why: 'These ESCs do not tell how fast they turn: only you have seen it.',
  answer: 'so',
  remedy: byHand(
    'Battery out. A motor that turns alone and not beside the others gets too little: look at its three leads and at what feeds its ESC, then run it again.',
  ),
}

/** The segment in which the ESCs were read after they were told the other way. */
export const reversedNow = 'reversed'

export const waysToReverse = (isMirrored: boolean, canReverse: boolean): readonly [string, string, ...string[]] => {
  const { esc, leads, mirrored, later } = reverseWays
  const others = isMirrored ? [mirrored, later] : [later]
  return canReverse ? [esc, leads, ...others] : [leads, ...(others as [string, ...string[]])]
}

/** The outputs that turn a motor: those of the sheet, and those that the board drives beside them. */
export const outputsInUse = (sheet: SheetPart, settings: Evidence['board']['settings'] = {}): number[] => {
  const driven = Object.entries(settings).flatMap(([name, value]) => {
    const output = /^output\.(\d+)\.position$/.exec(name)?.[1]
    return output !== undefined && value > 0 ? [Number(output)] : []
  })
  return [...new Set([...outputsOf(sheet), ...driven])].sort((a, b) => a - b)
}

/** What was told of each output, the last of each; a position that there is not counts as none. */
export const seenOf = (observations: readonly Observation[], positions: readonly MotorPosition[]): Seen[] => {
  const last = new Map<number, Seen>()
  for (const { segment, position, turn } of observations) {
    const output = outputOf(segment)
    if (output === 0 || position === undefined || turn === undefined || turn === 'none') continue
    last.set(output, { output, position: positions.findIndex((p) => nameOf(p) === position) + 1, turn })
  }
  return [...last.values()].sort((a, b) => a.output - b.output)
}

/** The outputs of which it was said last that nothing turned. */
export const stoodOf = (observations: readonly Observation[]): number[] => {
  const last = new Map(
    observations.flatMap(({ segment, turn }) => (turn === undefined ? [] : [[outputOf(segment), turn] as const])),
  )
  return [...last].flatMap(([output, turn]) => (output > 0 && turn === 'none' ? [output] : []))
}

/** The position that an output drives, by the board's map where it has one, else by the sheet's. */
export const positionAt = ({ geometry }: SheetPart, settings: Evidence['board']['settings'], output: number): string => {
  const positions = geometry === undefined ? [] : positionsOf(geometry)
  const at = settings?.[`output.${output}.position`]
  const position = at === undefined ? positions.find((p) => p.output === output) : positions[at - 1]
  return position === undefined ? `the motor at output ${output}` : nameOf(position)
}

/** Every motor position, and the output that drives it: by the board's map where it has one, else by the sheet's. */
export const drivenPositions = (
  { geometry }: SheetPart,
  settings: Evidence['board']['settings'],
): (MotorPosition & { readonly name: string })[] => {
  const mapped = Object.entries(settings ?? {}).flatMap(([name, position]) => {
    const output = /^output\.(\d+)\.position$/.exec(name)?.[1]
    return output === undefined || position === 0 ? [] : [[position, Number(output)] as const]
  })
  const outputOf = new Map(mapped)
  const positions = geometry === undefined ? [] : positionsOf(geometry)
  return positions.map((one, i) => ({ ...one, name: nameOf(one), output: outputOf.get(i + 1) ?? one.output }))
}
