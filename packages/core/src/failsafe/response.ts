import type { Segment, SheetPart, Want, WantOf } from '@taraf/contract'
import { armingStep } from '../arming/arms'
import { applies, armWords, isOfArming, ready, rulesOf } from '../arming/rules'
import { defineCheck } from '../check'
import { onTheWay } from '../radio/sticks'
import { isWaitedFor } from '../events'
import { modeName } from '../switches/modeName'
import { want, type Got } from '../take'
import { lossesOf, type Loss } from './losses'
import { endsItself } from './phases'
import { armLabel, isPlanned, responseFindings } from './responseFindings'

const gone = { transmitter: 'switch the transmitter off', 'receiver lead': 'pull the lead of the receiver' } as const
const back = { transmitter: 'Transmitter on again', 'receiver lead': 'Lead of the receiver in again' } as const

const taken = {
  permit: 'armed-bench',
  streams: ['radio', 'outputs', 'attitude'],
  mayLack: ['radio', 'attitude'],
  seconds: 90,
  until: ['loss:none'],
  atOnce: true,
  state: { battery: true, props: 'off' },
} as const

/** The signal is taken away and comes back, in one step: nothing of it may lie between two. */
const losing = ({ id, from, by }: Loss): WantOf<'watch'> => {
  const words = `${back[by]}, sticks as they are.`
  switch (from) {
    case 'half':
      return {
        kind: 'watch',
        ...taken,
        label: id,
        ask: `Throttle just over the middle. Then ${gone[by]}, and wait.`,
        during: 'Armed: take the signal away, wait, and give it back as the step says',
        onlyAfter: 'loss:wait',
        then: [{ event: 'loss:act', words: `It acts. Look at the motors for two seconds, then: ${words.toLowerCase()}` }],
        afterS: 0.4,
      }
    case 'idle':
      return {
        kind: 'watch',
        ...taken,
        label: id,
        ask: `Throttle down. Then ${gone[by]}, and wait until it is disarmed.`,
        during: 'Armed: take the signal away, wait until it is disarmed, and give it back',
        onlyAfter: 'loss:wait',
        then: [{ event: 'disarmed', words: `It is disarmed. ${words} Keep away from the motors: none may start.` }],
        afterS: 1,
      }
    case 'disarmed':
      return {
        kind: 'watch',
        ...taken,
        label: id,
        ask: `Leave it disarmed, throttle just over the middle. Then ${gone[by]}, and wait.`,
        during: 'Disarmed: take the signal away, wait, and give it back as the step says',
        onlyAfter: 'loss:wait',
        then: [{ event: 'loss:wait', words: `The board knows. Wait for two seconds, then: ${words.toLowerCase()}` }],
        afterS: 1,
      }
  }
}

const arming = (sheet: SheetPart, { id, mode }: Loss): WantOf<'watch'> => {
  const step = armingStep(sheet, armLabel(id))
  const { on, off } = armWords(rulesOf(sheet))
  return { ...step, ask: `${off}, throttle down, laid level, mode ${modeName(mode)}. Then ${on}.` }
}

const steps = (sheet: SheetPart): WantOf<'watch'>[] =>
  lossesOf(sheet).flatMap((loss) => [...(loss.from === 'disarmed' ? [] : [arming(sheet, loss)]), losing(loss)])

const mostTries = 3
const cameIn = ({ events = [] }: Pick<Segment, 'events'>, name: string): boolean =>
  events.some((event) => isWaitedFor(event, [name]))

/** What must have come in a step before the signal does, and how it is said that it did not; null where nothing must. */
const awaited = (step: WantOf<'watch'>): readonly [event: string, words: string] | null => {
  if (step.label.startsWith('half-')) return ['loss:act', 'The signal came back before the board acted']
  return step.label === 'idle' ? ['disarmed', 'The signal came back before the board disarmed'] : null
}

/** One step, and again where the signal came back too soon; whether it came to its end, and there is something to go on with. */
function* lost(step: WantOf<'watch'>): Generator<Want, boolean, Got> {
  const wanted = awaited(step)
  let { ask } = step
  for (let tries = 1; ; tries++) {
    const { segment, short } = yield { ...step, ask }
    if (short === true) return false
    // A plan is walked without events.
    if (wanted === null || segment?.events === undefined || tries === mostTries) return true
    if (step.label.startsWith('half-') && endsItself(segment.events)) return false
    if (cameIn(segment, wanted[0])) return true
    ask = `${wanted[1]}. Again, and wait for longer: ${step.ask}`
  }
}

const words = (sheet: SheetPart): Record<string, string> =>
  Object.fromEntries(
    lossesOf(sheet).flatMap(({ id, from, mode }) => {
      const of = from === 'half' ? `Above half throttle, ${modeName(mode)}` : from === 'idle' ? 'From idle' : 'Disarmed'
      return [
        [`${id}.notice`, `${of}: noticed after`],
        [`${id}.wait`, `${of}: waited for`],
        [`${id}.mode`, `${of}: mode that it went into`],
        [`${id}.command`, `${of}: command`],
        [`${id}.back`, `${of}: sticks count again after`],
        [`${id}.jump`, `${of}: jump as they do`],
        [`${id}.end`, `${of}: at its end`],
        [`${id}.after`, `${of}: once the signal is back`],
        [`${id}.outputs`, `${of}: outputs`],
      ]
    }),
  )

/** The signal is taken away on the bench, in every class of loss: what the board does is timed and measured. */
export const response = defineCheck({
  id: 'failsafe.response',
  version: 1,
  station: 'failsafe',
  title: 'Loss of signal',
  proves: 'Whenever the signal goes it is noticed, acted on below hover, and given back without a jump.',
  words,
  needs: ['radio.link', 'switches.table', 'motors.response', 'arming.disarms', 'arming.idle'],
  reads: {
    settings: [
      'loss.*',
      'arm.*',
      'switch.arm.*',
      'radio.throttle.*',
      // Whether the outputs jump as the sticks count again.
      'gain.*',
      'motors.idle',
      'motors.most',
    ],
    parts: ['board', ...onTheWay, 'receiver at loss', 'receiver antenna'],
    acts: ['board', 'remount', 'transmitter'],
    onTransmitter: isOfArming(false),
    image: true,
  },
  appliesTo: (sheet) => applies(sheet, 'failsafe.response'),
  stages: null,
  *take({ sheet }) {
    yield* want.state({ label: 'ready', ask: 'Battery in, props and nuts off, transmitter on, throttle down.', state: ready })
    for (const step of steps(sheet)) {
      const isWhole = yield* lost(step)
      // What is not armed, or never comes back, has nothing more to show.
      if (!isWhole) break
    }
    yield* want.state({
      label: 'failsafe-done',
      ask: 'Throttle down, arm switch off, battery out.',
      state: { battery: false, disarmed: true },
    })
  },
  stepsOf: (evidence) =>
    isPlanned(evidence)
      ? // What was not tried is said by name.
        steps(evidence.sheet).filter(({ label }) => evidence.segments.some((segment) => segment.label === label))
      : evidence.segments.map(({ label }) => ({ kind: 'watch', ...taken, label, ask: 'Take the signal away.' })),
  evaluate: (evidence) => responseFindings(evidence),
  opens: ({ sheet }) =>
    sheet.rotor?.hover === undefined
      ? [{ what: 'open', words: 'The sheet does not say the command in hover: nobody judged the command at loss.', blocks: true }]
      : [],
})
