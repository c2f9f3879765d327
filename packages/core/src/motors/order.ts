import type { Finding, Observation, WantOf } from '@taraf/contract'
import { defineCheck } from '../check'
import { powered, readEscs, tellsSpeeds } from '../escs/read'
import { positionsOf, outputsOf } from '../geometry'
import { want, type Got, type Taking } from '../take'
import { contradictionIn } from './solve'
import { allTurned, labelOf, outputsInUse, reversedNow, reverseWays, seenOf, waysToReverse } from './told'
import { orderFindings } from './orderFindings'

/** Slow enough for the eye to follow a flag, and for nothing to be hurt by it. */
const share = 0.12
const runUpS = 0.8
const mostRepeats = 6

const turning = (output: number): Omit<WantOf<'turn'>, 'kind'> => ({
  label: labelOf(output),
  ask: `Press and hold the button: output ${output} turns. Tap the motor that turned, and the way its flag went.`,
  during: 'Turning slowly: watch which flag goes, and which way',
  streams: ['outputs', 'escs'],
  mayLack: ['outputs', 'escs'],
  seconds: 2,
  enoughS: 0.5,
  outputs: [{ output, share }],
  runUpS,
  says: 'motor',
  state: powered,
})
const together = {
  kind: 'turn',
  label: 'together',
  ask: 'Press and hold the button: all motors turn at once.',
  during: 'Turning slowly: all flags go',
  streams: ['outputs', 'escs'],
  mayLack: ['outputs', 'escs'],
  seconds: 2,
  enoughS: 0.5,
  runUpS: 1.2,
  state: powered,
} as const
const seenTogether = { label: 'all', ask: 'They stand again. Say whether all of them turned.' }
const readAgain = {
  ...readEscs,
  label: reversedNow,
  ask: 'Leave it: every ESC is read once more.',
  state: { battery: true },
} as const
const how = { label: 'how', ask: 'Some motors turn the other way: choose how each is to be reversed.' }

/** Each output by itself: which motor it turns, and which way; then all together. */
export const order = defineCheck({
  id: 'motors.order',
  version: 4,
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
    together: 'All together',
    [reverseWays.item]: 'To be reversed',
  }),
  needs: ['intake.firstPower', 'escs.signal', 'escs.range'],
  reads: {
    settings: ['output.*', 'motors.mirrored', 'esc.signal', 'esc.replies'],
    parts: ['motor', 'ESC'],
    acts: ['lead', 'board'],
    image: true,
    escs: ['reverse'],
  },
  appliesTo: (sheet) => sheet.geometry !== undefined,
  stages: null,
  provesTurning: true,
  *take(soFar) {
    const { sheet, settings } = soFar
    const positions = sheet.geometry === undefined ? [] : positionsOf(sheet.geometry)
    const outputs = outputsInUse(sheet, settings)
    const read: Got = yield readEscs
    const told = new Map<number, Observation>()
    const ask = function* (output: number): Taking {
      const { observations = [] } = yield* want.turn(turning(output))
      const last = observations.findLast((o) => o.segment === labelOf(output))
      if (last !== undefined) told.set(output, last)
      return last
    }
    for (const output of outputs) yield* ask(output)
    // What contradicts itself is asked again, and nothing else.
    for (let repeats = 0; repeats < mostRepeats; repeats++) {
      const wrong = contradictionIn(seenOf([...told.values()], positions), positions)
      if (wrong === null) break
      for (const output of wrong.outputs) yield* ask(output)
    }
    const allAtOnce = outputs.map((output) => ({ output, share }))
    if (allAtOnce.length > 0) yield { ...together, outputs: allAtOnce }
    if (!tellsSpeeds(settings)) yield* want.answers({ ...seenTogether, questions: [allTurned] })
    yield* reversed(soFar, read)
  },
  optional: [
    { ...together, outputs: [{ output: 1, share }] },
    ...[seenTogether, how].map((step) => ({ kind: 'answers' as const, ...step, questions: [] })),
    readAgain,
  ],
  evaluate: (evidence) => orderFindings(evidence),
})

/** Where motors turn the wrong way, asks how they are to be reversed; in the ESC it is done at once, and kept. */
function* reversed({ findings }: { readonly findings: () => readonly Finding[] }, read: Got): Taking {
  const wrong = findings().flatMap(({ key, verdict }) => {
    const output = /^turn(\d+)$/.exec(key)?.[1]
    return verdict === 'fail' && output !== undefined ? [Number(output)] : []
  })
  if (wrong.length === 0) return
  const isMirrored = findings().some(({ key }) => key === 'mirrored')
  const now = new Map((read.segment?.reports?.escs ?? []).map(({ output, settings }) => [output, settings?.['reverse']]))
  const canReverse = wrong.every((output) => now.get(output) !== undefined)
  const ways = waysToReverse(isMirrored, canReverse)
  const { observations = [] } = yield* want.answers({
    ...how,
    questions: [
      {
        id: reverseWays.item,
        words: `Wrong way round: ${wrong.map((output) => `output ${output}`).join(', ')}`,
        why: 'In the ESC or by its leads, never both: two of them undo each other.',
        answer: [...ways],
      },
    ],
  })
  if (observations.find(({ item }) => item === reverseWays.item)?.answer !== reverseWays.esc) return
  for (const value of [1, 0]) {
    const outputs = wrong.filter((output) => now.get(output) === 1 - value)
    if (outputs.length > 0)
      yield* want.escs({
        label: value === 1 ? 'reverse' : 'as drawn',
        ask: 'The ESCs are told the other way, and read again after the battery was off.',
        outputs,
        settings: { reverse: value },
      })
  }
  yield readAgain
}
