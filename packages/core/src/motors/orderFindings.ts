import type { Column, Evidence, Finding, Remedy } from '@taraf/contract'
import { byHand, judgedAs, refusal } from '../check'
import { escsIn, outputWords, readEscs, tellsSpeeds } from '../escs/read'
import { positionsOf, type MotorPosition } from '../geometry'
import { findingsOfList } from '../questions'
import { mean } from '../statistics'
import { contradictionIn, nameOf, solveMotors } from './solve'
import { notTurning } from './stands'
import { leastRpm, rpmOf } from './speeds'
import { allTurned, labelOf, outputsInUse, reversedNow, reverseWays, seenOf, stoodOf } from './told'

const again = 'Run it again: one output at a time, and tap the motor whose flag went.'

/** Which motor each output turns, against the board's map, and which way, against the sheet's. */
export const orderFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board, observations = [] } = evidence
  if (sheet.geometry === undefined) return refusal('the sheet has no geometry', 'Write the booms into the build sheet.')
  const positions = positionsOf(sheet.geometry)
  const { settings } = board
  const outputs = outputsInUse(sheet, settings)
  const seen = seenOf(observations, positions)
  const stood = stoodOf(observations)
  if (stood.length > 0)
    return stood.map((output) => judgedAs(`turns${output}`, 'nothing turned', 'turns', notTurning({ output, how: 'stands' })))
  const missing = outputs.find((output) => !seen.some((one) => one.output === output))
  if (missing !== undefined) return refusal(`nobody said what output ${missing} turned`, again)
  const wrong = contradictionIn(seen, positions)
  if (wrong !== null) return refusal(wrong.why, again)
  const beside = outputs.find((output) => !isDrivenAlone(evidence, output))
  if (beside !== undefined) return refusal(`output ${beside} was not the one that was driven, or not alone`, again)
  const along = outputs
    .map((output) => ({ output, others: turnsAlong(evidence, output, outputs) }))
    .find(({ others }) => others.length > 0)
  if (along !== undefined)
    return refusal(
      `while output ${along.output} alone was driven, ${outputWords(along.others)} turned along`,
      'Battery out. Look for signal leads of ESCs that touch, or sit in the wrong plug; then run it again.',
    )
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
  const way = observations.findLast(({ item }) => item === reverseWays.item)?.answer
  const turns =
    chosenRemedy(way === reverseWays.esc && !areReversed(evidence, reverse) ? null : way, reverse, mirrored) ??
    turnRemedy(reverse, isMirrored, mirrored)
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
    ...togetherFinding(evidence, outputs),
  ]
}

/** What the board says of its own outputs: this one, and none beside it. Evidence may come without. */
const isDrivenAlone = ({ segments }: Evidence, output: number): boolean => {
  const stream = segments.find((s) => s.label === labelOf(output))?.streams.outputs as
    Readonly<Record<string, Column>> | undefined
  if (stream === undefined) return true
  return Object.entries(stream).every(([name, column]) => {
    const driven = /^o(\d+)$/.exec(name)?.[1]
    return driven === undefined || mean(column) > leastShare === (Number(driven) === output)
  })
}
const leastShare = 0.02

/** The others that turned while one output was driven, by what their ESCs tell. */
const turnsAlong = ({ segments, board }: Evidence, output: number, outputs: readonly number[]): number[] => {
  const escs = segments.find((s) => s.label === labelOf(output))?.streams.escs
  if (escs === undefined || board.settings?.['esc.replies'] !== 1) return []
  return outputs.filter((other) => other !== output && rpmOf({ escs }, other) >= leastRpm)
}

/** All at once, by the speeds that the ESCs tell; where they tell none, by who saw it. Evidence may come without. */
const togetherFinding = (evidence: Evidence, outputs: readonly number[]): Finding[] => {
  const { segments, board } = evidence
  const together = segments.find((s) => s.label === 'together')
  if (together === undefined) return []
  if (!tellsSpeeds(board.settings)) return findingsOfList([allTurned], evidence)
  const { escs } = together.streams
  if (escs === undefined || board.settings?.['esc.replies'] !== 1) return []
  const still = outputs.filter((output) => rpmOf({ escs }, output) < leastRpm)
  return [
    judgedAs(
      'together',
      still.length === 0 ? 'all turn' : `${outputWords(still)} stood`,
      'all turn',
      byHand(`Battery out. Look at the three leads of the motor at ${outputWords(still)}, then at its ESC.`),
    ),
  ]
}

/** Whether the ESCs that were to be told the other way were read so after it. */
const areReversed = (evidence: Evidence, outputs: readonly number[]): boolean => {
  const [before, now] = [escsIn(evidence, readEscs.label), escsIn(evidence, reversedNow)]
  return outputs.every((output) => {
    const [was, is] = [before.get(output)?.settings?.['reverse'], now.get(output)?.settings?.['reverse']]
    return was !== undefined && is !== undefined && was !== is
  })
}

/** What is left to do of the way that was chosen in the take; the other one is no longer offered. */
const chosenRemedy = (way: unknown, outputs: readonly number[], mirrored: boolean): Remedy | null => {
  const { esc, leads, mirrored: told } = reverseWays
  if (way === esc)
    return byHand(
      `The ESC at ${outputWords(outputs)} is set to the other way now. Leave the leads as they are, and run it again.`,
    )
  if (way === leads)
    return {
      by: 'work',
      act: `Battery out. Swap two of the three leads of the motor at ${outputWords(outputs)}. Leave its ESC as it is, and run it again.`,
      work: ['swap motor leads'],
      outputs: [...outputs],
    }
  if (way !== told) return null
  const value = mirrored ? 0 : 1
  return { by: 'settings', act: `Set motors.mirrored to ${value}.`, settings: { 'motors.mirrored': value } }
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
