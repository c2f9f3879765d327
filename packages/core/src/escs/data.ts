import type { Evidence, Finding, Remedy } from '@taraf/contract'
import { compareVersions } from 'compare-versions'
import { worthOf } from '../board/firmware'
import { defineCheck, judged, judgedAs, refusal, reportsOf } from '../check'
import { outputsOf } from '../geometry'
import { limitFor } from '../limits'
import { leastRpm, rpmOf, streamsOf } from '../motors/speeds'
import { labelOf } from '../motors/told'
import { hasMotors } from '../sheetHas'
import { mean } from '../statistics'
import { want } from '../take'
import { polesBy } from './poles'
import { ofOutput, outputWords, powered, readEscs } from './read'

/** Fast enough for its shake to stand out of the noise of a sensor, slow enough for a bare motor on a bench. */
const share = 0.3
const turning = (output: number) =>
  ({
    label: labelOf(output),
    ask: `Press and hold the button: output ${output} turns, fast. Hands off the airframe.`,
    during: 'Turning: keep holding, and leave the airframe alone',
    streams: ['escs', 'imuBurst'],
    seconds: 1.5,
    enoughS: 1,
    outputs: [{ output, share }],
    runUpS: 1.5,
    state: powered,
  }) as const

const readBoth = { ...readEscs, of: ['identity', 'escs'] } as const

/** What the ESCs tell of themselves: how many of their replies are bad, and whether the speed that they tell is that of the motor. */
export const data = defineCheck({
  id: 'escs.data',
  version: 2,
  station: 'escs',
  title: 'ESC data',
  proves: 'What the ESCs tell arrives, and the speed that they tell is how fast the motor shakes the frame.',
  words: (sheet) =>
    Object.fromEntries(
      outputsOf(sheet).flatMap((output) => [
        [`errors${output}`, `Bad replies, output ${output}`],
        [`poles${output}`, `Poles of the motor at output ${output}`],
      ]),
    ),
  needs: ['escs.signal'],
  reads: {
    settings: ['esc.poles', 'esc.signal', 'esc.replies'],
    parts: ['ESC', 'motor'],
    acts: ['board', 'knock'],
    image: true,
  },
  appliesTo: hasMotors,
  stages: null,
  *take({ sheet }) {
    yield readBoth
    for (const output of outputsOf(sheet)) yield* want.turn(turning(output))
  },
  evaluate: (evidence) => dataFindings(evidence),
})

const dataFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board } = evidence
  if (board.settings?.['esc.replies'] === 0)
    return refusal('the board asks the ESCs for no replies', 'Switch esc.replies on, or set this check aside in the sheet.')
  const outputs = outputsOf(sheet)
  const setTo = board.settings?.['esc.poles'] ?? 0
  const told = outputs.map((output) => toldBy(evidence, output, outputs, setTo))
  const most = limitFor(sheet, 'escs.errors').max
  const bad = told.filter(({ errors }) => errors > most)
  const errors = told.map(({ output, errors }) =>
    judged(`errors${output}`, errors, '% of replies', { max: most }, badReplies(evidence, bad.length === told.length, [output])),
  )
  // Where the replies are bad, what they say of a speed is worth nothing.
  if (bad.length > 0) return errors
  const [beside] = told.flatMap(({ output, alsoTurns }) => alsoTurns.map((other) => [output, other] as const))
  if (beside !== undefined)
    return refusal(
      `output ${beside[1]} told a speed while output ${beside[0]} alone was turned`,
      'Compare the reply wires of the ESCs with the wiring sheet, then run it again.',
    )
  const still = told.find(({ rpm }) => rpm < leastRpm)
  if (still !== undefined)
    return refusal(
      `the motor at output ${still.output} did not turn, or its ESC does not tell how fast`,
      'Hold the button until each motor has run up. If it stands again, look at its leads.',
    )
  const unheard = told.find(({ poles }) => poles === null)
  if (unheard !== undefined)
    return refusal(
      `the shake of the motor at output ${unheard.output} does not stand out of what else shakes the airframe`,
      'Lay it on the bare plate, away from what runs beside it, and run it again.',
    )
  const counts = new Set(told.map(({ poles }) => poles))
  const [all] = told
  return [
    ...errors,
    ...told.map(({ output, poles }) =>
      judgedAs(`poles${output}`, poles ?? 0, setTo, polesRemedy(counts.size === 1, all?.poles ?? 0, output)),
    ),
  ]
}

const polesRemedy = (isAll: boolean, poles: number, output: number): Remedy =>
  isAll
    ? { by: 'settings', act: `Tell the board that the motors have ${poles} poles.`, settings: { 'esc.poles': poles } }
    : {
        by: 'work',
        act: `The motor at ${outputWords([output])} has another count of poles than the others: it is of another make. Battery out; replace it.`,
        work: ['replace motor'],
        outputs: [output],
      }

interface Told {
  readonly output: number
  /** Share of bad replies, %. */
  readonly errors: number
  /** Speed as it is told by the pole count that is set, rpm. */
  readonly rpm: number
  /** Other outputs that tell a speed meanwhile. */
  readonly alsoTurns: readonly number[]
  /** Poles by what shakes; null where nothing stands out. */
  readonly poles: number | null
}

const toldBy = (evidence: Evidence, output: number, outputs: readonly number[], setTo: number): Told => {
  const streams = streamsOf(evidence, labelOf(output))
  const { escs, imuBurst } = streams
  const errors = ofOutput(escs, 'err', output)
  const rpm = rpmOf(streams, output)
  return {
    output,
    errors: errors === undefined || errors.length === 0 ? 100 : 100 * mean(errors),
    rpm,
    alsoTurns: outputs.filter((other) => other !== output && rpmOf(streams, other) >= leastRpm),
    poles: imuBurst === undefined ? null : polesBy(imuBurst, ((rpm / 60) * setTo) / 2),
  }
}

/** Bad replies of one ESC are its wire; of all at once, what all have in common: firmware that does not go with the board's. */
const badReplies = (evidence: Evidence, isAll: boolean, outputs: readonly number[]): Remedy => {
  const replace: Remedy = {
    by: 'work',
    act: `Battery out. Lead the signal wire of ${outputWords(outputs)} away from the power leads and look at both of its plugs. If the replies stay bad, replace that ESC with its wire.`,
    work: ['replace ESC'],
    outputs: [...outputs],
  }
  if (!isAll) return replace
  const { identity, escs = [] } = reportsOf(evidence)
  const { sheet } = evidence
  const runs = identity?.firmware ?? null
  const pair = sheet.escs?.badWith?.find(
    ({ firmware, board }) =>
      runs !== null && compareVersions(runs.version, board) === 0 && escs.some((esc) => esc.firmware === firmware),
  )
  const worth = runs === null || sheet.board?.firmware === undefined ? null : worthOf(runs, sheet.board.firmware)
  const [approved] = sheet.board?.firmware?.approved ?? []
  if ((pair !== undefined || worth?.word === 'known bad') && approved !== undefined)
    return {
      by: 'image',
      act: `All replies are bad at once: firmware ${runs?.version ?? ''} of the board is known for it with these ESCs${pair === undefined ? '' : ` (${pair.reason})`}. Write ${approved.version}.`,
      image: approved.version,
    }
  return {
    by: 'technician',
    act: 'The replies of all ESCs are bad at once: one wire alone cannot do that. See at "Motor signal" that all understand it. If this came with an update, of the board or of the ESCs, go back to the pair of versions that worked.',
  }
}
