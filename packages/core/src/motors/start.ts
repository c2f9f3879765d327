import type { Column, Evidence, Finding, Remedy, Segment, WantOf } from '@taraf/contract'
import { byHand, defineCheck, judged, judgedAs, refusal, shown } from '../check'
import { outputWords, powered } from '../escs/read'
import { outputsOf } from '../geometry'
import { limitFor } from '../limits'
import { hasMotors } from '../sheetHas'
import { median } from '../statistics'
import { want } from '../take'
import { worstStretch } from '../worst'
import { notTurning } from './stands'
import { apart, beganIn, leastRpm, oddOnes, otherKv, streamsOf, type Began } from './speeds'
import { ofOutput } from '../escs/read'

/** Well above where a sound ESC begins, well below what moves an airframe. */
const riseTo = 0.12
const riseS = 6
/** Fast enough for the speeds to differ by more than the friction of a new bearing. */
const fast = 0.3
const settledS = 1
/** From zero: one that begins late is told by that. */
const fastRiseS = 1

/** From still, as slowly as an eye follows: twice, for what begins only sometimes. */
const rises = ['rise', 'rise-again'] as const
const rising = (label: string, outputs: readonly number[]): Omit<WantOf<'turn'>, 'kind'> => ({
  label,
  ask: 'Press and hold the button: all motors begin from still, and rise slowly.',
  during: 'Rising slowly: keep holding, hands off the airframe',
  streams: ['outputs', 'escs'],
  seconds: riseS,
  outputs: outputs.map((output) => ({ output, share: riseTo })),
  runUpS: 0,
  riseS,
  state: powered,
})
const running = (outputs: readonly number[]): Omit<WantOf<'turn'>, 'kind'> => ({
  label: 'fast',
  ask: 'Keep holding: all motors begin at once, and turn fast.',
  during: 'Turning fast: keep holding, hands off the airframe',
  streams: ['outputs', 'escs', 'meter'],
  mayLack: ['meter'],
  seconds: 4,
  outputs: outputs.map((output) => ({ output, share: fast })),
  runUpS: 0,
  riseS: fastRiseS,
  state: powered,
})

/** From which command on each motor turns, whether all begin together, and whether they then turn alike. */
export const start = defineCheck({
  id: 'motors.start',
  version: 3,
  station: 'motors',
  title: 'Motor start',
  proves: 'Every motor begins at a low command, all begin together, and at one command they turn alike.',
  words: (sheet) => ({
    ...Object.fromEntries(
      outputsOf(sheet).flatMap((output) => [
        [`start${output}`, `Lowest command that turns output ${output}`],
        [`speed${output}`, `Speed, output ${output}`],
        [`holds${output}`, `Slowest moment, output ${output}`],
        [`noLoad${output}`, `Speed against the motor’s own, output ${output}`],
      ]),
    ),
    spread: 'Between the first and the last to begin',
    idle: 'Idle that the board is set to',
    together: 'All begin within',
    speeds: 'Between the fastest and the slowest',
    volts: 'Battery while they turn',
  }),
  needs: ['motors.order', 'escs.data'],
  reads: {
    settings: ['esc.poles', 'esc.signal', 'esc.replies', 'motors.idle'],
    parts: ['motor', 'ESC', 'power wiring'],
    acts: ['board'],
    image: true,
    escs: ['startPower', 'timingDeg'],
  },
  appliesTo: hasMotors,
  stages: null,
  provesTurning: true,
  *take({ sheet }) {
    const outputs = outputsOf(sheet)
    for (const label of rises) yield* want.turn(rising(label, outputs))
    yield* want.turn(running(outputs))
  },
  evaluate: (evidence) => startFindings(evidence),
  opens: ({ sheet, segments }) =>
    sheet.rotor?.kv === undefined || voltsIn(streamsOf({ segments }, 'fast')) > leastVolts
      ? []
      : [
          {
            what: 'open',
            words: 'No meter told the volts of the battery: nobody held the speeds of the motors against their KV.',
            blocks: true,
          },
        ],
})

const startFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board } = evidence
  if (board.settings?.['esc.replies'] === 0)
    return refusal('the board asks the ESCs for no replies', 'Switch esc.replies on, or set this check aside in the sheet.')
  const outputs = outputsOf(sheet)
  const labels = [...rises, 'fast']
  const began = outputs.map((output) => ({ output, in: labels.map((label) => beganIn(streamsOf(evidence, label), output)) }))
  const before = began.find((one) => one.in.includes('turned before'))
  if (before !== undefined)
    return refusal(
      `the motor at output ${before.output} turned before it was told to`,
      'Let all of them come to rest, then run it again. If one turns by itself, take the battery out and look at its signal.',
    )
  const silent = began.flatMap((one) => (one.in.includes('silent') ? [one.output] : []))
  if (silent.length > 0)
    return refusal(
      `the ESC at ${outputWords(silent)} tells no speed`,
      'Battery out. Look at its plug and its reply wire, see "ESC data", then run it again.',
    )
  const turns = began.map(({ output, in: all }) => {
    const wrong = all.find((one): one is 'stands' | 'stutters' => one === 'stands' || one === 'stutters')
    return judgedAs(
      `turns${output}`,
      wrong ?? 'turns',
      'turns',
      wrong === undefined ? undefined : notTurning({ output, how: wrong }),
    )
  })
  // Of motors of which one does not turn, the others' speeds say little: the battery holds another voltage for each.
  if (turns.some(({ verdict }) => verdict === 'fail')) return turns
  const at = (label: (typeof labels)[number]) => began.map(({ in: all }) => timed(all[labels.indexOf(label)]))
  const least = began.map((_, i) => Math.max(...rises.map((label) => at(label)[i]?.command ?? riseTo)))
  const { max } = limitFor(sheet, 'start.least')
  const starts = outputs.map((output, i) =>
    judged(`start${output}`, least[i] as number, 'of full command', { max }, lateStart([output])),
  )
  const between = Math.max(...least) - Math.min(...least)
  const latest = outputs.filter((_, i) => (least[i] as number) > median(least) + limitFor(sheet, 'start.spread').max / 2)
  const times = at('fast').map(({ t }) => t)
  const lateBy = times.map((t) => t - Math.min(...times))
  const slow = outputs.filter((_, i) => (lateBy[i] as number) > limitFor(sheet, 'start.together').max)
  return [
    ...turns,
    ...starts,
    judged('spread', between, 'of full command', { max: limitFor(sheet, 'start.spread').max }, lateStart(latest)),
    judged(
      'together',
      Math.max(...lateBy),
      's',
      { max: limitFor(sheet, 'start.together').max },
      lateStart(slow.length === 0 ? latest : slow),
    ),
    ...idleFinding(evidence, starts, Math.max(...least)),
    ...speedFindings(evidence, outputs),
  ]
}

const timed = (one: Began | undefined): { t: number; command: number } =>
  typeof one === 'object' ? one : { t: Infinity, command: riseTo }

/** An ESC that begins late is replaced; its motor would be as late on another one's leads. */
const lateStart = (outputs: readonly number[]): Remedy => ({
  by: 'work',
  act: `Battery out. The ESC at ${outputWords(outputs)} begins later than it should: compare its start power with the others, then replace it.`,
  work: ['replace ESC'],
  outputs: [...outputs],
})

/** A board that idles below what turns a motor stops it in the air. Said once every motor begins where it should. */
const idleFinding = ({ sheet, board }: Evidence, starts: readonly Finding[], most: number): Finding[] => {
  const idle = board.settings?.['motors.idle']
  if (idle === undefined || starts.some(({ verdict }) => verdict === 'fail')) return []
  const wanted = Math.ceil(100 * most + 1) / 100
  const remedy: Remedy =
    sheet.settings?.['motors.idle'] === undefined
      ? { by: 'settings', act: `Set motors.idle to ${wanted}.`, settings: { 'motors.idle': wanted } }
      : byHand(`The sheet wants an idle that does not turn these motors: have it changed to ${wanted}, then write it.`)
  return [judged('idle', idle, 'of full command', { min: most }, remedy)]
}

/** Speeds at one command against each other, and against what the motor's own constant makes of the battery. */
const speedFindings = (evidence: Evidence, outputs: readonly number[]): Finding[] => {
  const { sheet } = evidence
  const streams = streamsOf(evidence, 'fast')
  const { escs } = streams
  const speeds = outputs.map((output) => ({ output, rpm: settled(escs?.t, ofOutput(escs, 'rpm', output)) }))
  const { max } = limitFor(sheet, 'start.speeds')
  const odd = oddOnes(speeds, max)
  const found = [
    ...speeds.map(({ output, rpm }) => shown(`speed${output}`, rpm, 'rpm')),
    judged('speeds', apart(speeds), '% of the middle one', { max }, otherMotor(odd)),
    ...holdsFindings(evidence, outputs),
  ]
  const volts = voltsIn(streams)
  const kv = sheet.rotor?.kv
  if (kv === undefined || !(volts > leastVolts)) return found
  const limit = limitFor(sheet, 'start.noLoad')
  // No-load speed is the motor's constant times the volts at its terminals: the battery's, for the share of time that they are on.
  const off = speeds.map(({ output, rpm }) => ({ output, percent: 100 * (rpm / (kv * volts * fast) - 1) }))
  const isOff = ({ percent }: { percent: number }) => percent < limit.min || percent > limit.max
  const all = off.every(isOff)
  return [
    ...found,
    shown('volts', volts, 'V'),
    ...off.map(({ output, percent }) =>
      judged(
        `noLoad${output}`,
        percent,
        '% from KV x volts x command',
        { min: limit.min, max: limit.max },
        all ? otherKv(kv) : otherMotor([output]),
      ),
    ),
  ]
}

/** A third of a second is what a craft needs to tip over; before so long the motors still come up to speed, s. */
const [stretchS, comesUpS] = [0.3, fastRiseS + 0.5]

/** That each motor keeps its speed to the end: the slowest stretch against the middle of all. */
const holdsFindings = (evidence: Evidence, outputs: readonly number[]): Finding[] => {
  const { escs } = streamsOf(evidence, 'fast')
  if (escs === undefined) return []
  const { min } = limitFor(evidence.sheet, 'start.holds')
  const from = escs.t.findIndex((t) => t >= (escs.t[0] as number) + comesUpS)
  return outputs.map((output) => {
    const rpm = ofOutput(escs, 'rpm', output) ?? []
    const { lowest } = worstStretch(escs.t, rpm, stretchS, Math.max(0, from))
    const holds = (100 * lowest) / Math.max(leastRpm, median(Array.from(rpm).slice(Math.max(0, from))))
    return judged(`holds${output}`, holds, '% of its own speed', { min }, loses([output]))
  })
}

/** A motor that loses speed for a moment loses its step, or its power. */
const loses = (outputs: readonly number[]): Remedy =>
  byHand(
    `Battery out. The motor at ${outputWords(outputs)} loses speed for a moment: look at its three leads and at the plug of its ESC, turn it by hand; if it does so again, replace its ESC.`,
  )

const leastVolts = 2.5
const voltsIn = ({ meter }: Segment['streams']): number => settled(meter?.t, meter?.volts)

const otherMotor = (outputs: readonly number[]): Remedy => ({
  by: 'work',
  act: `The motor at ${outputWords(outputs)} turns at another speed than the others: it has another winding, or something brakes it. Battery out; turn it by hand, read its print, replace it.`,
  work: ['replace motor'],
  outputs: [...outputs],
})

/** The middle of the last second of a column; zero where there is none. */
const settled = (t: Column | undefined, column: Column | undefined): number => {
  if (t === undefined || column === undefined || column.length === 0) return 0
  const from = (t[t.length - 1] as number) - settledS
  return median(Array.from(column).filter((_, i) => (t[i] as number) >= from))
}
