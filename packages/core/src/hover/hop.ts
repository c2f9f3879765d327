import type { Evidence, Question, SheetPart, WantOf } from '@taraf/contract'
import { armWords, rulesOf } from '../arming/rules'
import { defineCheck, type Check } from '../check'
import { modesOf } from '../failsafe/losses'
import { canBeArmed } from '../sheetHas'
import { modeName } from '../switches/modeName'
import { want } from '../take'
import { hopFindings } from './hopFindings'
import { hoverProof } from './otherwise'
import { hoverWords } from './words'

/** The step in which it flies, and the one that holds what its board logged meanwhile. */
const flight = 'flight'
const hopLabel = 'hop'

/** What must be so before anything is told to lift. */
const gate: readonly Question[] = [
  {
    id: 'hopPlace',
    words: 'A clear place: nobody within ten metres of it, nothing above it, no wind to speak of.',
    why: 'What is built wrong shows itself as it lifts.',
    answer: 'so',
  },
  {
    id: 'hopProps',
    words: 'On each position its prop of the prop plan, whole, and its nut tight.',
    why: 'A prop of the other hand turns it over as it lifts.',
    answer: 'so',
  },
  {
    id: 'hopLoad',
    words: 'It carries the payload of its sheet and a full pack, and nothing else.',
    why: 'The command in hover is that of this weight.',
    answer: 'so',
  },
]

/** A mode in which it levels itself, where it has one. */
const calmest = (sheet: SheetPart): string => {
  const modes = modesOf(sheet)
  return modes.find((mode) => mode === 'selfLevel') ?? (modes[0] as string)
}

/** What is done while the cable is out, in its order. */
export const hopActs = (sheet: SheetPart): readonly string[] => {
  const { on, off } = armWords(rulesOf(sheet))
  return [
    `Throttle down, ${on}: it arms. Nobody is near it.`,
    'Throttle up slowly, until it lifts: what leans or turns over as it does is let down at once.',
    'Hold it in its place at the height of a head for eight seconds.',
    `Land it. ${off}: all stand.`,
    'The battery stays in. Cable in again.',
  ]
}

const flying = (sheet: SheetPart): WantOf<'watch'> => ({
  kind: 'watch',
  label: flight,
  ask: `Mode ${modeName(calmest(sheet))}, throttle down. Pull the cable, and go ten metres back.`,
  during: 'It may fly: do what is listed, in its order. Keep a hand at the arm switch',
  permit: 'flight',
  streams: [],
  seconds: 600,
  until: ['link:up'],
  afterS: 0.5,
  mayLoseLink: true,
  atOnce: true,
  then: [{ event: 'link:lost', words: 'The cable is out. Go ten metres back, then do what is listed below, in its order.' }],
  state: { battery: true, props: 'on' },
})

const logged = ['outputs', 'attitude', 'imu', 'power', 'imuBurst'] as const
/** What the log holds of it. */
const rows = {
  kind: 'capture',
  label: hopLabel,
  ask: 'Hop.',
  streams: logged,
  mayLack: ['imuBurst', 'power'],
  seconds: 5,
  enoughS: 0.5,
} as const satisfies WantOf<'capture'>

/**
 * A short hop in the open, read from the log of the board: the command that holds it up, how it leans, whether it wobbles or shakes.
 *
 * @param needs every check of the bench: nothing flies before all of them stand
 */
export const hopAfter = (needs: readonly string[]): Check =>
  defineCheck({
    id: hoverProof,
    version: 3,
    station: 'hover',
    title: 'Hop',
    proves: 'In the air the command holds it up that should, and it keeps level without wobble or shaking.',
    words: {
      ...hoverWords,
      tips: 'Upright',
      lifts: 'Lift-off',
      hoverThrottle: 'Command in hover',
      over: 'Command in hover against what is known, at mid-pack voltage',
      spin: 'Spin in hover',
      rollTrim: 'Lean in hover, roll',
      pitchTrim: 'Lean in hover, pitch',
      outputs: 'Motors in hover',
      wobble: 'Wobble, 1 to 20 Hz',
      sway: 'Leans from side to side',
      vibration: 'Shaking, above 20 Hz',
      volts: 'Voltage in hover',
      amps: 'Current in hover',
      seconds: 'Held up for',
    },
    needs,
    reads: {
      settings: [
        'gain.*',
        'filter.*',
        // How often it corrects, and by what delay.
        'loop.rate',
        'level.*',
        'board.*',
        'chip.*',
        'output.*',
        'motors.*',
        'radio.*',
        'switch.*',
        'accel.*',
        'gyro.*',
        'esc.signal',
        // What holds it up is brought to mid-pack by the volts that the board reads.
        'power.voltScale',
        'power.voltDivides',
      ],
      parts: ['board', 'motor', 'ESC', 'payload', 'power wiring'],
      acts: ['board', 'knock', 'remount', 'lead', 'prop'],
      image: true,
      escs: ['*'],
    },
    appliesTo: canBeArmed,
    stages: null,
    *take({ sheet }) {
      yield* want.state({ label: 'hop-out', ask: 'Battery out.', state: { battery: false } })
      yield* want.state({
        label: 'hop-ready',
        ask: 'Carry it to a clear place, mount each prop by the prop plan, and tighten its nut. Then cable and battery in, transmitter on, throttle down, arm switch off; keep clear of the props.',
        state: { battery: true, transmitter: true, disarmed: true },
      })
      const { observations = [] } = yield* want.answers({
        label: 'place',
        ask: 'Look at each prop from where you stand, then about you.',
        questions: gate,
        confirms: 'props on',
        state: { battery: true, disarmed: true },
      })
      if (observations.some(({ answer }) => answer === false)) return
      const { short } = yield flying(sheet)
      if (short !== true)
        yield* want.log({
          label: hopLabel,
          ask: 'Leave the cable in: the log of the flight is read.',
          since: flight,
          rows: logged,
        })
      yield* want.state({
        label: 'hop-done',
        ask: 'Throttle down, arm switch off, battery out. Then props and nuts off.',
        state: { battery: false, disarmed: true },
      })
    },
    optional: [rows],
    // A hop that is told whole: nobody watched it from the bench.
    stepsOf: ({ segments }: Evidence) => {
      const has = (label: string) => segments.some((segment) => segment.label === label)
      return has(flight) ? null : has(hopLabel) ? [rows] : []
    },
    evaluate: (evidence) => hopFindings(evidence, gate),
  })
