import type { Evidence, Finding, Observation, Remedy, SheetPart, WantOf } from '@taraf/contract'
import { byHand, defineCheck, judgedAs, refusal } from '../check'
import { outputsOf, positionsOf, type MotorPosition } from '../geometry'
import { want, type Taking } from '../take'
import { contradictionIn, nameOf, solveMotors, type Seen } from './solve'

/** Slow enough for the eye to follow a flag, and for nothing to be hurt by it. */
const share = 0.12
const runUpS = 0.8
const mostRepeats = 6
const labelOf = (output: number): string => `output-${output}`

const turning = (output: number): Omit<WantOf<'turn'>, 'kind'> => ({
  label: labelOf(output),
  ask: `Press and hold the button: output ${output} turns. Tap the motor that turned, and the way its flag went.`,
  during: 'Turning slowly: watch which flag goes, and which way',
  streams: ['outputs'],
  mayLack: ['outputs'],
  seconds: 2,
  enoughS: 0.5,
  outputs: [{ output, share }],
  runUpS,
  says: 'motor',
  state: { battery: true, props: 'off' },
})

/** Each output by itself: which motor it turns, and which way. */
export const order = defineCheck({
  id: 'motors.order',
  version: 1,
  station: 'motors',
  title: 'Motor order',
  proves: 'Each output turns the motor that the board takes it for, the way that the build sheet wants.',
  words: (sheet) => ({
    ...Object.fromEntries(
      outputsOf(sheet).flatMap((output) => [
        [`output${output}`, `Motor at output ${output}`],
        [`turn${output}`, `Way of the motor at output ${output}`],
      ]),
    ),
    mirrored: 'Convention of all turns',
  }),
  needs: ['intake.firstPower'],
  reads: {
    settings: ['output.*', 'motors.mirrored', 'esc.signal'],
    parts: ['board', 'motor', 'ESC'],
    acts: ['lead'],
    image: true,
    escs: ['reverse'],
  },
  appliesTo: (sheet) => sheet.geometry !== undefined && !sheet.setAside?.includes('motors.order'),
  stages: null,
  *take({ sheet, settings }) {
    const positions = sheet.geometry === undefined ? [] : positionsOf(sheet.geometry)
    const told = new Map<number, Observation>()
    const ask = function* (output: number): Taking {
      const { observations = [] } = yield* want.turn(turning(output))
      const last = observations.findLast((o) => o.segment === labelOf(output))
      if (last !== undefined) told.set(output, last)
      return last
    }
    for (const output of outputsInUse(sheet, settings)) yield* ask(output)
    // What contradicts itself is asked again, and nothing else.
    for (let repeats = 0; repeats < mostRepeats; repeats++) {
      const wrong = contradictionIn(seenOf([...told.values()], positions), positions)
      if (wrong === null) break
      for (const output of wrong.outputs) yield* ask(output)
    }
  },
  evaluate: (evidence) => orderFindings(evidence),
})

/** The outputs that turn a motor: those of the sheet, and those that the board drives beside them. */
const outputsInUse = (sheet: SheetPart, settings: Evidence['board']['settings'] = {}): number[] => {
  const driven = Object.entries(settings).flatMap(([name, value]) => {
    const output = /^output\.(\d+)\.position$/.exec(name)?.[1]
    return output !== undefined && value > 0 ? [Number(output)] : []
  })
  return [...new Set([...outputsOf(sheet), ...driven])].sort((a, b) => a - b)
}

const outputOf = (segment: string): number => Number(/^output-(\d+)$/.exec(segment)?.[1] ?? 0)

/** What was told of each output, the last of each; a position that there is not counts as none. */
const seenOf = (observations: readonly Observation[], positions: readonly MotorPosition[]): Seen[] => {
  const last = new Map<number, Seen>()
  for (const { segment, position, turn } of observations) {
    const output = outputOf(segment)
    if (output === 0 || position === undefined || turn === undefined) continue
    last.set(output, { output, position: positions.findIndex((p) => nameOf(p) === position) + 1, turn })
  }
  return [...last.values()].sort((a, b) => a.output - b.output)
}

const again = 'Run it again: one output at a time, and tap the motor whose flag went.'

/** Which motor each output turns, against the board's map, and which way, against the sheet's. */
export const orderFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board, observations = [] } = evidence
  if (sheet.geometry === undefined) return refusal('the sheet has no geometry', 'Write the booms into the build sheet.')
  const positions = positionsOf(sheet.geometry)
  const { settings } = board
  const outputs = outputsInUse(sheet, settings)
  const seen = seenOf(observations, positions)
  const missing = outputs.find((output) => !seen.some((one) => one.output === output))
  if (missing !== undefined) return refusal(`nobody said what output ${missing} turned`, again)
  const wrong = contradictionIn(seen, positions)
  if (wrong !== null) return refusal(wrong.why, again)
  const told = (output: number) =>
    Number(settings?.[`output.${output}.position`] ?? positions.findIndex((p) => p.output === output) + 1)
  const mirrored = Number(settings?.['motors.mirrored'] ?? 0) === 1
  const { map, swaps, reverse, isMirrored } = solveMotors(seen, positions, told, mirrored)
  const name = (position: number) =>
    positions[position - 1] === undefined ? 'no motor' : nameOf(positions[position - 1] as MotorPosition)
  const mapRemedy: Remedy = {
    by: 'settings',
    act: `Write the output map: ${Object.entries(map)
      .map(([output, position]) => `output ${output} is ${name(position)}`)
      .join(', ')}. ${swaps} ${swaps === 1 ? 'exchange' : 'exchanges'} of two leads would do the same.`,
    settings: Object.fromEntries(Object.entries(map).map(([output, position]) => [`output.${output}.position`, position])),
  }
  const turns = turnRemedy(reverse, isMirrored, mirrored)
  return [
    ...seen.flatMap(({ output, position, turn }) => {
      const wanted = positions[position - 1]?.turn ?? turn
      return [
        judgedAs(`output${output}`, name(position), name(told(output)), mapRemedy),
        judgedAs(`turn${output}`, turn, mirrored ? opposite[wanted] : wanted, turns),
      ]
    }),
    ...(isMirrored
      ? [judgedAs('mirrored', mirrored ? 'as the sheet' : 'mirrored', mirrored ? 'mirrored' : 'as the sheet', turns)]
      : []),
  ]
}

const opposite = { clockwise: 'anticlockwise', anticlockwise: 'clockwise' } as const

/** Reversed in the ESC or by two of its leads, never both; where all of them turn the other way, that is the convention of the airframe. */
const turnRemedy = (outputs: readonly number[], isMirrored: boolean, mirrored: boolean): Remedy => {
  if (outputs.length === 0) return byHand('Nothing to reverse.')
  const reverse: Extract<Remedy, { by: 'escs' }> = {
    by: 'escs',
    act: `Reverse the ${outputs.length === 1 ? 'motor at output' : 'motors at outputs'} ${outputs.join(', ')} in the ESC, or swap two of the three leads of each; never both.`,
    escs: { outputs: [...outputs], toggle: 'reverse' },
  }
  if (!isMirrored) return reverse
  const told = mirrored ? 0 : 1
  return {
    by: 'either',
    act: 'Every motor turns the other way. Tell the board that its turns are mirrored, or reverse every one.',
    either: [{ by: 'settings', act: `Set motors.mirrored to ${told}.`, settings: { 'motors.mirrored': told } }, reverse],
  }
}
